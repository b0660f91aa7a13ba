import { KINDS } from '../core/appraise/kinds'
import { describe, expect, test } from '@jest/globals'
import { readFileSync } from 'node:fs'
import { build } from 'esbuild'
import fc from 'fast-check'
import { normaliseIsbn, normaliseIssn } from '../core/bib/identifiers'
import { yearOf } from '../core/bib/dates'
import { readPages } from '../core/bib/pages'
import { readKbart } from '../core/formats/kbart'
import { tokenise } from '../core/query/tokens'
import { seeded } from '../core/world/random'
import { spin } from '../core/world/spin'
import { tellSection } from '../core/world/tell'
import type { WorldWork } from '../core/world/types'
import { TEMPLATES } from './grammar'
import { WorldMaker } from './generate'
import { PACKAGES, writeKbart } from './kbart'
import { SUBJECTS, words } from './subjects'

const maker = new WorldMaker(3, 4000)
const made = [...maker]
const works = made.map(m => m.work)
const byId = new Map(works.map(w => [w.id, w]))

test('the same seed gives the same world to the letter, another seed another', () => {
  const text = (seed: number) => JSON.stringify([...new WorldMaker(seed, 150)])
  expect(text(3)).toBe(text(3))
  expect(text(4)).not.toBe(text(3))
})

describe('citations', () => {
  test('point back in time, each once', () => {
    for (const w of works) {
      expect(new Set(w.references).size).toBe(w.references.length)
      expect(w.references.filter(id => byId.get(id)!.date > w.date)).toEqual([])
      expect(w.unlinked).toBeLessThanOrEqual(w.references.length / 3)
    }
  })
  test('keep to their subject, four in five', () => {
    const all = works.flatMap(w => w.references.map(id => byId.get(id)!.text.lexicon === w.text.lexicon))
    const own = all.filter(Boolean).length / all.length
    expect(own).toBeGreaterThan(0.75)
    expect(own).toBeLessThan(0.95)
  })
  test('fame attracts: the most cited tenth holds more than a third of all citations, nobody a tenth', () => {
    const counts = new Map<string, number>()
    for (const w of works) for (const id of w.references) counts.set(id, (counts.get(id) ?? 0) + 1)
    const cited = works.map(w => counts.get(w.id) ?? 0).sort((a, b) => b - a)
    const sum = (list: number[]) => list.reduce((a, b) => a + b, 0)
    expect(sum(cited.slice(0, works.length / 10)) / sum(cited)).toBeGreaterThan(0.33)
    expect(cited[0]! / sum(cited)).toBeLessThan(0.1)
  })
  test('siblings of a grant cite one another more than chance would have it', () => {
    const inGrant = works.filter(w => w.grant && w.references.length > 10)
    const share = inGrant.reduce(
      (n, w) => n + w.references.filter(id => byId.get(id)!.grant === w.grant).length / w.references.length,
      0,
    )
    expect(share / inGrant.length).toBeGreaterThan(0.02)
  })
})

describe('records', () => {
  test('identifiers are unique, made up and have right check digits', () => {
    const dois = works.flatMap(w => [w.item.DOI, ...w.deposits.map(d => d.doi)]).filter((d): d is string => Boolean(d))
    expect(new Set(dois).size).toBe(dois.length)
    expect(dois.every(d => d.startsWith('10.5555/'))).toBe(true)
    for (const w of works) {
      if (w.item.ISSN) expect(normaliseIssn(w.item.ISSN)).toBe(w.item.ISSN)
      if (w.item.ISBN) expect(normaliseIsbn(w.item.ISBN)).toBe(w.item.ISBN)
    }
    const issns = maker.facts.venues.flatMap(v => [
      v.issnPrint,
      v.issnOnline,
      ...(v.former ? [v.former.issnPrint] : []),
    ])
    expect(new Set(issns).size).toBe(issns.length)
  })
  test('years, pages and volumes fit together, and no two articles of a volume share a page', () => {
    const taken = new Map<string, [number, number][]>()
    for (const w of works) {
      expect(yearOf(w.item)).toBe(w.year)
      const venue = maker.facts.venues.find(v => v.code === w.venue)
      if (venue && w.item.volume) expect(Number(w.item.volume)).toBe(w.year - venue.since + 1)
      const range = readPages(w.item.page)
      if (!venue || !range || venue.kind === 'newspaper' || String(w.item.page).startsWith('e')) continue
      expect(range.last - range.first + 1).toBe(w.pages)
      const key = `${w.venue} ${w.year}`
      expect((taken.get(key) ?? []).filter(([a, b]) => range.last >= a && range.first <= b)).toEqual([])
      taken.set(key, [...(taken.get(key) ?? []), [range.first, range.last]])
    }
  })
  test('every kind of source is there', () => {
    // a preprint is a version of a work, and nothing is made that cannot be told
    for (const form of KINDS.filter(k => k !== 'preprint' && k !== 'unknown'))
      expect(works.filter(w => w.form === form).length).toBeGreaterThan(5)
    expect(works.some(w => w.item.title!.startsWith('Retraction'))).toBe(true)
    expect(works.some(w => w.item.language === 'de')).toBe(true)
    expect(works.some(w => w.item.title!.startsWith('Notes from the Lamp Post'))).toBe(true)
  })
  test('what speaks of another work names it, and comes after it', () => {
    for (const w of works) {
      if (w.form === 'review of a book') expect(w.item.title).toContain(byId.get(w.about!)!.item.title)
      if (w.form === 'correction') expect(w.item.title!.endsWith(byId.get(w.about!)!.item.title!)).toBe(true)
      if (w.about) expect(byId.get(w.about)!.date <= w.date).toBe(true)
    }
  })
  test('a conference paper that grew into an article keeps its authors and its story', () => {
    const grown = made.flatMap(m =>
      m.label.linked.filter(l => l.as === 'grew from').map(l => [m.work, byId.get(l.id)!] as const),
    )
    expect(grown.length).toBeGreaterThan(5)
    for (const [article, paper] of grown) {
      expect(article.item.author).toEqual(paper.item.author)
      expect(article.text.story).toEqual(paper.text.story)
    }
  })
  test('a translation has its authors, the title it had, and comes later', () => {
    const pairs = made.flatMap(m =>
      m.label.linked.filter(l => l.as === 'translates').map(l => [m.work, byId.get(l.id)!] as const),
    )
    expect(pairs.length).toBeGreaterThan(1)
    for (const [translation, original] of pairs) {
      expect(translation.item['original-title']).toBe(original.item.title)
      expect(translation.item.language).toBe('en')
      expect(original.item.language).not.toBe('en')
      expect(translation.date >= original.date).toBe(true)
    }
  })
  test('people share names, change them, and some have one name only', () => {
    const names = works.flatMap(w => w.item.author ?? [])
    expect(names.some(n => n.literal)).toBe(true)
    expect(names.some(n => n['non-dropping-particle'])).toBe(true)
    expect(names.some(n => /\p{Lu}\.$/u.test(n.given ?? '') && (n.given ?? '').length < 5)).toBe(true)
    expect(names.some(n => /[^\u0020-\u007f]/.test(n.family ?? ''))).toBe(true)
  })
})

describe('catalogues', () => {
  const share = (of: (w: WorldWork) => boolean, key: string) => {
    const all = works.filter(of)
    return all.filter(w => w.catalogues[key]).length / all.length
  }
  const article = (w: WorldWork) => ['research article', 'literature review'].includes(w.form)
  const field = (w: WorldWork) => SUBJECTS[w.text.lexicon]!.field
  test('cover what they say they cover', () => {
    expect(share(article, 'broadleaf')).toBeGreaterThan(0.53)
    expect(share(article, 'broadleaf')).toBeLessThan(0.63)
    expect(share(w => article(w) && ['Ecology', 'Entomology'].includes(field(w)), 'lampyr')).toBeGreaterThan(0.77)
    expect(share(w => article(w) && field(w) === 'Health', 'vigil')).toBeGreaterThan(0.8)
    expect(share(w => field(w) !== 'Health', 'vigil')).toBe(0)
    expect(works.filter(w => w.catalogues.vault).every(w => w.catalogues.vault!.from >= `${w.year + 5}-01-01`)).toBe(
      true,
    )
  })
  test('overlap, and leave some works to none of them', () => {
    expect(works.filter(w => Object.keys(w.catalogues).length > 1).length).toBeGreaterThan(works.length / 4)
    expect(works.filter(w => !Object.keys(w.catalogues).length).length).toBeGreaterThan(works.length / 20)
  })
  test('list a work only after it was published, one of them weeks later', () => {
    for (const w of works)
      expect(Object.entries(w.catalogues).filter(([key, d]) => key !== 'fennmark' && d.from <= w.date)).toEqual([])
    expect(works.some(w => w.date < '2026-10-05' && (w.catalogues.lampyr?.from ?? '') > '2026-10-05')).toBe(true)
  })
})

test('labels agree with the records', () => {
  for (const { work: w, label: l } of made) {
    expect(l).toMatchObject({ id: w.id, kind: w.form, subject: SUBJECTS[w.text.lexicon]!.name })
    if (l.refereed) expect(w.refereedVenue).toBe(true)
    if (l.relevant) expect(l.subject).toBe('lamps and night pollinators')
    if (l.routes.gate) expect(w.host).toBeDefined()
  }
  const relevant = made.filter(m => m.label.relevant).length / made.length
  expect(relevant).toBeGreaterThan(0.01)
  expect(relevant).toBeLessThan(0.05)
})

test('no label can be reached by the product or the stand-ins', async () => {
  const inputs = async (entry: string) =>
    Object.keys(
      (
        await build({
          entryPoints: [entry],
          bundle: true,
          write: false,
          metafile: true,
          platform: 'node',
          format: 'esm',
          packages: 'external',
          logLevel: 'silent',
          loader: { '.svg': 'empty' },
        })
      ).metafile.inputs,
    )
  for (const entry of ['server/main.ts', 'server/child/main.ts', 'standins/main.ts', 'web/main.tsx']) {
    const read = await inputs(entry)
    expect(read.length).toBeGreaterThan(1)
    expect(read.filter(f => f.startsWith('demo/'))).toEqual([])
  }
  // what the stand-ins are given says nothing of relevance, subject or truth
  const keys = new Set(works.flatMap(w => Object.keys(w)))
  expect([...keys].filter(k => /relevan|label|topic|kind|decid|truth|same/.test(k))).toEqual([])
  // and the demo is started without asking for labels
  expect(readFileSync('scripts/start.mjs', 'utf8')).not.toContain('--labels')
})

describe('texts', () => {
  const grams = (text: string): Set<string> => {
    const t = tokenise(text).map(x => x.text)
    return new Set(t.slice(4).map((_, i) => t.slice(i, i + 5).join(' ')))
  }
  test.each([0, 1] as const)(
    'two abstracts of one subject share less than a twentieth of their five-word runs (half %i)',
    half => {
      const abstracts = new Map<number, Set<string>[]>()
      for (const { work } of half ? new WorldMaker(5, 2500, 1) : made)
        if (work.item.abstract && work.form === 'research article')
          abstracts.set(work.text.lexicon, [...(abstracts.get(work.text.lexicon) ?? []), grams(work.item.abstract)])
      const shared: number[] = []
      const r = seeded(1)
      for (const list of abstracts.values()) {
        if (list.length < 2) continue
        for (let n = 0; n < 200; n++) {
          const [a, b] = r.some(list, 2) as [Set<string>, Set<string>]
          let both = 0
          for (const g of a) if (b.has(g)) both++
          shared.push(both / Math.min(a.size, b.size))
        }
      }
      shared.sort((x, y) => x - y)
      expect(shared.length).toBeGreaterThan(1000)
      expect(shared[shared.length >> 1]).toBeLessThan(0.05)
    },
  )
  test('the held-back half has other templates and other words', () => {
    const flat = (x: unknown): string[] => (typeof x === 'string' ? [x] : Object.values(x as object).flatMap(flat))
    const [open, held] = TEMPLATES.map(t => new Set(flat({ ...t, sections: t.sections }).filter(s => s.length > 14)))
    expect([...held!].filter(s => open!.has(s))).toEqual([])
    for (const s of SUBJECTS)
      for (const list of [s.things, s.causes, s.places, s.methods]) {
        const [a, b] = words(list)
        expect(a.length).toBeGreaterThan(3)
        expect(b.length).toBeGreaterThan(3)
        expect(b.filter(x => a.includes(x))).toEqual([])
      }
  })
  test('every template can be spun', () => {
    const slots = Object.fromEntries(
      'thing cause place measure second method otherThing otherCause otherPlace otherMethod year'
        .split(' ')
        .map(k => [k, k]),
    )
    const flat = (x: unknown): string[] => (typeof x === 'string' ? [x] : Object.values(x as object).flatMap(flat))
    for (const t of flat(TEMPLATES)) expect(spin(t, slots, seeded(2))).not.toMatch(/[[\]{}|]/)
    expect(() => spin('{nothing}', slots, seeded(1))).toThrow('nothing')
    expect(() => spin('[a|b', slots, seeded(1))).toThrow('not closed')
  })
  test('numbers stay in their range, branches are all taken', () => {
    fc.assert(
      fc.property(fc.integer(), seed => {
        const [n, letter] = spin('{6-64} [a|b|c[d|]]', {}, seeded(seed)).split(' ')
        expect(Number(n) >= 6 && Number(n) <= 64).toBe(true)
        expect(['a', 'b', 'c', 'cd']).toContain(letter)
      }),
    )
    const seen = new Set(Array.from({ length: 200 }, (_, i) => spin('[a|b|c[d|]]', {}, seeded(i))))
    expect(seen).toEqual(new Set(['a', 'b', 'c', 'cd']))
  })
  test('a text is told the same way every time, and no sentence twice before all were told once', () => {
    const w = works.find(x => x.form === 'research article')!
    const told = tellSection(maker.facts.grammar, w, 'methods', 14)
    expect(told).toEqual(tellSection(maker.facts.grammar, w, 'methods', 14))
    expect(new Set(told).size).toBe(14)
    expect(told.join(' ')).not.toMatch(/[{}[\]|]/)
  })
})

test('holdings files: forty packages, read by the product, with the faults that such files have', () => {
  const files = writeKbart(3, maker.facts.venues, works)
  expect(files.size).toBe(PACKAGES.length)
  expect(files.size).toBe(40)
  const read = [...files.values()].map(readKbart)
  const lines = read.reduce((n, r) => n + r.holdings.length, 0)
  const problems = read.reduce((n, r) => n + r.problems.length, 0)
  expect(lines).toBeGreaterThan(80)
  expect(problems).toBeGreaterThan(0)
  expect(problems).toBeLessThan(lines / 10)
  const settings = JSON.parse(readFileSync('settings/demo.json', 'utf8')) as { libraries: { holdings: string[] }[] }
  expect(settings.libraries[0]!.holdings.map(u => u.split('/').at(-1)).sort()).toEqual([...files.keys()].sort())
})

test('the generator of chance is even and keeps its bounds', () => {
  fc.assert(
    fc.property(fc.integer(), fc.integer({ min: 0, max: 50 }), fc.integer({ min: 0, max: 50 }), (seed, a, b) => {
      const r = seeded(seed)
      const [low, high] = [Math.min(a, b), Math.max(a, b)]
      for (let i = 0; i < 20; i++) {
        const n = r.int(low, high)
        expect(n >= low && n <= high).toBe(true)
      }
      expect(new Set(r.some([1, 2, 3, 4], 3)).size).toBe(3)
    }),
  )
  const r = seeded(1)
  const heads = Array.from({ length: 20_000 }, () => Number(r.chance(0.5))).reduce((x, y) => x + y, 0)
  expect(Math.abs(heads - 10_000)).toBeLessThan(400)
  const drawn = Array.from({ length: 9000 }, () =>
    r.weighted([
      ['a', 2],
      ['b', 1],
    ] as const),
  ).filter(x => x === 'a').length
  expect(Math.abs(drawn - 6000)).toBeLessThan(250)
})
