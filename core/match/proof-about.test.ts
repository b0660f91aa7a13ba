import { describe, expect, test } from '@jest/globals'
import type { Item } from '../bib/item'
import { proveCopy, type PageText } from './proof'

const TITLE = 'Wells and the law of water in Ostmere'
const article = (more: Partial<Item> = {}): Item => ({
  id: '',
  type: 'article-journal',
  title: TITLE,
  author: [{ family: 'Quist', given: 'Rutger' }],
  issued: { 'date-parts': [[2014]] },
  page: '14-29',
  DOI: '10.5555/ss.52.14',
  ...more,
})
const book: Item = {
  id: '',
  type: 'book',
  title: TITLE,
  author: [{ family: 'Holt', given: 'Marit' }],
  issued: { 'date-parts': [[2011]] },
}
const FILL = Array.from({ length: 30 }, () => 'text goes on here with words enough to be a text of some length')
const file = (lines: string[], n = 16): PageText[] =>
  Array.from({ length: n }, (_, i) => ({ page: i + 1, lines: i ? FILL : [...lines, ...FILL] }))
const outcome = (work: Item, lines: string[], n?: number) => proveCopy(work, file(lines, n)).outcome

describe('the text of the work itself', () => {
  test.each<[string, string[], number]>([
    ['plain', [TITLE, 'Rutger Quist', '2014'], 16],
    ['under a running head', ['Soil and Sward 52 (2014) 14–29', TITLE, 'Rutger Quist'], 16],
    ['under the name of a journal of letters', ['Letters on Wells 4 (2014)', TITLE, 'R. Quist'], 16],
    ['that says it is not refereed yet', ['PREPRINT – not yet peer reviewed', TITLE, 'R. Quist'], 16],
    ['behind a cover sheet', ['Fen Archive', 'This is the version of record of', TITLE, 'Rutger Quist, 2014'], 17],
    ['under a label of its kind', ['ORIGINAL ARTICLE', TITLE, 'R. Quist'], 16],
    ['under a label of a section', ['REVIEW ARTICLE', TITLE, 'R. Quist'], 16],
    [
      'that begins where another ends',
      ['and so the wells were closed. Received 2013.', 'Discussion', TITLE, 'R. Quist'],
      16,
    ],
    ['with its DOI', ['https://doi.org/10.5555/ss.52.14', TITLE, 'R. Quist'], 15],
    ['over two lines', ['Wells and the law of water', 'in Ostmere', 'Rutger Quist'], 16],
    [
      'that names itself again in how to cite it',
      [TITLE, 'Rutger Quist', `To cite this article: Quist, R. (2014) ${TITLE}, Soil and Sward`],
      16,
    ],
  ])('%s', (_, lines, n) => expect(outcome(article(), lines, n)).toBe('proved'))
  test('whose own title says that it answers, reviews or corrects', () => {
    for (const title of ['Reply to Holt', `Correction: ${TITLE}`, `Review of ${TITLE}`])
      expect(outcome(article({ title, page: '90-91' }), [title, 'R. Quist'], 2)).toBe('proved')
  })
  test('a book, with its imprint', () =>
    expect(outcome(book, [TITLE, 'Marit Holt', 'Fen University Press', '© 2011'], 244)).toBe('proved'))
  test('a manuscript has pages of its own', () =>
    expect(outcome(article(), ['Accepted manuscript', TITLE, 'R. Quist'], 41)).toBe('proved'))
})

describe('a text that only speaks of the work', () => {
  test.each<[string, string[]]>([
    ['a correction', ['Correction to: ' + TITLE, 'Rutger Quist', '10.5555/ss.52.14']],
    ['a correction under its label', ['ERRATUM', TITLE, 'Rutger Quist']],
    ['a correction in another tongue', ['Berichtigung zu: ' + TITLE, 'Rutger Quist']],
    ['a retraction', ['Retraction notice to “' + TITLE + '”', 'R. Quist']],
    [
      'a correction that repeats the title by itself',
      ['Correction to: ' + TITLE, 'The original article is:', TITLE, 'Rutger Quist', '10.5555/ss.52.14'],
    ],
    ['a reply', ['A reply to Quist’s', 'Comment on “' + TITLE + '”', 'M. Holt and R. Quist']],
    ['a response', ['Response to', TITLE, 'M. Holt, R. Quist']],
    ['a supplement', ['Supplementary Material for', TITLE, 'Rutger Quist']],
    ['supporting information', ['Supporting Information: ' + TITLE, 'R. Quist']],
    ['a preface', ['Preface to', TITLE, 'by Rutger Quist']],
    [
      'a list of contents',
      [
        'Soil and Sward 52',
        'Peat and rain ......... 1',
        'Mowing by night ....... 9',
        TITLE + ' ........ 14',
        'Hedges of Korrin ...... 30',
        'On newts .............. 44',
        'Rivers and rents ...... 60',
        'R. Quist, 2014 ........ 70',
      ],
    ],
  ])('%s', (_, lines) => {
    const p = proveCopy(article(), file(lines, 16))
    expect(p.outcome).toBe('not this work')
    expect(p.really).toContain(TITLE)
    expect(p.evidence.at(-1)!.holds).toBe(false)
  })
  test.each<[string, string[]]>([
    ['by its label', ['BOOK REVIEWS', TITLE, 'by Marit Holt', 'Fen University Press, 2011']],
    ['by pages and price', [`${TITLE}. By MARIT HOLT.`, 'Lindmere: Fen University Press, 2011. Pp. x, 244. $55.00.']],
    ['by its words', [`Review of ${TITLE}`, 'by Marit Holt (2011)']],
    ['in another tongue', [`Rezension zu: ${TITLE}`, 'Marit Holt, 2011']],
  ])('a review of a book, %s', (_, lines) => {
    const p = proveCopy(book, file(lines, 3))
    expect(p).toMatchObject({ outcome: 'not this work', really: `a review of “${TITLE}”` })
  })
})

describe('what is not sure', () => {
  test.each<[string, Item, string[], number]>([
    ['its first page alone', article(), [TITLE, 'Rutger Quist', '10.5555/ss.52.14'], 1],
    ['a part of a book', book, [TITLE, 'Marit Holt', '2011'], 14],
    ['a book of the article’s title', article(), [TITLE, 'Rutger Quist'], 240],
    ['another edition of a book', book, [TITLE, 'Marit Holt', 'Second edition 2019', '© 2019'], 260],
  ])('%s', (_, work, lines, n) => expect(outcome(work, lines, n)).toBe('doubtful'))
})
