import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { styleFiles } from '../../../server/threads/style-files'
import type { Item } from '../../bib/item'
import { buildWork } from '../../match/best-fields'
import type { Field } from '../../match/best-fields'
import { mannerOf } from '../manner'
import { checkEntries } from './checks'
import type { Checked, CheckedCopy, CheckedRecord } from './finding'
import { isLongFormOf } from './of-place'
import { wordsApart } from './of-title'
import { capitalAfterColon, isInCapitals, sentenceCase, WordUse } from './title-case'

const folder = process.env.CSL_FOLDER ?? '/usr/share/citation-style-language'
const apa = mannerOf({ id: 'apa', name: 'APA' }, styleFiles({ folder, style: 'apa' }))
const mla = mannerOf(
  { id: 'modern-language-association', name: 'MLA' },
  styleFiles({ folder, style: 'modern-language-association' }),
)

const ITEM: Item = {
  id: '',
  type: 'article-journal',
  title: 'Moth visits to allotment flowers: What part-night lamps change',
  author: [
    { family: 'Lune', given: 'Mara' },
    { family: 'Okafor', given: 'Ada B.' },
    { family: 'Sorholm', given: 'Ilse' },
  ],
  'container-title': 'Landscape and Night Planning',
  volume: '6',
  issue: '3',
  page: '140-158',
  issued: { 'date-parts': [[2020]] },
  DOI: '10.5555/lnp.2020.0140',
}
/** Fields of an item; one that is undefined is not there. */
type Fields = Record<string, unknown>

const COPY: CheckedCopy = {
  id: 9,
  version: 'version of record',
  labels: Array.from({ length: 19 }, (_, i) => String(140 + i)),
  arePrinted: true,
  isScan: false,
  front: {
    title: 'Moth Visits to Allotment Flowers: What Part-Night Lamps Change',
    authors: ITEM.author!.map(name => ({ name, affiliations: [] })),
    doi: '10.5555/lnp.2020.0140',
    source: {
      ...{ 'container-title': 'Landscape and Night Planning', volume: '6', issue: '3', page: '140-158' },
      issued: { 'date-parts': [[2020]] },
    },
  },
}
const record = (id: number, more: Fields = {}): CheckedRecord => ({
  id,
  source: `Catalogue ${id}`,
  item: { ...ITEM, ...more },
  facts: {},
})
const entry = (item: Fields, more: Partial<Checked> = {}): Checked => ({
  ...{ entry: 1, work: 1, item: { ...ITEM, ...item }, facts: {}, kind: 'research article', chosen: [] },
  ...{ records: [], words: '', became: [], since: [], leansOn: [], ...more },
})
const found = (item: Fields, more: Partial<Checked> = {}, style = apa) =>
  checkEntries([entry(item, more)], style, [{ suffix: 'gate.example' }])[0]!.findings
const one = (item: Fields, more: Partial<Checked> = {}, style = apa) => {
  const all = found(item, more, style)
  expect(all).toHaveLength(1)
  return all[0]!
}
const copied = (front: Fields = {}, more: Partial<CheckedCopy> = {}) => ({
  copy: { ...COPY, ...more, front: { ...COPY.front, ...front } },
})
/** The entry with a finding mended, as a mark on the work would mend it. */
const mended = (item: Fields, more: Partial<Checked> = {}, style = apa) => {
  const { field, mend } = one(item, more, style)
  const said = { [field as Field]: mend!.value }
  const own = { id: 77, item: { ...ITEM, ...item }, facts: {} }
  return buildWork([own, ...(more.records ?? [])], said).item
}

test('a style tells by its own file what it prints and who sets its capitals', () => {
  expect(apa).toMatchObject({ capitals: false, afterColon: true })
  expect(mla).toMatchObject({ capitals: true, afterColon: false })
  expect(apa.prints['article-journal']).toEqual([
    ...['author', 'issued', 'container-title', 'volume', 'issue', 'page', 'DOI'],
  ])
  expect(apa.prints.book).toContain('publisher')
  expect(apa.prints['article-journal']).not.toContain('publisher')
})

test('an entry that agrees with its copy and its records has no finding, and says what agrees', () => {
  const [told] = checkEntries([entry({}, { ...copied(), records: [record(1), record(2)] })], apa)
  expect(told).toMatchObject({ findings: [], copy: 9, records: 2 })
  expect(told!.agrees).toEqual(['title', 'authors', 'year', 'volume', 'issue', 'pages', 'DOI'])
})

test('what the copy has otherwise is told with its page, and mended as it has it', () => {
  expect(one({ volume: '7' }, copied())).toMatchObject({
    ...{ field: 'volume', what: 'Another volume in the copy', ours: '7', theirs: '6', seen: { copy: 9, page: 1 } },
    mend: { value: { text: '6' } },
  })
  expect(mended({ issued: { 'date-parts': [[2019]] } }, copied()).issued).toEqual({ 'date-parts': [[2020]] })
  // a record that has it as the copy does is taken, and said
  const told = one({ DOI: '10.5555/lnp.2020.0141' }, { ...copied(), records: [record(4)] })
  expect(told.mend!.value).toEqual({ record: 4 })
  expect(told.why).toContain('Catalogue 4')
})

test('a manuscript says nothing of where the work appeared, nor does a line of another journal', () => {
  const elsewhere = { source: { 'container-title': 'Other Papers', volume: '99', page: '1-2' } }
  expect(found({}, copied(elsewhere))).toEqual([])
  expect(found({ volume: '7', issue: '1' }, copied({}, { version: 'accepted manuscript' }))).toEqual([])
  expect(found({ volume: '7' }, copied({}, { isScan: true, arePrinted: false }))).toEqual([])
})

test('what is missing is put in from the copy or from a record that has it', () => {
  const told = one({ DOI: undefined }, { records: [record(1, { DOI: undefined }), record(2)] })
  expect(told).toMatchObject({
    what: 'DOI missing',
    theirs: ITEM.DOI,
    mend: { value: { record: 2 }, called: 'Put it in' },
  })
  // of what nobody has, only what its kind does not do without
  expect(
    found({ DOI: undefined, issue: undefined }, { records: [record(1, { DOI: undefined, issue: undefined })] }),
  ).toEqual([])
  const bare = one({ 'container-title': undefined }, { records: [record(1, { 'container-title': undefined })] })
  expect(bare).toMatchObject({ what: 'It lacks what it appeared in', mend: null })
  expect(bare.why).toBe('APA names one for an article; its record has none.')
})

test('records against each other: one against more is its own slip, a tie is asked about', () => {
  expect(found({}, { records: [record(1), record(2), record(3, { volume: '8' })] })).toEqual([])
  expect(one({}, { records: [record(1), record(2, { volume: '8' })] })).toMatchObject({ ours: '6', theirs: '8' })
  const most = one({}, { records: [record(1), record(2, { volume: '8' }), record(3, { volume: '8' })] })
  expect(most.why).toBe('Catalogue 2 and Catalogue 3 have it so; yours is from Catalogue 1.')
  // the copy settles it, and so does the student's own word
  expect(found({}, { ...copied(), records: [record(1), record(2, { volume: '8' })] })).toEqual([])
  expect(found({}, { chosen: ['volume'], records: [record(1), record(2, { volume: '8' })] })).toEqual([])
  // a manuscript has a year of its own
  const manuscript = { ...record(2, { issued: { 'date-parts': [[2018]] } }), facts: { version: 'preprint' as const } }
  expect(found({}, { records: [record(1), manuscript] })).toEqual([])
  // the same number in other words
  expect(found({}, { records: [record(1, { volume: 'Vol. 06', page: '140-58' })] })).toEqual([])
})

test('pages that run backwards, or lie outside the copy', () => {
  expect(one({ page: '158-140' })).toMatchObject({ what: 'The pages run backwards', mend: null })
  expect(mended({ page: '158-140' }, copied({ source: undefined })).page).toBe('140-158')
  expect(one({ page: '240-258' }, copied({ source: undefined }))).toMatchObject({
    ...{ what: 'The pages do not lie within the copy', theirs: '140–158', seen: { copy: 9, page: 1 } },
  })
  expect(found({ page: '140-58' }, copied())).toEqual([])
  expect(found({ page: 'e104' }, copied({ source: undefined }))).toEqual([])
})

test('names: stopgaps, initials, capitals, and a person left whole', () => {
  const [lune, okafor, sorholm] = ITEM.author!
  const cut = { author: [lune!, { literal: 'et al.' }] }
  expect(one(cut)).toMatchObject({ what: '“et al.” stands among the authors', mend: { value: { text: 'Lune, Mara' } } })
  expect(one(cut, { records: [record(3)] }).mend).toMatchObject({ value: { record: 3 }, called: 'All 3 authors' })
  expect(mended(cut, copied()).author).toEqual(ITEM.author)
  const initials = { author: [{ family: 'M.', given: 'Lune' }, okafor!] }
  expect(mended(initials).author![0]).toEqual({ family: 'Lune', given: 'M.' })
  expect(mended({ author: [{ family: 'LUNE', given: 'Mara' }] }).author).toEqual([lune])
  expect(mended({ author: [{ literal: 'Lune, Mara' }, okafor!, sorholm!] }).author).toEqual(ITEM.author)
  expect(found({ author: [{ literal: 'Night Council of Korrin' }] })).toEqual([])
})

test('names against the copy: a letter, changed places, one left out, another order', () => {
  const [lune, okafor, sorholm] = ITEM.author!
  expect(
    one({ author: [{ family: 'Lune', given: 'Mara' }, { family: 'Okafr', given: 'Ada B.' }, sorholm!] }, copied()),
  ).toMatchObject({
    ...{ what: 'A name is spelled otherwise', ours: 'Ada B. Okafr', theirs: 'Ada B. Okafor' },
  })
  expect(mended({ author: [{ family: 'Mara', given: 'Lune' }, okafor!, sorholm!] }, copied()).author).toEqual(
    ITEM.author,
  )
  expect(one({ author: [lune!, sorholm!] }, copied())).toMatchObject({
    what: 'An author is missing',
    theirs: 'Ada B. Okafor',
  })
  expect(mended({ author: [sorholm!, lune!, okafor!] }, copied()).author).toEqual(ITEM.author)
  // a particle that one leaves out is no slip, and other people are no order
  const printed = { authors: [{ name: { family: 'van der Lune', given: 'Mara' }, affiliations: [] }] }
  expect(found({ author: [lune!] }, copied(printed))).toEqual([])
  expect(found({ author: [{ family: 'Quill', given: 'Otto' }] }, copied())).toEqual([])
  // what a record has is as good, where no more have the entry's own
  expect(one({ author: [sorholm!, lune!, okafor!] }, { records: [record(5)] }).mend!.value).toEqual({ record: 5 })
  expect(
    found({ author: [lune!, okafor!, sorholm!, { family: 'Quill', given: 'Otto' }] }, { records: [record(5)] }),
  ).toEqual([])
})

test('a title: remains of a catalogue, another word, a subtitle', () => {
  expect(mended({ title: `${ITEM.title}.` }).title).toBe(ITEM.title)
  expect(mended({ title: 'Lamps and moths / Mara Lune' }).title).toBe('Lamps and moths')
  expect(mended({ title: 'Lamps and moths [electronic resource]' }).title).toBe('Lamps and moths')
  expect(found({ title: 'Lamps, moths, etc. and/or bats' })).toEqual([])
  expect(one({ title: ITEM.title!.replace('flowers', 'towers') }, copied())).toMatchObject({
    ...{ what: 'A word of the title is another one in the copy', ours: 'towers', theirs: 'flowers' },
  })
  expect(mended({ title: ITEM.title!.replace('flowers', 'towers') }, copied()).title).toBe(ITEM.title)
  expect(mended({ title: 'Moth visits to allotment flowers' }, copied()).title).toMatch(/flowers: What Part-Night/)
  expect(found({ title: 'Of Something Else' }, copied())).toEqual([])
  expect(wordsApart('Moths of towns at night', 'Moths in towns by night')).toBeUndefined()
})

test('capitals by the style, learned from the work’s own words', () => {
  const words =
    'We counted moth visits to the allotment flowers of Korrin. Visits to flowers beside lamps fell; part of them change.'
  const title = 'Moth Visits to Allotment Flowers of Korrin: What Lamps Change'
  expect(isInCapitals(title)).toBe(true)
  expect(sentenceCase(title, new WordUse(words))?.title).toBe(
    'Moth visits to allotment flowers of Korrin: What lamps change',
  )
  expect(mended({ title }, { words }).title).toBe('Moth visits to allotment flowers of Korrin: What lamps change')
  // a style that sets capitals itself needs none of it, but what is written in capitals throughout
  expect(found({ title }, { words }, mla)).toEqual([])
  expect(mended({ title: title.toUpperCase() }, { words }, mla).title).toBe(
    'Moth visits to allotment flowers of Korrin: What lamps change',
  )
  // without words to learn from nothing is said; with a record that has it, it is
  expect(found({ title })).toEqual([])
  expect(one({ title }, { records: [record(2, { title: title.toLowerCase() })] }).mend!.value).toEqual({ record: 2 })
  // nouns that a language writes with capitals stay
  const german = new WordUse('Wir zählten die Besuche der Falter an den Blüten. Dabei fielen die Besuche der Falter.')
  expect(sentenceCase('Die Besuche der Falter an Blüten', german)).toBeUndefined()
})

test('a capital behind the colon, where the style asks for it', () => {
  const title = 'Moth visits to allotment flowers: what lamps change'
  expect(mended({ title }).title).toBe('Moth visits to allotment flowers: What lamps change')
  expect(found({ title }, {}, mla)).toEqual([])
  expect(capitalAfterColon('Measuring pH: pHs of ponds')).toBeUndefined()
  expect(capitalAfterColon('Ratios of 2:1 in traps')).toBeUndefined()
})

test('the DOI alone, a lasting address, the journal’s whole name', () => {
  expect(mended({ DOI: 'https://doi.org/10.5555/lnp.2020.0140' }).DOI).toBe('10.5555/lnp.2020.0140')
  expect(one({ DOI: 'see the website' }).mend).toBeNull()
  expect(mended({ URL: 'https://a-example.gate.example/x;jsessionid=1?utm_source=b&id=2' }).URL).toBe(
    'https://a.example/x?id=2',
  )
  expect(found({ URL: 'https://A.example' })).toEqual([])
  const short = { 'container-title': 'Landsc. Night Plan.' }
  expect(mended(short, { records: [record(2)] })['container-title']).toBe(ITEM['container-title'])
  expect(isLongFormOf('Annals of Other Things', 'Landsc. Night Plan.')).toBe(false)
})

test('an entry twice, a review for its book, a correction in the pool, a retraction', () => {
  const twice = checkEntries(
    [
      entry({}),
      entry({ DOI: undefined }, { entry: 2, work: 2 }),
      entry({ title: 'Another matter of lamps' }, { entry: 3, work: 3 }),
    ],
    apa,
  )
  expect(twice.map(t => t.findings.map(f => f.what))).toEqual([
    ['It stands in the list twice'],
    ['It stands in the list twice'],
    ['It stands in the list twice'],
  ])
  const review = { title: 'Review of Living with lamps, by I. Hartigume', type: 'review-book' }
  expect(one(review, { kind: 'review of a book' }).why).toContain('“Living with lamps”')
  const by = { work: 5, title: 'Correction to: Moth visits' }
  const corrected = { says: 'corrected' as const, source: 'Broadleaf', by, notice: null }
  expect(one({}, { since: [corrected] }).what).toBe('A correction of it is in your pool')
  expect(one({}, { since: [{ ...corrected, by: { ...by, work: null } }] }).what).toBe('There is a correction of it')
  const retracted = { says: 'retracted' as const, source: 'Broadleaf', notice: null }
  const notice = '10.5555/note'
  expect(one({}, { since: [{ ...corrected, by: null, notice }] })).toMatchObject({
    what: 'There is a correction of it',
    why: expect.stringContaining('Broadleaf names it: DOI 10.5555/note.'),
  })
  expect(one({}, { since: [{ ...retracted, by: null, notice }] })).toMatchObject({
    what: 'It was retracted',
    why: 'Broadleaf says so, by the notice with the DOI 10.5555/note.',
  })
  expect(one({}, { since: [{ ...retracted, by: null }] })).toMatchObject({
    what: 'It was retracted',
    why: 'Broadleaf calls it so in its title.',
  })
  expect(one({}, { since: [{ ...retracted, says: 'in doubt', by }] })).toMatchObject({
    what: 'Its editors have voiced concern about it',
    why: '“Correction to: Moth visits” says so, in Broadleaf.',
  })
  expect(one({}, { leansOn: [{ ...retracted, title: 'Lamps cure everything' }] })).toMatchObject({
    what: 'It cites a work that was retracted',
    why: expect.stringContaining('“Lamps cure everything”, by Broadleaf.'),
  })
  const { copy } = copied({ title: `RETRACTED: ${ITEM.title}` })
  expect(found({}, { copy }).find(f => f.what === 'It was retracted')).toMatchObject({ seen: { page: 1 } })
})

describe('what a DOI is registered for', () => {
  const registered = (item: Fields | null, more: Fields = {}): Partial<Checked> => ({
    registration: {
      ...{ source: 'The registry', doi: ITEM.DOI!, facts: {} },
      item: item && ({ ...ITEM, ...item } as Item),
      ...more,
    },
  })
  test('is one more record, from which an entry is mended by what stands in it', () => {
    expect(found({}, registered({}))).toEqual([])
    const volume = one({ volume: undefined }, registered({}))
    expect([volume.field, volume.why]).toEqual(['volume', expect.stringContaining('The registry')])
    expect(mended({ volume: undefined }, registered({})).volume).toBe('6')
    // no record of this number is there to be named
    const all = found({ volume: '7', author: [...ITEM.author!, { literal: 'et al.' }] }, registered({}))
    expect(all.length).toBeGreaterThan(0)
    for (const f of all) expect(f.mend?.value).not.toHaveProperty('record')
  })
  test.each<[string, Fields, string | undefined]>([
    ['another title and other authors', { title: 'Bats over a quay', author: [{ family: 'Bee' }] }, 'another'],
    ['another title, ten years before', { title: 'Bats over a quay', issued: { 'date-parts': [[2010]] } }, 'another'],
    ['a title in another language', { title: 'Nachtfalter an den Blüten der Gärten' }, undefined],
    ['no title', { title: undefined, author: [{ family: 'Bee' }] }, undefined],
    ['a title cut short', { title: 'Moth visits to allotment flowers' }, undefined],
  ])('%s', (_, theirs, is) => {
    const told = found({}, registered(theirs)).find(f => f.what === 'Its DOI is registered for another work')
    expect(Boolean(told)).toBe(is === 'another')
    if (told)
      expect(told).toMatchObject({ field: 'DOI', mend: null, why: expect.stringContaining('“Bats over a quay”') })
  })
  test('is nothing, where nobody registered it', () => {
    expect(one({}, registered(null))).toMatchObject({
      what: 'Its DOI is not registered',
      why: expect.stringContaining('The registry does not know it.'),
      ours: ITEM.DOI,
    })
  })
})

test('nothing that comes from outside makes it fail, and keys are names', () => {
  const anything = fc.record({
    title: fc.string(),
    page: fc.string(),
    volume: fc.oneof(fc.string(), fc.integer()),
    DOI: fc.string(),
    URL: fc.oneof(fc.webUrl(), fc.string()),
    author: fc.array(fc.record({ family: fc.string(), given: fc.string(), literal: fc.string() })),
  })
  fc.assert(
    fc.property(anything, anything, fc.string(), (a, b, words) => {
      const registration = { source: words, doi: a.DOI, item: { ...ITEM, ...b } as Item, facts: {} }
      const all = found(a, { ...copied({ title: b.title }), words, records: [record(1, b)], registration })
      for (const f of all) expect(f.key.length).toBeLessThanOrEqual(100)
      expect(new Set(all.map(f => f.key)).size).toBe(all.length)
    }),
  )
})
