import { describe, expect, test } from '@jest/globals'
import type { Item } from '../bib/item'
import { proveCopy, type PageText } from './proof'

const TITLE = 'Lamps and the moths of six small towns'
const work = (more: Partial<Item> = {}): Item => ({ id: '', type: 'article-journal', title: TITLE, ...more })
const named = (...families: string[]): Partial<Item> => ({ author: families.map(family => ({ family })) })
const FILL = 'text of the article goes on here and on, with words enough to be a text'
const BODY = Array.from({ length: 30 }, () => FILL)
const paper = (lines: string[], n = 1, heading?: string): PageText[] =>
  Array.from({ length: n }, (_, i) => ({
    page: i + 1,
    lines: i ? BODY : [...lines, ...BODY],
    ...(heading && !i ? { heading } : {}),
  }))
const said = (p: ReturnType<typeof proveCopy>, words: string) => p.evidence.find(e => e.said.includes(words))

describe('what speaks for a copy', () => {
  test('its title, over lines and a hyphen at their end, among other words', () => {
    for (const lines of [
      [TITLE],
      ['Lamps and the moths', 'of six small towns'],
      ['Lamps and the mo-', 'ths of six small towns'],
      ['Night Papers 4', 'Lamps and the moths of six', 'small towns'],
    ])
      expect(proveCopy(work(), paper(lines)).outcome).toBe('proved')
    const p = proveCopy(work(), paper([TITLE]))
    expect(p.evidence).toEqual([{ holds: true, said: 'The title stands on the first pages.' }])
    expect(p).not.toHaveProperty('really')
    expect(p).not.toHaveProperty('version')
  })
  test('not its words strewn over the page, nor out of their order', () => {
    const strewn = TITLE.split(' ').flatMap(w => [w, FILL])
    const p = proveCopy(work(), paper(strewn))
    expect(p.outcome).toBe('not this work')
    expect(said(p, 'does not stand')!.holds).toBe(false)
    expect(proveCopy(work(), paper([TITLE.split(' ').reverse().join(' ')])).outcome).toBe('not this work')
  })
  test('with one word that is another it may be another work, with two it is', () => {
    const p = proveCopy(work(), paper(['Lamps and the moths of six big towns']))
    expect(p.outcome).toBe('doubtful')
    expect(said(p, 'One word of the title is another one there.')!.holds).toBe(false)
    expect(proveCopy(work(), paper(['Lamps and the moths of six big harbours'])).outcome).toBe('not this work')
  })
  test('a title of no words proves nothing', () => {
    expect(proveCopy(work({ title: '' }), paper([TITLE])).outcome).toBe('not this work')
    expect(proveCopy({ id: '', type: 'book' }, paper([TITLE])).outcome).toBe('not this work')
  })
  test('the first two pages are looked at, no other', () => {
    const late = (n: number) => paper([], 4).map((p, i) => (i === n ? { ...p, lines: [TITLE, ...BODY] } : p))
    expect(proveCopy(work(), late(1)).outcome).toBe('proved')
    expect(proveCopy(work(), late(2)).outcome).toBe('not this work')
  })
  test('half of its authors', () => {
    const by = named('Okafor', 'Ångvist', 'Bee')
    const p = (names: string) => proveCopy(work(by), paper([TITLE, names]))
    expect(p('A. Okafor and B. Angvist').outcome).toBe('proved')
    expect(said(p('A. Okafor and B. Angvist'), '2 of 3 authors')!.holds).toBe(true)
    expect(p('A. Okafor').outcome).toBe('doubtful')
    expect(said(p('A. Okafor'), '1 of 3 authors')!.holds).toBe(false)
    expect(said(proveCopy(work(named('Okafor', 'Bee')), paper([TITLE, 'C. Bee'])), '1 of 2 authors')!.holds).toBe(true)
    expect(said(proveCopy(work({ author: [{ given: '' }] }), paper([TITLE])), 'authors')).toBeUndefined()
  })
  test('its DOI, of the work or of one of its records, on the first page', () => {
    const own = work({ DOI: '10.5555/np.4', ...named('Okafor') })
    const p = proveCopy(own, paper([TITLE, 'https://doi.org/10.5555/NP.4']))
    expect(p.outcome).toBe('proved')
    expect(said(p, 'It carries the DOI 10.5555/np.4.')!.holds).toBe(true)
    expect(
      proveCopy(work(named('Okafor')), paper([TITLE, '10.5555/pre.4']), [], [work({ DOI: '10.5555/pre.4' })]).outcome,
    ).toBe('proved')
    const other = proveCopy(work({ DOI: '10.5555/np.4' }), paper([TITLE, '10.5555/np.5']))
    expect(other).toMatchObject({ outcome: 'doubtful', really: 'the text of 10.5555/np.5' })
    expect(said(other, 'another DOI: 10.5555/np.5')!.holds).toBe(false)
    // a work without a DOI is not spoken against by the DOI on a page
    expect(proveCopy(work(), paper([TITLE, '10.5555/np.5'])).outcome).toBe('proved')
    expect(said(proveCopy(work(), paper([TITLE, '10.5555/np.5'])), 'DOI')).toBeUndefined()
    expect(said(proveCopy(own, paper([TITLE])), 'DOI')).toBeUndefined()
    // its DOI alone, under another title, is doubtful
    const alone = proveCopy(own, paper(['Hulls and sails of the far northern seas', '10.5555/np.4']))
    expect(alone.outcome).toBe('doubtful')
    expect(alone).not.toHaveProperty('really')
  })
  test('the year and the number of pages are said, and decide nothing', () => {
    const dated = work({ issued: { 'date-parts': [[2020]] } })
    expect(said(proveCopy(dated, paper([TITLE, 'June 2020'])), 'is printed there')!.holds).toBe(true)
    expect(said(proveCopy(dated, paper([TITLE])), 'The year 2020 is not printed')!.holds).toBe(false)
    expect(proveCopy(dated, paper([TITLE])).outcome).toBe('proved')
    const pages = (page: string, n: number, more: string[] = []) =>
      proveCopy(work({ page }), paper([TITLE, ...more], n))
    expect(said(pages('1-9', 9), 'It has 9 pages, as the record says.')!.holds).toBe(true)
    expect(said(pages('1-9', 11), 'as the record says')!.holds).toBe(true)
    expect(said(pages('1-9', 12), 'It has 12 pages; the record says 9.')!.holds).toBe(false)
    expect(said(pages('1-20', 25), 'as the record says')!.holds).toBe(true)
    expect(said(pages('1-20', 26), 'the record says 20')!.holds).toBe(false)
    expect(said(pages('10-12', 1), 'as the record says')!.holds).toBe(true)
    expect(said(pages('7', 9), 'It has')).toBeUndefined()
    expect(said(pages('7-7', 9), 'It has')).toBeUndefined()
    expect(said(pages('1-9', 30, ['Accepted manuscript']), 'the record says')).toBeUndefined()
  })
})

test.each([
  ['Accepted Author Manuscript', 'accepted manuscript'],
  ['accepted manuscript', 'accepted manuscript'],
  ["This is the author's accepted version", 'accepted manuscript'],
  ['the authors accepted version', 'accepted manuscript'],
  ['A preprint', 'preprint'],
  ['It has not yet been peer-reviewed.', 'preprint'],
  ['not been peer reviewed', 'preprint'],
  ['not peer-reviewed', 'preprint'],
  ['peer-reviewed', undefined],
])('%s: its version', (mark, version) => expect(proveCopy(work(), paper([TITLE, mark])).version).toBe(version))

describe('what it is instead', () => {
  const bats: Item = work({ title: 'Bats over the old harbour at dusk', DOI: '10.5555/bats' })
  const others = [{ id: 3, item: bats }]
  test('another work of the pool, by its title or by its DOI', () => {
    for (const lines of [[bats.title!], ['Night Papers of the far northern seas', 'doi:10.5555/bats']]) {
      const p = proveCopy(work(), paper(lines), others)
      expect(p).toMatchObject({ outcome: 'not this work', really: `"${bats.title}"` })
      expect(said(p, 'another work of your pool')!.holds).toBe(false)
    }
    // one of nearly the same title has to fit better by far
    const like = { id: 4, item: work({ title: `${TITLE} again` }) }
    expect(
      proveCopy(work({ title: `${TITLE} today in the north` }), paper([`${TITLE} again`]), [like]).really,
    ).toContain('again')
    expect(proveCopy(work(), paper([`${TITLE} again`]), [like])).toMatchObject({ outcome: 'not this work', other: 4 })
    expect(proveCopy(like.item, paper([`${TITLE} again`]), [{ id: 1, item: work() }]).outcome).toBe('proved')
    expect(
      proveCopy(work({ DOI: '10.5555/bats' }), paper(['Night Papers of the seas', '10.5555/bats']), others).outcome,
    ).toBe('doubtful')
    expect(proveCopy(work(), paper(['Hulls and sails of the far northern seas']), others).really).not.toContain('Bats')
    expect(
      proveCopy(work(), paper([bats.title!.slice(0, 20)]), [{ id: 5, item: { id: '', type: 'book' } }]).really,
    ).not.toContain('undefined')
  })
  test('else what stands largest on its first page, else its first long line', () => {
    const p = (lines: string[], heading?: string) => proveCopy(work(), paper(lines, 1, heading)).really
    expect(p(['Night Papers', 'Hulls and sails of the seas'], 'Hulls and sails')).toBe('"Hulls and sails"')
    expect(p(['Night Papers', '  Hulls and sails  of seas '])).toBe('"Hulls and sails  of seas"')
    expect(p(['Hulls and sails', `${'long '.repeat(60)}`])).toBe(`"${'long '.repeat(60).slice(0, 160)}"`)
    expect(proveCopy(work(), [{ page: 1, lines: Array.from({ length: 20 }, () => 'abc def ghi') }]).really).toBe(
      'another text',
    )
  })
  test('pages without text are a scan, which proves nothing', () => {
    const p = proveCopy(work(), [{ page: 1, lines: ['12 3', TITLE.slice(0, 8)] }])
    expect(p).toMatchObject({ outcome: 'doubtful', really: 'a scan without text' })
    expect(p.evidence).toEqual([{ holds: false, said: expect.stringContaining('pictures of a text') }])
    expect(proveCopy(work(), []).really).toBe('a scan without text')
    const letters = (n: number) => proveCopy(work(), [{ page: 1, lines: ['a'.repeat(n)] }]).really
    expect([letters(39), letters(40)]).toEqual(['a scan without text', 'another text'])
  })
})

describe('a text that speaks of a work in larger or smaller letters', () => {
  const harbour = work({
    title: 'Lamps over the harbour and what they draw',
    DOI: '10.5555/np.2014.7',
    author: [{ family: 'Lune' }],
  })
  const body = Array.from(
    { length: 40 },
    (_, i) => `Line ${i} of a text about lamps, harbours and moths, as texts are.`,
  )
  const page = (more: object) => [{ page: 1, lines: ['Mara Lune', ...body], ...more }]
  test('a title that is set apart from the text is one, over several lines and with a broken word', () => {
    const lines = ['Lamps over the har-', 'bour and what they draw', 'Mara Lune', ...body]
    expect(proveCopy(harbour, page({ lines, apart: ['Lamps over the har- bour and what they draw'] })).outcome).toBe(
      'proved',
    )
  })
  test('one that stands in the text alone is only spoken of, whatever else agrees', () => {
    const lines = [
      'Words on the sea',
      'Mara Lune',
      'In Lamps over the harbour and what they draw (10.5555/np.2014.7)',
      ...body,
    ]
    const told = proveCopy(harbour, page({ lines, apart: ['Words on the sea'] }))
    expect(told.outcome).toBe('doubtful')
    expect(told.evidence.map(e => e.said).join(' ')).toContain('only speak of the work')
  })
  test('a file that sets nothing apart is judged by its words', () => {
    const lines = ['Lamps over the harbour and what they draw', 'Mara Lune', 'doi:10.5555/np.2014.7', ...body]
    expect(proveCopy(harbour, page({ lines, apart: [] })).outcome).toBe('proved')
  })
  test('a DOI at the foot of the first page counts, what the notes cite by title does not', () => {
    const notes = ['https://doi.org/10.5555/np.2014.7', 'Lamps over the harbour and what they draw']
    const lines = ['Lamps over the harbour and what they draw', ...body]
    expect(proveCopy(harbour, page({ lines, notes, apart: [lines[0]] })).outcome).toBe('proved')
    expect(proveCopy(harbour, page({ notes, apart: ['Words on the sea'] })).outcome).toBe('doubtful')
  })
  test('a survey article stands under the word Review, and is no review of itself', () => {
    const lines = ['REVIEW', 'Lamps over the harbour and what they draw', 'Mara Lune', 'doi:10.5555/np.2014.7', ...body]
    expect(proveCopy(harbour, page({ lines })).outcome).toBe('proved')
  })
})

describe('one sum of signs', () => {
  const by = { author: [{ family: 'Okafor', given: 'Ada' }], issued: { 'date-parts': [[2020]] } }
  const outcome = (lines: string[], more: Partial<Item> = {}, n = 1) =>
    proveCopy(work({ ...by, ...more }), paper(lines, n)).outcome
  test('each adds to it, and the sum is told', () => {
    const score = (lines: string[], more: Partial<Item> = {}) =>
      proveCopy(work({ ...by, ...more }), paper(lines)).score!
    const bare = score([TITLE])
    expect(score([TITLE, 'Ada Okafor'])).toBeGreaterThan(bare)
    expect(score([TITLE, 'Ada Okafor', '2020'])).toBeGreaterThan(score([TITLE, 'Ada Okafor']))
    const journal = { 'container-title': 'Night Papers' }
    expect(score(['Night Papers', TITLE, 'Ada Okafor'], journal)).toBeGreaterThan(score([TITLE, 'Ada Okafor'], journal))
    // an author far from the title speaks less
    const far = [TITLE, ...Array.from({ length: 20 }, () => FILL), 'Ada Okafor']
    expect(score(far)).toBeLessThan(score([TITLE, 'Ada Okafor']))
  })
  test('a short title needs more than itself', () => {
    const lamps = { id: '', type: 'article-journal', title: 'Lamps' }
    expect(proveCopy(lamps, paper(['Lamps'])).outcome).toBe('doubtful')
    expect(proveCopy({ ...lamps, ...by }, paper(['Lamps', 'Ada Okafor'])).outcome).toBe('proved')
  })
  test.each([
    ['a second part', [`${TITLE}. Part II: the years after`, 'Ada Okafor', '2020']],
    ['a second part without a word', [`${TITLE} 2`, 'Ada Okafor', '2020']],
    ['a title that goes on in its line', [`${TITLE} revisited`, 'Ada Okafor', '2020']],
    ['words before it in its line', [`A guide through ${TITLE}`, 'Ada Okafor', '2020']],
    ['what is for a degree', ['A thesis submitted for the degree of doctor', TITLE, 'Ada Okafor', '2020']],
  ])('%s is not taken for it, whatever else agrees', (_, lines) => {
    const doi = { DOI: '10.5555/np.4' }
    expect(outcome([...lines, 'doi:10.5555/np.4'], doi)).toBe('doubtful')
  })
  test.each([
    ['its subtitle', [`${TITLE}: first counts`, 'Ada Okafor']],
    ['a number before it', [`3. ${TITLE}`, 'Ada Okafor']],
    ['a label before it', [`Original Article ${TITLE}`, 'Ada Okafor']],
    ['signs of notes behind it', [`${TITLE}*`, 'Ada Okafor†']],
    ['a cell beside it', [`Night Papers\t${TITLE}\t41`, 'Ada Okafor']],
    ['letters apart', [TITLE.toUpperCase().split('').join(' '), 'Ada Okafor']],
    ['slips of a scanner', ['Larnps and the moths of six srnall towns', 'Ada Okafor']],
  ])('the work with %s is proved', (_, lines) => expect(outcome(lines)).toBe('proved'))
  test('a number that is another one is another work', () => {
    const counted = { ...work(by), title: 'Lamps and the moths of six small towns: year 3' }
    expect(proveCopy(counted, paper([`${TITLE}: year 3`, 'Ada Okafor'])).outcome).toBe('proved')
    expect(proveCopy(counted, paper([`${TITLE}: year 4`, 'Ada Okafor'])).outcome).toBe('doubtful')
  })
  test('what offers the text for a price, slides, and an abstract alone are no text', () => {
    const of = (lines: string[], n = 1) =>
      proveCopy(
        work(by),
        Array.from({ length: n }, (_, i) => ({ page: i + 1, lines: i ? ['Ten years', 'Six towns'] : lines })),
      )
    const offer = of([TITLE, 'Ada Okafor', '2020', 'Log in', 'Purchase this article', ...BODY])
    expect(offer.outcome).toBe('doubtful')
    expect(said(offer, 'a page about it')!.holds).toBe(false)
    const talk = of([TITLE, 'Ada Okafor', '2020'], 12)
    expect(talk.outcome).toBe('doubtful')
    expect(said(talk, 'a talk on it')!.holds).toBe(false)
    const abstract = of([TITLE, 'Ada Okafor', '2020', 'Abstract', FILL, FILL])
    expect(abstract.outcome).toBe('doubtful')
    expect(said(abstract, 'hardly more than an abstract')!.holds).toBe(false)
    const meeting = of(['Abstracts of the 9th Meeting on Lamps', TITLE, 'Ada Okafor', '2020', FILL])
    expect(meeting.outcome).toBe('doubtful')
    // a short piece that has its parts is whole, and so is one that is short altogether
    expect(of([TITLE, 'Ada Okafor', '2020', 'Abstract', FILL, '1 Introduction', FILL]).outcome).toBe('proved')
    expect(of([TITLE, 'Ada Okafor', '2020', FILL]).outcome).toBe('proved')
  })
  test('an article that was made of a thesis, or is on what is rented, is the work', () => {
    const made = 'This article is based on the author’s doctoral dissertation.'
    expect(outcome([TITLE, 'Ada Okafor', '2020', made])).toBe('proved')
    const rents = 'Those who rent their rooms, and those who purchase them, sign in at the door.'
    expect(outcome([TITLE, 'Ada Okafor', '2020', rents])).toBe('proved')
  })
  test('where another title stands largest on the page, it is only named there', () => {
    const named = ['Owls of the roofs of a mining town', 'Bo Lind', ...BODY.slice(0, 9), TITLE, 'Ada Okafor', '2020']
    const p = proveCopy(work(by), paper(named, 1, 'Owls of the roofs of a mining town'))
    expect(p.outcome).toBe('doubtful')
    expect(said(p, 'In larger letters stands “Owls')!.holds).toBe(false)
    for (const masthead of ['The Northern Journal of Lamps and Moths', 'Moorgrave University', 'Night Papers'])
      expect(proveCopy(work(by), paper([masthead, TITLE, 'Ada Okafor', '2020'], 1, masthead)).outcome).toBe('proved')
    // the name of its journal, however it is called
    const lamps = { 'container-title': 'Lamps of the north and of the south' }
    expect(
      proveCopy(work({ ...by, ...lamps }), paper([TITLE, 'Ada Okafor'], 1, lamps['container-title'])).outcome,
    ).toBe('proved')
  })
  test('a name is a word of its own', () => {
    const li = work({ author: [{ family: 'Li' }, { family: 'Ma' }] })
    expect(said(proveCopy(li, paper([TITLE, 'A list of many'])), 'authors')!.said).toContain('0 of 2')
    expect(said(proveCopy(li, paper([TITLE, 'Wei Li1,2 and Jun Ma*'])), 'authors')!.said).toContain('2 of 2')
    const han = work({ author: [{ family: '王' }] })
    expect(said(proveCopy(han, paper([TITLE, '王小明'])), 'authors')!.said).toContain('1 of 1')
  })
  test('a work of the pool that is cited with its DOI on the first page is not what the text is', () => {
    const cited = { id: 7, item: work({ title: 'Bats over the old harbour at dusk', DOI: '10.5555/bats' }) }
    const notes = ['See https://doi.org/10.5555/bats']
    expect(proveCopy(work(by), [{ ...paper([TITLE, 'Ada Okafor'])[0]!, notes }], [cited]).outcome).toBe('proved')
  })
  test('volume and pages that are printed speak for it, others against it', () => {
    const at = { 'container-title': 'Night Papers', volume: '4', page: '10-19' }
    const held = (source: PageText['source']) =>
      proveCopy(work({ ...by, ...at }), [{ ...paper([TITLE, 'Ada Okafor'], 1)[0]!, source: source! }])
    expect(said(held({ volume: '4', page: '10-19' }), 'where the record says')!.holds).toBe(true)
    expect(said(held({ volume: '5', page: '10-19' }), 'appeared elsewhere')!.holds).toBe(false)
  })
  test.each([
    ['Draft 3 May 2019. Please do not cite.', 'preprint'],
    ['Moorgrave Working Paper 14', 'preprint'],
    ['A draft horse in the north', undefined],
    [
      'We compare our counts with those of a working paper that Berg wrote in 2001 on the lamps of small towns.',
      undefined,
    ],
    [
      'In the law of 1998, of which the draft of 1996 was not for circulation, nothing was said of the lamps.',
      undefined,
    ],
  ])('%s: %s', (line, version) => expect(proveCopy(work(by), paper([TITLE, line])).version).toBe(version))
})
