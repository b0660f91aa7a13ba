/**
 * Checks of entries: how many findings clean entries raise, and how many slips are found that were planted into them.
 * Entries are works of a made-up world with the records of its catalogues and, for every other one, a copy that was
 * drawn and read as on the server. A slip stands in the entry and in the record it is taken from; without a copy and
 * with no other record nothing could tell of most, so these are counted apart.
 * npx tsx bench/checks.ts [entries]      SHOW=1 prints what was wrong
 */
import { writeKbart } from '../demo/kbart'
import { WorldMaker } from '../demo/generate'
import type { Item } from '../core/bib/item'
import { checkEntries } from '../core/cite/checks/checks'
import type { Checked, CheckedCopy, CheckedRecord } from '../core/cite/checks/finding'
import { isInCapitals } from '../core/cite/checks/title-case'
import { mannerOf } from '../core/cite/manner'
import { readDublinCore } from '../core/formats/dublin-core'
import { readMarcXml } from '../core/formats/marcxml'
import { readMods } from '../core/formats/mods'
import { buildWork } from '../core/match/best-fields'
import { seeded, type Random } from '../core/world/random'
import { tasks } from '../server/child/tasks'
import { styleFiles } from '../server/threads/style-files'
import { descriptions } from '../standins/catalogues'
import { drawPdf } from '../standins/pdf'
import { serveWorld } from '../standins/world'

const size = Number(process.argv[2] ?? 400)
const reader = { mods: readMods, dc: readDublinCore, marcxml: readMarcXml }
const manner = mannerOf(
  { id: 'apa', name: 'APA' },
  styleFiles({ folder: '/usr/share/citation-style-language', style: 'apa' }),
)

const maker = new WorldMaker(21, 24_000)
const works = [...maker].map(m => m.work)
const world = serveWorld(works, maker.facts, writeKbart(21, maker.facts.venues, works))
const records = new Map<string, CheckedRecord[]>()
let id = 0
for (const { entry, schema, xml } of descriptions(world)) {
  const of = records.get(entry.work.id) ?? []
  id++
  of.push({ id, source: `Catalogue ${of.length + 1}`, ...reader[schema](xml) })
  records.set(entry.work.id, of)
}

const r = seeded(4)
const clean: Checked[] = []
for (const work of r.some(
  works.filter(w => w.item.author?.length),
  size * 3,
)) {
  if (clean.length >= size) break
  const given = records.get(work.id)
  // a title in capitals, and a review of a book, are rightly asked about
  if (!given?.length || isInCapitals(work.item.title!) || /review/.test(work.form)) continue
  // clean in the style: a capital behind the colon, small letters; and its first record is the one it came from
  const title = work.item.title!.replace(/(?<=: )\p{Ll}/u, c => c.toUpperCase())
  const item = { ...work.item, title } as Item
  const own = [{ ...given[0]!, item }, ...given.slice(1)]
  let copy: CheckedCopy | undefined
  let words = work.item.abstract ?? ''
  if (clean.length % 2 && work.host) {
    const text = await tasks.pdf(Buffer.from(await drawPdf(world, work, { version: 'version of record' })))
    copy = {
      ...{ id: 1, version: 'version of record', labels: text.labels, front: text.front },
      ...{ arePrinted: text.by.includes('printed'), isScan: Boolean(text.scan) },
    }
    words += text.pages.map(p => p.text).join('\n')
  }
  const { facts } = buildWork(own)
  clean.push({
    ...{ entry: clean.length + 1, work: clean.length + 1, item, facts, kind: work.form, words },
    ...{ chosen: [], records: own, became: [], since: [], leansOn: [], ...(copy ? { copy } : {}) },
  })
}
const began = performance.now()
const told = checkEntries(clean, manner)
const took = performance.now() - began
const isTold = (key: string) => /^(by records|title by records|authors by records)/.test(key)
const wrong = told.filter(t => t.findings.some(f => !isTold(f.key)))
const apart = told.filter(t => t.findings.some(f => isTold(f.key)))
console.log(
  `${apart.length} clean entries of which records say something else (${((100 * apart.length) / clean.length).toFixed(1)}%)`,
)
console.log(
  `${clean.length} clean entries, ${clean.filter(e => e.copy).length} with a copy: ${wrong.length} with a finding (${((100 * wrong.length) / clean.length).toFixed(1)}%), ${(took / clean.length).toFixed(2)} ms each`,
)
if (process.env.SHOW)
  for (const t of wrong)
    for (const f of t.findings)
      console.log('  clean:', f.what, '|', f.ours, '→', f.theirs, '|', f.why, '|', clean[t.entry - 1]!.item.title)

/** Slips as they are met: undefined where the entry has nothing to slip in. */
const SLIPS: Record<string, (item: Item, r: Random) => Item | undefined> = {
  year: (i, x) => {
    const y = Number(i.issued?.['date-parts']?.[0]?.[0])
    return y ? { ...i, issued: { 'date-parts': [[y + x.pick([-1, 1, -10, 9])]] } } : undefined
  },
  volume: (i, x) => (i.volume ? { ...i, volume: String(Number(i.volume) + x.int(1, 9)) } : undefined),
  'issue for volume': i =>
    i.issue && i.volume && i.issue !== i.volume ? { ...i, issue: i.volume, volume: i.issue } : undefined,
  'pages turned': i => {
    const m = /^(\d+)\D(\d+)$/.exec(i.page ?? '')
    return m && m[1]!.length === m[2]!.length && m[1] !== m[2] ? { ...i, page: `${m[2]}-${m[1]}` } : undefined
  },
  'a figure of the first page': (i, x) => {
    const m = /^(\d+)(\D)(\d+)$/.exec(i.page ?? '')
    return m ? { ...i, page: `${Number(m[1]) + x.pick([10, 100, -9])}${m[2]}${Number(m[3]) + 200}` } : undefined
  },
  'DOI left out': i => (i.DOI ? without(i, 'DOI') : undefined),
  'a figure of the DOI': i =>
    i.DOI && /\d$/.test(i.DOI) ? { ...i, DOI: i.DOI.replace(/\d$/, d => String((Number(d) + 3) % 10)) } : undefined,
  'DOI with its address': i => (i.DOI ? { ...i, DOI: `https://doi.org/${i.DOI}` } : undefined),
  'an author left out': (i, x) =>
    i.author!.length > 2
      ? {
          ...i,
          author: i.author!.filter((_, k) => k !== x.int(1, i.author!.length - 1)).slice(0, i.author!.length - 1),
        }
      : undefined,
  'authors in another order': i => (i.author!.length > 1 ? { ...i, author: [...i.author!].reverse() } : undefined),
  'given for family name': i => {
    const [a, ...rest] = i.author!
    return a!.family && (a!.given?.length ?? 0) > 3 && !/[. ]/.test(a!.given!)
      ? { ...i, author: [{ ...a, family: a!.given!, given: a!.family }, ...rest] }
      : undefined
  },
  'a letter of a name': (i, x) => {
    const [a, ...rest] = i.author!
    if (!a!.family || a!.family.length < 5) return undefined
    const at = x.int(1, a!.family.length - 3)
    return { ...i, author: [{ ...a, family: a!.family.slice(0, at) + a!.family.slice(at + 1) }, ...rest] }
  },
  'et al. for an author': i =>
    i.author!.length > 2 ? { ...i, author: [i.author![0]!, { literal: 'et al.' }] } : undefined,
  'a name in capitals': i => {
    const [a, ...rest] = i.author!
    return (a!.family?.length ?? 0) > 4
      ? { ...i, author: [{ ...a, family: a!.family!.toUpperCase() }, ...rest] }
      : undefined
  },
  'a word of the title': (i, x) => {
    const words = i.title!.split(' ')
    const at = words.findIndex((w, k) => k > 1 && w.length > 4)
    return at > 0 && words.length > 4
      ? { ...i, title: words.map((w, k) => (k === at ? x.pick(['shadow', 'harvest', 'window']) : w)).join(' ') }
      : undefined
  },
  'capitals to each word': i => ({ ...i, title: i.title!.replace(/(?<= )\p{Ll}(?=\p{L}{2})/gu, c => c.toUpperCase()) }),
  'all in capitals': i => ({ ...i, title: i.title!.toUpperCase() }),
  'full stop behind the title': i => (/\p{Ll}{2}$/u.test(i.title!) ? { ...i, title: `${i.title}.` } : undefined),
  'no journal': i => (i['container-title'] ? without(i, 'container-title') : undefined),
  'no publisher': i => (i.publisher && i.type === 'book' ? without(i, 'publisher') : undefined),
  'a session in the address': i => ({ ...i, URL: 'https://papers.example/read;jsessionid=8AF?id=7&utm_source=alert' }),
}
const without = (i: Item, field: string): Item =>
  Object.fromEntries(Object.entries(i).filter(([k]) => k !== field)) as Item

const plain = (v: unknown): string =>
  JSON.stringify(v ?? null)
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, '')
const same = (a: unknown, b: unknown): boolean => a !== undefined && plain(a) === plain(b)

let [all, found] = [0, 0]
for (const [name, slip] of Object.entries(SLIPS)) {
  let [n, hit] = [0, 0]
  const missed: string[] = []
  for (const e of clean) {
    const item = slip(e.item, r)
    if (!item || JSON.stringify(item) === JSON.stringify(e.item)) continue
    const first = { ...e.records[0]!, item: slip(e.records[0]!.item, seeded(1)) ?? e.records[0]!.item }
    const slipped = {
      ...e,
      item,
      records: [{ ...first, item: { ...first.item, ...changed(e.item, item) } }, ...e.records.slice(1)],
    }
    // somebody has to know better
    const knows =
      slipped.copy ??
      slipped.records.slice(1).some(x => Object.keys(changed(e.item, item)).every(k => same(x.item[k], e.item[k])))
    if (!knows) continue
    n++
    const before = new Set(told[e.entry - 1]!.findings.map(f => f.key))
    if (checkEntries([slipped], manner)[0]!.findings.some(f => !before.has(f.key))) hit++
    else missed.push(`${e.copy ? 'copy' : `${e.records.length} records`}: ${e.item.title}`)
  }
  all += n
  found += hit
  console.log(`${name}: ${hit} of ${n} (${((100 * hit) / n).toFixed(0)}%)`)
  if (process.env.SHOW) for (const m of missed.slice(0, 6)) console.log('   missed:', m)
}
console.log(`all slips: ${found} of ${all} (${((100 * found) / all).toFixed(1)}%)`)

function changed(before: Item, after: Item): Partial<Item> {
  const keys = [...new Set([...Object.keys(before), ...Object.keys(after)])]
  return Object.fromEntries(
    keys.flatMap(k => (JSON.stringify(before[k]) === JSON.stringify(after[k]) ? [] : [[k, after[k]]])),
  )
}
