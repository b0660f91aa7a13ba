import type { Mark } from '../core/write/written'
import { randomUUID } from 'node:crypto'
import { parseArgs } from 'node:util'
import type { Facts, Item } from '../core/bib/item'
import { plainCql } from '../core/query/cql'
import { parseCql } from '../core/query/parse-cql'
import type { GraphAnswer } from '../core/schema/api'
import { Api } from './api'
import { printOut } from './print-out'

interface Work {
  id: number
  title: string
  kind: string
  year: number | null
  state: string
  reach: string
}
/** A work that was met on a trail, with how many kept works cite it. */
type Met = NonNullable<GraphAnswer['nodes'][number]['pointer']> & { node: number; year: number | null; citing: number }
type Routed = Work & { routes: { way: string }[] | null; copies: { id: number; outcome: string }[] }

const ALL = ['broadleaf', 'lampyr', 'vigil', 'civic', 'vault', 'fennmark', 'shelf']

/**
 * Lays the demo student's inquiries by walking the product's own API: one in the middle of the work, one not begun,
 * one finished.
 */
const { values } = parseArgs({
  options: {
    address: { type: 'string', default: 'http://127.0.0.1:4600' },
    email: { type: 'string', default: 'student@halverane.example' },
    password: { type: 'string', default: 'walk-the-vine' },
  },
})
const began = Date.now()
const api = new Api(values.address)
await api.call('POST', '/session', { email: values.email, password: values.password })

const brief = {
  zone: 'UTC',
  style: 'apa',
  entriesWanted: 10,
  refereedAtLeast: 7,
  recentAtLeast: 6,
  recentYears: 8,
  booksAtMost: 2,
  languages: ['en', 'de'],
  kindsOut: ['news', 'magazine'],
  wordsFrom: 120,
  wordsTo: 180,
}

/** One inquiry, with the steps that a student takes in it. */
async function begin(more: object) {
  const { id } = await api.call<{ id: number }>('POST', '/inquiries', { ...brief, ...more })
  const at = `/inquiries/${id}`
  const job = async (path: string, body: object = {}, headers: Record<string, string> = {}) =>
    api.finish(id, (await api.call<{ job: number }>('POST', `${at}${path}`, body, headers)).job)
  return {
    async sweep(query: string, catalogues = ALL): Promise<number> {
      const made = await api.call<{ id: number; job: number }>('POST', `${at}/sweeps`, { query, catalogues })
      await api.finish(id, made.job)
      return made.id
    },
    /** Fills the question sheet: concepts with their terms, `role:word`, a minus before those switched off. */
    async fillSheet(concepts: Record<string, string>, without: string, since: number): Promise<string> {
      const term = (text: string) => {
        const [, off, role, word, ending] = /^(-?)(?:(\w+):)?(.*?)(\*?)$/.exec(text.trim())!
        return { id: randomUUID(), text: word!, role: role ?? 'main', on: !off, ...(ending ? { ending: true } : {}) }
      }
      const list = (words: string) => words.split(',').map(term)
      const sheet = {
        concepts: Object.entries(concepts).map(([name, words]) => ({ id: randomUUID(), name, terms: list(words) })),
        without: list(without),
        years: { from: since },
        order: [],
        off: [],
        zone: [10, 100],
      }
      await api.call('PUT', `${at}/sheet`, sheet, { 'if-match': '"1"' })
      const { query } = await api.call<{ query: string }>('GET', at)
      const asked = parseCql(query)
      return asked.ok ? plainCql(asked.query) : query
    },
    readVocabulary: (key: string) => job(`/vocabularies/${key}/read`),
    bring: (sweep: number) => api.call('POST', `${at}/pool`, { sweep, all: true, records: [] }),
    works: () => api.call<Work[]>('GET', `${at}/works`),
    /** A list that a fellow student passed on, written from memory: some of it may be in the pool already. */
    async passedOn(list: readonly Work[]): Promise<void> {
      const entries = await Promise.all(
        list.map(async ({ id, title }, i) => {
          const { item } = await api.call<{ item: object }>('GET', `${at}/works/${id}`)
          const { author, issued } = item as { author?: unknown; issued?: { 'date-parts': [[number]] } }
          const year = issued && issued['date-parts'][0][0] - 2
          const elsewhere = { author, 'container-title': 'Papers of the Halverane Field Days' }
          return {
            ...{ id: `passed-on-${i + 1}`, type: 'article-journal', title },
            ...(i % 2 && year ? { ...elsewhere, issued: { 'date-parts': [[year]] } } : {}),
          }
        }),
      )
      await job('/imports', new TextEncoder().encode(JSON.stringify(entries)))
    },
    /** Two books or theses that stand on a shelf, one that is on loan, and an electronic one. */
    async fromShelves(): Promise<Work[]> {
      const found: Record<'shelf' | 'loan' | 'online', Work[]> = { shelf: [], loan: [], online: [] }
      for (const w of (await this.works()).filter(x => /^(book|thesis)$/.test(x.kind))) {
        const { facts } = await api.call<{ facts: Facts }>('GET', `${at}/works/${w.id}`)
        found[facts.shelf ? (facts.shelf[0]?.note ? 'loan' : 'shelf') : 'online'].push(w)
      }
      return [...found.shelf.slice(0, 2), ...found.loan.slice(0, 1), ...found.online.slice(0, 1)]
    },
    async decide(list: Work[], choice: string, reason?: string, pass = 'abstract'): Promise<void> {
      if (!list.length) return
      await api.call('POST', `${at}/decisions`, {
        group: randomUUID(),
        decisions: list.map(w => ({ id: randomUUID(), work: w.id, pass, choice, reason: reason ?? null })),
      })
    },
    /** Says the same of several works: their part, a strand, a tag. */
    say: async (list: Work[], about: string, value: unknown): Promise<void> => {
      if (!list.length) return
      const marks = list.map(w => ({ id: randomUUID(), work: w.id, about, value }))
      await api.call('POST', `${at}/marks`, { group: randomUUID(), marks })
    },
    async strand(name: string, list: Work[]): Promise<number> {
      const strand = await api.call<{ id: number }>('POST', `${at}/strands`, { name })
      await this.say(list, `strand:${strand.id}`, true)
      return strand.id
    },
    /** Walks the trails of all kept works, and brings some of what was met. */
    async walkRound(bring: (met: Met[]) => Met[]): Promise<void> {
      await job('/rounds', { scope: 'kept' })
      const graph = await api.call<GraphAnswer>('GET', `${at}/graph`)
      const kept = new Set((await this.works()).filter(w => w.state === 'kept').map(w => w.id))
      const citing = graph.nodes.map(() => 0)
      graph.citing.forEach((from, i) => kept.has(graph.nodes[from]!.work ?? 0) && citing[graph.cited[i]!]!++)
      const met = graph.nodes.flatMap((n, i) =>
        n.pointer ? { ...n.pointer, node: n.id, year: n.year, citing: citing[i]! } : [],
      )
      const chosen = bring(met)
      if (chosen.length) await api.call('POST', `${at}/pointers`, { nodes: chosen.map(n => n.node) })
    },
    lookForWays: () => job('/routes'),
    /** Fetches what is open to all; the gate is left for the student. */
    async fetchOpen(most: number): Promise<void> {
      const open = (await api.call<Routed[]>('GET', `${at}/routes`)).filter(w => w.routes?.some(r => r.way === 'open'))
      if (open.length) await job('/retrievals', { works: open.slice(0, most).map(w => w.id) })
    },
    /** Brings a page that the student printed in place of the text: whether it is the work is doubtful. */
    async bringPrintOut(list: readonly Work[]): Promise<void> {
      const copies = new Map((await api.call<Routed[]>('GET', `${at}/routes`)).map(w => [w.id, w.copies.length]))
      for (const w of list.filter(x => copies.get(x.id) === 0)) {
        const { item } = await api.call<{ item: Item }>('GET', `${at}/works/${w.id}`)
        if (!item.abstract || (item.author?.length ?? 0) < 2) continue
        const page = await printOut(item.title!, item['container-title'] ?? '', item.abstract)
        return job(`/works/${w.id}/copies`, page, { 'x-file-name': 'printed-page.pdf' })
      }
    },
    inHand: async (): Promise<Routed[]> =>
      (await api.call<Routed[]>('GET', `${at}/routes`)).filter(w => w.copies.some(c => c.outcome === 'proved')),
    /** Reads a copy as a student does: marks sentences on strands, and fills the work's sheet of reading with their pages. */
    async read(w: Routed, strands: readonly number[], view: string): Promise<void> {
      const { id: copy } = w.copies.find(c => c.outcome === 'proved')!
      const { pages } = await api.call<{ pages: string[] }>('GET', `${at}/copies/${copy}/text`)
      const { labels } = await api.call<{ labels: string[] }>('GET', `${at}/copies/${copy}`)
      const write = (head: string, content: string) =>
        api.call('PUT', `${at}/works/${w.id}/notes/${head}`, { content }, { 'if-match': '"0"' })
      for (const [i, [head, words, note]] of SPEAKS.entries()) {
        // what a study cannot say stands towards its end
        const found = sentenceWith(pages, words, head === 'limits' ? pages.length / 2 : 1)
        if (!found) continue
        const { page, quote } = found
        const strand = strands[i % strands.length] ?? null
        const kind = note ? 'in my words' : 'quoted'
        await api.call('POST', `${at}/copies/${copy}/passages`, { page, kind, quote, note, strand })
        await write(head, `${note || `“${quote}”`} p. ${labels[page - 1] ?? page}`)
      }
      await write('view', view)
    },
    note: (w: Routed, note: string) =>
      api.call('POST', `${at}/copies/${w.copies.find(c => c.outcome === 'proved')!.id}/passages`, {
        page: 1,
        kind: 'in my words',
        note,
      }),
    /** A sentence of a copy, as somebody writes it down who means to find other words later. */
    async theirWords(w: Routed): Promise<string> {
      const copy = w.copies.find(c => c.outcome === 'proved')!.id
      const { pages } = await api.call<{ pages: string[] }>('GET', `${at}/copies/${copy}/text`)
      const sentence = /\. ([A-Z][^.“”]{70,130})\. /.exec(pages[0]!.replace(/\s+/g, ' '))?.[1]
      return sentence ? ` Like others it notes that ${sentence[0]!.toLowerCase()}${sentence.slice(1)}.` : ''
    },
    /** @param beside a work that the annotation names at its end, in the sentence */
    async enter(w: Work, annotation?: string, beside?: Work): Promise<void> {
      const entry = await api.call<{ id: number; version: number }>('POST', `${at}/entries`, { work: w.id })
      if (!annotation) return
      const marks: Mark[] = []
      let text = annotation
      if (beside) {
        const { inText } = await api.call<{ inText: string }>('GET', `${at}/works/${beside.id}/citation?named=true`)
        const from = text.length + ' Read it beside '.length
        const cites = { work: beside.id, page: '', named: true }
        marks.push({ from, to: from + inText.length, is: 'cites', cites })
        text += ` Read it beside ${inText}.`
      }
      const body = { annotation: text, marks }
      await api.call('PATCH', `${at}/entries/${entry.id}`, body, { 'if-match': `"${entry.version}"` })
    },
  }
}
/** Under which head of a sheet a sentence belongs, by what words it is known, and what is said of it, where it is not quoted. */
const SPEAKS: [head: string, words: RegExp, note: string][] = [
  [
    'question',
    /\b(?:aim was|we asked?|questions? guided|whether)\b/i,
    'Asks what a change of lamps does, and for how long.',
  ],
  ['method', /\bwe (?:compared|counted|recorded|sampled|used|chose|therefore chose)\b/i, ''],
  ['place', /\b(?:\d+|six|ten|several) (?:sites|towns|plots|gardens|places|nights|seasons)\b/i, ''],
  ['found', /\b(?:fell|rose|did not (?:differ|move|change)|increased|decreased|halved)\b/i, ''],
  [
    'limits',
    /\b(?:sample sizes?|caution|cannot|limit|no conclusion|could not)\b/i,
    'Small samples: a drop of a few per cent would not show.',
  ],
]
/** The first short sentence of a text behind some of its pages that has some words. */
function sentenceWith(
  pages: readonly string[],
  words: RegExp,
  after: number,
): { page: number; quote: string } | undefined {
  for (const [i, text] of pages.entries()) {
    if (i < after) continue
    for (const { segment } of new Intl.Segmenter('en', { granularity: 'sentence' }).segment(text)) {
      const quote = segment.trim()
      if (quote.length > 40 && quote.length < 200 && !quote.includes('\n') && words.test(quote))
        return { page: i + 1, quote }
    }
  }
  return undefined
}
const isStudy = (w: Work) => w.kind === 'research article' || w.kind === 'literature review'
const spread = <T>(list: T[], n: number): T[] =>
  list.filter((_, i) => i % Math.max(1, Math.floor(list.length / n)) === 0).slice(0, n)

// one in the middle of the work, one not begun, one finished: a small assignment, every text in hand, all annotated
const lamps = await begin({
  title: 'Lamps and moths in towns',
  question: 'Does street lighting change what night-flying pollinators do in towns?',
  due: '2026-10-29',
})
await begin({
  title: 'Sleep beside bright streets',
  question: 'Does light from the street at the bedroom window shorten the sleep of shift workers?',
  due: '2026-11-19',
  style: 'vancouver',
  entriesWanted: 8,
})
const bats = await begin({
  title: 'Bats at lit bridges',
  question: 'Do bats avoid bridges that are lit at night?',
  due: '2026-10-06',
  style: 'harvard-cite-them-right',
  entriesWanted: 4,
  refereedAtLeast: 3,
  recentAtLeast: 2,
  recentYears: 15,
  booksAtMost: 1,
  wordsFrom: 30,
  wordsTo: 80,
})

/** A broad look, a narrower sweep brought into the pool, the first decisions. */
async function workOnLamps(): Promise<void> {
  await lamps.sweep('title = light* and (title = moth* or title = pollinat*)', ['broadleaf', 'lampyr', 'civic'])
  const query = await lamps.fillSheet(
    {
      'artificial light at night':
        'street light*, narrower:lamp*, light pollution, light at night, -broader:light*, -narrower:LED',
      'night-flying pollinators': 'moth*, nocturnal pollinat*, narrower:hawkmoth*, -broader:Lepidoptera',
      towns: 'urban, city, cities, towns, narrower:garden*, narrower:allotment*',
    },
    'sailing',
    2016,
  )
  await lamps.readVocabulary('town-and-nature')
  // books are described more broadly than articles
  const onShelves = await lamps.sweep('title = moth* and (title = visit* or title = lamp* or title = courtship)', [
    'shelf',
  ])
  await lamps.bring(onShelves)
  await lamps.bring(await lamps.sweep(query, ['broadleaf', 'lampyr', 'civic', 'fennmark', 'shelf']))
  const pool = await lamps.works()
  const onTopic = pool.filter(
    w => isStudy(w) && /moth|pollinat|noctu|sphing/i.test(w.title) && /light|lamp|LED|glow/i.test(w.title),
  )
  const kept = spread(onTopic, 16)
  for (const w of kept) await lamps.decide([w], 'keep')
  const books = await lamps.fromShelves()
  for (const w of books) await lamps.decide([w], 'keep')
  await lamps.decide(pool.filter(w => w.kind === 'magazine').slice(0, 5), 'set aside', 'Not a research source')
  await lamps.decide(
    pool.filter(w => w.kind === 'review of a book').slice(0, 2),
    'set aside',
    'Review of a book, not a study',
  )
  await lamps.decide(pool.filter(w => w.kind === 'book' && !books.some(b => b.id === w.id)).slice(0, 2), 'later')
  const themes: [string, RegExp][] = [
    ['What lamps change', /flower|visit|flight|behavio|activity|forag|nectar/i],
    ['Which lamps, which hours', /LED|colou?r|dimm|schedul|hour|spectr|night/i],
    ['How it was measured', /trap|count|survey|record|transect|method|measur/i],
  ]
  const strands: number[] = []
  for (const [name, words] of themes)
    strands.push(
      await lamps.strand(
        name,
        kept.filter(w => words.test(w.title)),
      ),
    )
  await lamps.say(kept.slice(0, 7), 'part', 'evidence')
  await lamps.say(kept.slice(7, 9), 'part', 'background')
  await lamps.say(kept.slice(2, 5), 'tag:several seasons', true)
  // newer works on the subject; what everybody cites is left for the student to find
  await lamps.walkRound(met =>
    met.filter(m => m.citing < 3 && /moth|pollinat/i.test(m.title) && (m.year ?? 0) > 2018).slice(0, 12),
  )
  await lamps.passedOn(onTopic.filter(w => !kept.includes(w)).slice(0, 4))
  await lamps.lookForWays()
  await lamps.fetchOpen(16)
  await lamps.bringPrintOut(kept)
  const mine = await lamps.inHand()
  const annotations = [
    'The authors ask whether lamps along streets keep moths from the flowers they would visit. They worked in ordinary gardens rather than in a test field, which makes the setting close to my question, and they looked at more than one season. I value the plain comparison of lit and unlit places. The number of sites is small, though, and the weather differed between years, so I would not lean on the size of the effect alone. It will open the part of my essay that sets out what is known of behaviour at lamps, before I turn to schedules and colours. Compared with the other sources on my list it says less about plants and more about the animals themselves, and it is careful to separate what was seen from what is supposed.',
    'This study follows what happens when a council changes its lamps. It helps me to see the policy side of the question.',
  ]
  const views = [
    'Strongest on hours; set it against the others.',
    'Use for planning, not for flowers.',
    'Why no effect here?',
  ]
  for (const [i, w] of mine.slice(0, 3).entries()) {
    await lamps.note(w, 'Compares lit and unlit places; the setting is close to my question.')
    await lamps.read(w, strands, views[i]!)
    if (i === 0) await lamps.enter(w, annotations[0]! + (await lamps.theirWords(w)))
    else await lamps.enter(w, annotations[i], mine[0])
  }
  for (const w of kept.filter(k => !mine.slice(0, 3).some(m => m.id === k.id)).slice(0, 4)) await lamps.enter(w)
}

async function finishBats(): Promise<void> {
  await bats.bring(
    await bats.sweep('bat* and (bridge* or lamp* or "street light*") and year >= 2010 not (batter* or batting)', [
      'lampyr',
      'fennmark',
    ]),
  )
  const found = await bats.works()
  const studies = found.filter(w => isStudy(w) && /\bbats?\b|roost/i.test(w.title)).slice(0, 24)
  await bats.decide(studies, 'keep')
  await bats.decide(
    found.filter(w => !studies.includes(w)),
    'set aside',
    'Not about bats at lamps',
  )
  await bats.lookForWays()
  await bats.fetchOpen(7)
  const read = await bats.inHand()
  const done = [
    'Counts on both banks of a river show which way bats take when the bridge above them is lit. The comparison is simple and the places are described with care. I use it for the first of my three arguments, that bats give way to light.',
    'The work asks what in a lamp matters to bats, and sets the colour of light against its strength. The design is the best of my four sources. It helps me to say what a town could change without going dark.',
    'A survey over many nights, useful because it does not find what the others find. I take from it that habit may play a part, and that a single season tells little. Its authors are frank about their weak points.',
    'A broad look at what is known, with a good list of older studies. I read it first, and came back to it for the words that people in the field use. It has little of its own on bridges.',
  ]
  for (const [i, w] of read.slice(0, 4).entries()) {
    await bats.note(w, 'What was seen at the lit places, and how it was counted.')
    await bats.enter(w, done[i])
  }
  const left = studies.filter(w => !read.slice(0, 4).some(r => r.id === w.id))
  await bats.decide(left, 'set aside', 'Enough sources of this kind', 'full text')
}

await Promise.all([workOnLamps(), finishBats()])
console.log(`The demo was laid in ${((Date.now() - began) / 1000).toFixed(1)} s`)
