import { alternatives, concepts as partsOf } from './concepts'
import { INDEXES, printCql, type Clause, type Query, type QueryNode } from './cql'
import { sayLanguage } from './languages'
import { parseCql } from './parse-cql'

/** What a term is to its concept: the word itself, or one beside it; harvested terms were found in a record. */
export const ROLES = ['main', 'narrower', 'broader', 'related', 'harvested'] as const
export type Role = (typeof ROLES)[number]

export interface Term {
  id: string
  /** The words as typed; masks may stand in them. */
  text: string
  role: Role
  on: boolean
  /** Whether any ending of the last word will do. */
  ending?: boolean
  /** Whether several words may stand apart; otherwise they are a phrase. */
  apart?: boolean
  /** Index it is looked for in; everywhere where none is named. */
  field?: string
  /** Where a term that was harvested or found in a vocabulary comes from. */
  from?: string
  /** CQL that cannot be put as words: nearness, nested alternatives. It stands as it is. */
  cql?: string
  /** The named sweep whose query this is; the text is its name. */
  sweep?: number
}

export interface SheetConcept {
  id: string
  name: string
  terms: Term[]
}

/** The question as words: concepts that are all wanted, what is left out, and limits. */
export interface Sheet {
  concepts: SheetConcept[]
  without: Term[]
  years?: { from?: number; to?: number }
  languages?: string[]
  /** Limits judged on fetched records. */
  kinds?: string[]
  refereed?: boolean
  withAbstract?: boolean
  /** Only what the home library reaches today. */
  withinReach?: boolean
  /** Catalogues that are not asked. */
  notAsked?: string[]
  /** Order of the rungs by id, and those switched off. */
  order: string[]
  off: string[]
  /** The numbers between which an answer can be read through. */
  zone: [number, number]
}

export const emptySheet = (): Sheet => ({ concepts: [], without: [], order: [], off: [], zone: [10, 100] })

/** A term as a clause, or as the tree its CQL stands for; undefined where nothing of it can be asked. */
export function termNode(t: Term): QueryNode | undefined {
  if (t.cql !== undefined) {
    const p = parseCql(t.cql)
    return p.ok ? p.query.root : undefined
  }
  const words = t.text.trim().replace(/\s+/g, ' ')
  if (!/[\p{L}\p{N}]/u.test(words)) return undefined
  const term = t.ending && !words.endsWith('*') ? `${words}*` : words
  const many = words.includes(' ')
  return {
    kind: 'clause',
    ...(t.field ? { index: t.field } : {}),
    relation: many ? (t.apart ? 'all' : 'adj') : '=',
    modifiers: [],
    term,
  }
}

const joined = (nodes: readonly QueryNode[], op: 'and' | 'or'): QueryNode | undefined =>
  nodes.length ? nodes.reduce((left, right) => ({ kind: 'boolean', op, modifiers: [], left, right })) : undefined
const anyOf = (terms: readonly Term[]): QueryNode | undefined =>
  joined(
    terms.filter(t => t.on).flatMap(t => termNode(t) ?? []),
    'or',
  )
const clause = (index: string, relation: Clause['relation'], term: string): QueryNode => ({
  kind: 'clause',
  index,
  relation,
  modifiers: [],
  term,
})

/** One step of the ladder. */
export interface Rung {
  id: string
  label: string
  on: boolean
  /** Asked of the catalogues, or judged on the records that were fetched. */
  how: 'asked' | 'judged'
  /** What it adds, as a tree; `not` where it takes away. */
  node?: QueryNode
  not?: boolean
}

/** Ids of the rungs that are judged on fetched records. */
const JUDGED = ['refereed', 'kinds', 'abstract', 'reach']

/** All rungs in the order of the sheet: concepts, what is left out, limits; new ones come last of their sort. */
export function rungsOf(sheet: Sheet): Rung[] {
  const rungs: Rung[] = sheet.concepts.flatMap((c): Rung[] => {
    const node = anyOf(c.terms)
    return node
      ? [{ id: c.id, label: c.name || c.terms.find(t => t.on)?.text || '', on: true, how: 'asked', node }]
      : []
  })
  const without = anyOf(sheet.without)
  if (without)
    rungs.push({
      id: 'without',
      label: `without ${sheet.without
        .filter(t => t.on)
        .map(t => t.text)
        .join(', ')}`,
      on: true,
      how: 'asked',
      node: without,
      not: true,
    })
  const years = yearsNode(sheet.years)
  if (years) rungs.push({ id: 'years', label: sayYears(sheet.years!), on: true, how: 'asked', node: years })
  if (sheet.languages?.length)
    rungs.push({
      id: 'languages',
      label: sheet.languages.map(sayLanguage).join(' or '),
      on: true,
      how: 'asked',
      node: clause('language', 'any', sheet.languages.join(' ')),
    })
  if (sheet.refereed) rungs.push({ id: 'refereed', label: 'refereed venue', on: true, how: 'judged' })
  if (sheet.kinds?.length) rungs.push({ id: 'kinds', label: sheet.kinds.join(' or '), on: true, how: 'judged' })
  if (sheet.withAbstract) rungs.push({ id: 'abstract', label: 'has an abstract', on: true, how: 'judged' })
  if (sheet.withinReach) rungs.push({ id: 'reach', label: 'what the library reaches', on: true, how: 'judged' })
  const place = new Map(sheet.order.map((id, i) => [id, i]))
  const at = (r: Rung, i: number): number => place.get(r.id) ?? sheet.order.length + i
  return rungs
    .map((r, i) => ({ r, at: at(r, i) }))
    .sort((a, b) => Number(a.r.how === 'judged') - Number(b.r.how === 'judged') || a.at - b.at)
    .map(({ r }) => ({ ...r, on: !sheet.off.includes(r.id) }))
}

/** A step of the ladder with the query down to it, and the query of what it alone takes away. */
export interface Step extends Rung {
  /** Everything asked down to this rung; of judged rungs and of those off it is that of the rung above. */
  cql?: string
  /** What is lost by it: matched above, not here. Undefined for the first rung. */
  lost?: string
}

/**
 * The ladder of a sheet. "Not" needs something to be taken from, so a rung that takes away waits until another rung
 * has given something.
 */
export function ladder(sheet: Sheet): Step[] {
  let so: QueryNode | undefined
  const waiting: Rung[] = []
  return rungsOf(sheet).map(r => {
    const step = (more: Partial<Step>): Step => ({ ...r, ...(so ? { cql: printCql({ root: so }) } : {}), ...more })
    if (!r.on || r.how === 'judged' || !r.node) return step({})
    if (r.not && !so) {
      waiting.push(r)
      return step({})
    }
    const above = so
    so = above ? { kind: 'boolean', op: r.not ? 'not' : 'and', modifiers: [], left: above, right: r.node } : r.node
    if (!above) for (const w of waiting) so = { kind: 'boolean', op: 'not', modifiers: [], left: so, right: w.node! }
    const lost: QueryNode | undefined = above && {
      kind: 'boolean',
      op: r.not ? 'and' : 'not',
      modifiers: [],
      left: above,
      right: r.node,
    }
    return step({ cql: printCql({ root: so }), ...(lost ? { lost: printCql({ root: lost }) } : {}) })
  })
}

/** The query that a sheet stands for, or undefined where nothing is asked yet. */
export function sheetQuery(sheet: Sheet): Query | undefined {
  const last = ladder(sheet)
    .map(s => s.cql)
    .filter(Boolean)
    .at(-1)
  if (!last) return undefined
  const p = parseCql(last)
  return p.ok ? p.query : undefined
}

/**
 * The sheet of a query typed as text. What the sheet had keeps its names, roles and switched-off terms where the query
 * still holds it; limits judged on records stay.
 */
export function sheetOf(query: Query, before: Sheet, newId: () => string): Sheet {
  const made: SheetConcept[] = []
  const without: Term[] = []
  const from: number[] = []
  const to: number[] = []
  let languages: string[] | undefined
  const taken = new Set<string>()
  const earlier = [...before.concepts.flatMap(c => c.terms), ...before.without].filter(t => t.sweep !== undefined)
  const whole = (n: QueryNode) => sameCql(n, earlier) !== undefined
  for (const part of partsOf(query.root, whole)) {
    if (part.negated) {
      without.push(...alternatives(part.node, whole).map(n => termOf(n, before.without, newId)))
      continue
    }
    const limit = limitOf(part.node)
    if (limit?.years) {
      // several limits of years hold together
      if (limit.years.from !== undefined) from.push(limit.years.from)
      if (limit.years.to !== undefined) to.push(limit.years.to)
      continue
    }
    if (limit?.languages && !languages) {
      languages = limit.languages
      continue
    }
    const known = before.concepts.flatMap(c => c.terms)
    const terms = alternatives(part.node, whole).map(n => termOf(n, known, newId))
    const ids = new Set(terms.map(t => t.id))
    const same = before.concepts
      .filter(c => !taken.has(c.id))
      .map(c => ({ c, shared: c.terms.filter(t => ids.has(t.id)).length }))
      .sort((a, b) => b.shared - a.shared)[0]
    const kept = same && same.shared > 0 ? same.c : undefined
    if (kept) taken.add(kept.id)
    made.push({
      id: kept?.id ?? newId(),
      name: kept?.name ?? '',
      terms: [...terms, ...(kept?.terms.filter(t => !t.on && !ids.has(t.id)) ?? [])],
    })
  }
  without.push(...before.without.filter(t => !t.on && !without.some(w => w.id === t.id)))
  const { years: _years, languages: _languages, ...rest } = before
  return {
    ...rest,
    concepts: made,
    without,
    ...(from.length || to.length
      ? {
          years: { ...(from.length ? { from: Math.max(...from) } : {}), ...(to.length ? { to: Math.min(...to) } : {}) },
        }
      : {}),
    ...(languages ? { languages } : {}),
    off: before.off.filter(id => JUDGED.includes(id)),
  }
}

/** The term that is an earlier sweep's query, word for word. */
const sameCql = (n: QueryNode, terms: readonly Term[]): Term | undefined => {
  if (!terms.length) return undefined
  const cql = printCql({ root: n })
  return terms.find(t => t.cql === cql)
}

function termOf(n: QueryNode, known: readonly Term[], newId: () => string): Term {
  const earlier = sameCql(
    n,
    known.filter(t => t.sweep !== undefined),
  )
  if (earlier) return { ...earlier, on: true }
  const plain = plainTerm(n)
  const wanted: Omit<Term, 'id' | 'role' | 'on'> = plain ?? { text: printCql({ root: n }), cql: printCql({ root: n }) }
  const same = known.find(
    t =>
      (t.cql ?? '') === (wanted.cql ?? '') &&
      t.text === wanted.text &&
      (t.field ?? '') === (wanted.field ?? '') &&
      Boolean(t.ending) === Boolean(wanted.ending) &&
      Boolean(t.apart) === Boolean(wanted.apart),
  )
  return {
    id: same?.id ?? newId(),
    role: same?.role ?? 'main',
    ...(same?.from ? { from: same.from } : {}),
    on: true,
    ...wanted,
  }
}

/** A clause that words and switches can stand for. */
function plainTerm(n: QueryNode): Omit<Term, 'id' | 'role' | 'on'> | undefined {
  if (n.kind !== 'clause' || n.modifiers.length || /\\/.test(n.term)) return undefined
  const words = n.term.trim().replace(/\s+/g, ' ')
  const many = words.includes(' ')
  if (!/[\p{L}\p{N}]/u.test(words) || words !== n.term) return undefined
  const fits = many
    ? n.relation === 'adj' || n.relation === 'all' || n.relation === '='
    : n.relation === '=' || n.relation === 'adj' || n.relation === 'all'
  if (!fits || (n.index && !(INDEXES as readonly string[]).includes(n.index.toLowerCase()))) return undefined
  const ending = words.endsWith('*') && words.length > 1
  return {
    text: ending ? words.slice(0, -1) : words,
    ...(ending ? { ending } : {}),
    ...(many && n.relation !== 'adj' ? { apart: true } : {}),
    ...(n.index ? { field: n.index.toLowerCase() } : {}),
  }
}

function limitOf(n: QueryNode): { years?: Sheet['years'] & object; languages?: string[] } | undefined {
  if (n.kind !== 'clause' || n.modifiers.length) return undefined
  const index = n.index?.toLowerCase()
  if (index === 'language' && ['any', '='].includes(n.relation) && /^[a-z]{2,3}( [a-z]{2,3})*$/.test(n.term))
    return { languages: n.term.split(' ') }
  if (index !== 'year') return undefined
  const years = (n.term.match(/\d{4}/g) ?? []).map(Number)
  if (n.relation === 'within' && years.length === 2) return { years: { from: years[0]!, to: years[1]! } }
  if (years.length !== 1 || n.term.trim().length !== 4) return undefined
  const [y] = years as [number]
  const of: Partial<Record<Clause['relation'], Sheet['years'] & object>> = {
    '>=': { from: y },
    '<=': { to: y },
    '>': { from: y + 1 },
    '<': { to: y - 1 },
    '=': { from: y, to: y },
    '==': { from: y, to: y },
  }
  return of[n.relation] ? { years: of[n.relation]! } : undefined
}

function yearsNode(y: Sheet['years']): QueryNode | undefined {
  if (y?.from !== undefined && y.to !== undefined) return clause('year', 'within', `${y.from} ${y.to}`)
  if (y?.from !== undefined) return clause('year', '>=', String(y.from))
  if (y?.to !== undefined) return clause('year', '<=', String(y.to))
  return undefined
}

export const sayYears = (y: { from?: number; to?: number }): string =>
  y.from !== undefined && y.to !== undefined
    ? `${y.from} to ${y.to}`
    : y.from !== undefined
      ? `since ${y.from}`
      : `up to ${y.to}`

/** Words of a question that can become concepts: runs between small words, in order. */
export function wordsOf(question: string): string[] {
  const small = new Set(
    'a an and are as at be by can could did do does for from had has have how if in into is it its may might more most much of on or our over shall should some than that the their them they this to under was were what when where whether which who why will with would change changes affect affects effect effects'.split(
      ' ',
    ),
  )
  const out: string[] = []
  let run: string[] = []
  const flush = () => {
    if (run.length) out.push(run.join(' '))
    run = []
  }
  for (const piece of question.match(/[\p{L}\p{N}'’-]+|[^\p{L}\p{N}\s'’-]/gu) ?? []) {
    if (!/[\p{L}\p{N}]/u.test(piece) || small.has(piece.toLowerCase())) flush()
    else run.push(piece.toLowerCase())
  }
  flush()
  return [...new Set(out)]
}
