import type { Pass, State } from './decisions'

/** What the flow counts: records as they came, works as they stand. */
export interface FlowInput {
  records: readonly { source: 'catalogue' | 'file' | 'trail'; work: number | null }[]
  works: readonly { id: number; state: State; pass: Pass | null; reason: string | null; inHand: boolean }[]
}

export interface Reasoned {
  reason: string
  works: number
}

/** Numbers of the way from what was found to what is kept: records until joining, works after it. */
export interface Flow {
  found: { catalogues: number; files: number; trails: number }
  /** Found, but not brought into the pool. */
  left: number
  /** Records that describe a work another record describes too. */
  joined: number
  works: number
  unread: number
  later: number
  asideByTitle: Reasoned[]
  /** Kept by title, with the abstract still to be read. */
  awaitingAbstract: number
  asideByAbstract: Reasoned[]
  /** Kept by abstract or text, so that the text is sought. */
  sought: number
  notInHand: number
  inHand: number
  asideByText: Reasoned[]
  /** In hand, with the text still to be decided on. */
  awaitingText: number
  keptByText: number
}

/**
 * The flow after the PRISMA 2020 statement (Page et al. 2021). Always adds up: found = left + joined + works; works =
 * unread + later + set aside in each pass + awaiting abstract + sought and still kept.
 */
export function flowOf({ records, works }: FlowInput): Flow {
  const count = <T>(list: readonly T[], test: (x: T) => boolean) => list.filter(test).length
  const pooled = records.filter(r => r.work !== null)
  const aside = (pass: Pass): Reasoned[] => {
    const by = new Map<string, number>()
    for (const w of works)
      if (w.state === 'set aside' && w.pass === pass) {
        const reason = w.reason ?? 'no reason given'
        by.set(reason, (by.get(reason) ?? 0) + 1)
      }
    return [...by]
      .map(([reason, n]) => ({ reason, works: n }))
      .sort((a, b) => b.works - a.works || a.reason.localeCompare(b.reason))
  }
  const kept = works.filter(w => w.state === 'kept')
  const past = kept.filter(w => w.pass !== 'title')
  const asideByText = aside('full text')
  const textAside = count(works, w => w.state === 'set aside' && w.pass === 'full text')
  const keptByText = count(past, w => w.pass === 'full text')
  const notInHand = count(past, w => w.pass !== 'full text' && !w.inHand)
  const awaitingText = count(past, w => w.pass !== 'full text' && w.inHand)
  return {
    found: {
      catalogues: count(records, r => r.source === 'catalogue'),
      files: count(records, r => r.source === 'file'),
      trails: count(records, r => r.source === 'trail'),
    },
    left: records.length - pooled.length,
    joined: pooled.length - works.length,
    works: works.length,
    unread: count(works, w => w.state === 'unread'),
    later: count(works, w => w.state === 'later'),
    asideByTitle: aside('title'),
    awaitingAbstract: kept.length - past.length,
    asideByAbstract: aside('abstract'),
    sought: past.length + textAside,
    notInHand,
    // a text may have been read elsewhere: what was decided by its text counts as had
    inHand: awaitingText + keptByText + textAside,
    asideByText,
    awaitingText,
    keptByText,
  }
}

/** The flow in the two columns of the statement: what catalogues gave, and what came by other methods alone. */
export interface Flows {
  catalogues: Flow
  others: Flow
}

/**
 * A work that any catalogue gave is counted there, with all its records; one that files or trails alone brought is in
 * the other column. Each column adds up for itself.
 */
export function flowsOf({ records, works }: FlowInput): Flows {
  const given = new Set(records.filter(r => r.source === 'catalogue').map(r => r.work))
  const column = (ours: boolean): Flow =>
    flowOf({
      records: records.filter(r => (r.work === null ? r.source === 'catalogue' : given.has(r.work)) === ours),
      works: works.filter(w => given.has(w.id) === ours),
    })
  return { catalogues: column(true), others: column(false) }
}

const n = (x: number) => x.toLocaleString('en')
const total = (list: Reasoned[]) => list.reduce((t, r) => t + r.works, 0)

/** A step of the way, as it is drawn and told. */
export interface FlowStep {
  label: string
  count: number
  /** What leaves the way here, with its reasons. */
  out?: { label: string; count: number; lines: string[] } | undefined
}

/** The steps of the way, each with what leaves it there. */
export function stepsOf(f: Flow): FlowStep[] {
  const reasons = (list: Reasoned[]) => [
    ...list.slice(0, 4).map(r => `${r.reason}: ${n(r.works)}`),
    ...(list.length > 4 ? [`other reasons: ${n(total(list.slice(4)))}`] : []),
  ]
  const found = f.found.catalogues + f.found.files + f.found.trails
  const past = f.works - f.unread - f.later - total(f.asideByTitle)
  return [
    { label: 'Records found', count: found, out: { label: 'Not brought into the pool', count: f.left, lines: [] } },
    {
      label: 'Records in the pool',
      count: found - f.left,
      out: { label: 'Describe a work already there', count: f.joined, lines: [] },
    },
    {
      label: 'Works to sift',
      count: f.works,
      out: {
        label: 'Set aside by title',
        count: total(f.asideByTitle),
        lines: [`not yet read: ${n(f.unread)}`, ...(f.later ? [`left for later: ${n(f.later)}`] : [])],
      },
    },
    {
      label: 'Past the title',
      count: past,
      out: {
        label: 'Set aside by abstract',
        count: total(f.asideByAbstract),
        lines: [
          ...(f.awaitingAbstract ? [`still waiting: ${n(f.awaitingAbstract)}`] : []),
          ...reasons(f.asideByAbstract),
        ],
      },
    },
    { label: 'Texts sought', count: f.sought, out: { label: 'Not in hand yet', count: f.notInHand, lines: [] } },
    {
      label: 'Texts in hand',
      count: f.inHand,
      out: {
        label: 'Set aside by text',
        count: total(f.asideByText),
        lines: [...(f.awaitingText ? [`still to be decided: ${n(f.awaitingText)}`] : []), ...reasons(f.asideByText)],
      },
    },
    { label: 'Kept by their text', count: f.keptByText },
  ]
}
