import type { Item } from '../../core/bib/item'
import { familyName } from '../../core/bib/names'
import type { Known } from './known'

/** A file that a search for a work may bring: the work in one of its shapes, or something near it. */
export interface FileKind {
  what: string
  /** The work stands in it, whole. */
  isWork: boolean
  /** The work that it is looked at for. */
  item: Item
  known: Known
}

/** What surrounds a work in its issue. */
interface Around {
  work: Item
  known: Known
  /** The article before it, and what it cites. */
  before: Known
  book: Item
}

const sections = (...of: [string, ...string[]][]): Known['sections'] =>
  of.map(([heading, ...paragraphs]) => ({ heading, paragraphs }))

/** One file of each kind; the words of those that speak of a work were written before anything was measured. */
export function kindsOfFiles({ work, known: k, before, book }: Around): FileKind[] {
  const { title, authors, sections: told } = k
  const family = familyName(work.author![0]!)
  const year = String(work.issued?.['date-parts']?.[0]?.[0] ?? 2015)
  const span = (pages: number): Item => ({ ...work, page: `${k.first}-${k.first + pages - 1}` })
  const text = told.flatMap(s => s.paragraphs)
  const short = (n: number): string[] => text.slice(0, n)
  const none: Pick<Known, 'notes' | 'refs' | 'refsHeading'> = { notes: [], refs: [], refsHeading: '' }
  const one = (what: string, isWork: boolean, more: Partial<Known>, item: Item = work): FileKind => ({
    ...{ what, isWork, item },
    known: { ...k, ...more },
  })
  const speaks = (what: string, more: Partial<Known>, item?: Item): FileKind =>
    one(what, false, { abstract: '', ...none, first: 211, ...more }, item)
  const bookTitle = book.title!
  const bookBy = (book.author ?? []).map(a => `${a.given ?? ''} ${familyName(a)}`.trim()).join(' and ')
  return [
    one('itself', true, {}),
    one('in capitals', true, { title: title.toUpperCase() }),
    one('a manuscript', true, { over: ['Accepted manuscript'], head: '', first: 1 }),
    one('a draft', true, { over: ['Draft. Please do not cite or circulate.'], head: '', first: 1 }),
    one('behind a cover sheet', true, {
      cover: [
        'Repository of Moorgrave University',
        `${authors} (${year}) ${title}. ${work['container-title'] ?? ''}`,
        'This version is made available under the terms of the repository. For the final version see the publisher.',
      ],
    }),
    one('behind the end of another', true, {
      over: [
        ...before.sections.at(-1)!.paragraphs.slice(0, 2),
        'References',
        ...before.refs.slice(0, 5).map(r => r.text),
      ],
    }),
    one('without page numbers', true, { head: '', first: 1 }, { ...work, page: undefined } as Item),
    one('without its subtitle in the record', true, { title: `${title}: evidence from two valleys` }),
    speaks('a correction', {
      title: `Correction to: ${title}`,
      sections: sections([
        '',
        `In the article by ${family} (${year}) the second table was printed with columns changed about.`,
      ]),
    }),
    speaks('a correction beneath its label', {
      over: ['ERRATUM'],
      sections: sections([
        '',
        'The authors regret that the unit of Table 2 was given wrongly. The right unit is a week.',
      ]),
    }),
    speaks('an expression of concern', {
      title: `Expression of concern: ${title}`,
      sections: sections([
        '',
        'The editors wish to tell readers that questions were raised on the data of this article.',
      ]),
    }),
    speaks('a reply', {
      title: `Comment on “${title}”`,
      authors: before.authors,
      sections: sections(['', `${family} (${year}) claims much. ${short(2).join(' ')}`, ...short(3)]),
      refs: k.refs.slice(0, 3),
      refsHeading: 'References',
    }),
    speaks('an answer to replies', {
      title: `${title}: a response to our critics`,
      sections: sections(['', `We thank those who wrote on ${title} (${family}, ${year}).`, ...short(4)]),
    }),
    speaks('a commentary of another title', {
      title: 'Second thoughts on an old quarrel',
      authors: before.authors,
      abstract: `${authors} in “${title}” ask whether the quarrel can be settled.`,
      sections: sections(['', ...short(4)]),
    }),
    speaks('its supplement', {
      over: ['Supplementary material'],
      sections: sections(['Table S1', 'Means by week and by town.'], ['Table S2', ...short(2)]),
    }),
    speaks('supporting information', {
      title: `Supporting information for ${title}`,
      sections: sections(['S1 Methods', ...short(6)], ['S2 Further results', ...short(4)]),
    }),
    speaks('the contents of its issue', {
      title: `${work['container-title'] ?? 'Night Papers'} ${year}`,
      authors: '',
      sections: sections(
        ['Contents', `${before.title} .......... ${k.first - 14}`, `${title} .......... ${k.first}`],
        ['', `Of hedges and their keepers .......... ${k.first + 20}`, `Notes on newts .......... ${k.first + 41}`],
        ['Reviews', `${bookTitle} .......... ${k.first + 60}`, `Index .......... ${k.first + 70}`],
      ),
    }),
    speaks('a page on it with its abstract', {
      abstract: `Abstract ${k.abstract}`,
      sections: sections(
        [
          'Access this article',
          'Log in through your institution, or buy the article as a PDF. Rent or purchase for 48 hours.',
        ],
        ['Metrics', 'Cited by 14. Article views 311. Share this article.'],
      ),
    }),
    speaks('an abstract of a meeting', {
      over: ['Abstracts of the 9th Meeting on Towns, Korrin'],
      abstract: k.abstract,
      sections: [],
    }),
    speaks('slides of a talk', {
      sections: sections(
        ['Why?', 'An old question'],
        ['How?', 'Six towns, ten years'],
        ['So?', 'It holds', 'Thank you'],
      ),
    }),
    speaks('what a newspaper says of it', {
      title: 'Night light and its price, told by two who counted',
      authors: 'By our reporter',
      abstract: `${authors} have spent ten years on it. Their paper, “${title}”, came out this week.`,
      sections: sections(['', ...short(3)]),
    }),
    speaks('notes of a student', {
      title: `Summary of ${title}`,
      authors: 'Course notes, week 4',
      sections: sections(['Main points', ...short(3)], ['Questions', 'What would you have counted?']),
    }),
    speaks('a reading guide', {
      title: `Reading guide: ${title}`,
      authors: 'Seminar on towns',
      sections: sections(['Before you read', ...short(2)], ['While you read', ...short(2)]),
    }),
    one('the second part', false, { title: `${title}. Part II: the second decade`, first: 311 }),
    one('the same looked at again', false, { title: `${title} revisited`, first: 311 }),
    one('the neighbour before', false, { ...before }),
    one('the neighbour with the opening of it', false, {
      ...before,
      sections: [...before.sections, { heading: title, paragraphs: [authors, ...short(2)] }],
    }),
    one('a thesis of its title', false, { ...k, over: ['Dissertation, Moorgrave University'], first: 1 }, span(4)),
    speaks(
      'a review of a book',
      {
        title: 'Who owns the night?',
        authors: before.authors,
        abstract: `${bookBy}: ${bookTitle}. Korrin: Moorgrave Press, ${year}. 288 pp. ISBN missing. £ 35.`,
        sections: sections(['', ...short(4)]),
      },
      book,
    ),
    speaks(
      'a review of a book beneath its title',
      {
        over: ['Reviews'],
        title: bookTitle,
        authors: `${bookBy}. Moorgrave Press, Korrin, ${year}. xii + 288 pages. Hardback £35.00`,
        sections: sections(['', ...short(4), before.authors]),
      },
      book,
    ),
    speaks(
      'an interview on a book',
      {
        title: `“Nobody asks the lamps”: ${bookBy} on ${bookTitle}`,
        authors: before.authors,
        sections: sections(['', ...short(4)]),
      },
      book,
    ),
    speaks(
      'a leaflet on a book',
      {
        title: bookTitle,
        authors: bookBy,
        abstract: 'New this spring from Moorgrave Press. 288 pages, 14 figures. Order form overleaf.',
        sections: sections(['What readers say', ...short(1)]),
      },
      book,
    ),
    one('an article of a book’s title', false, { title: bookTitle, authors: bookBy, first: 41 }, book),
    speaks('a translation', {
      title: 'Das Licht der kleinen Orte',
      abstract: `Aus dem Englischen übersetzt. Zuerst erschienen als ${authors}, “${title}”, ${year}.`,
      sections: sections(['', ...short(5)]),
    }),
  ]
}
