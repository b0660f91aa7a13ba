import { spokenName } from '../bib/names'
import { yearOf } from '../bib/dates'
import { plainTitle } from '../bib/clean'
import type { Item } from '../bib/item'
import { sayIso } from './coverage'
import type { LoanKind } from './loan'

/** A letter to be read over and sent by a student's own mail. */
export interface Letter {
  subject: string
  text: string
}

/** Where a text appeared, in a line. */
const placeOf = (item: Item): string =>
  [
    item['container-title'],
    [item.volume, item.issue && `(${item.issue})`].filter(Boolean).join(' '),
    yearOf(item),
    item.page && `pages ${item.page}`,
  ]
    .filter(Boolean)
    .join(', ')

/** What a letter to an author says beside the text. */
export interface AskedOfAuthor {
  /** The name of the student. */
  from: string
  /** The name of the author; of the first, where it is not given. */
  to?: string | undefined
  /** Why the author is asked: no way leads to the text, or none in time. Not said where another way may bring it. */
  because?: 'no way' | 'no way in time' | undefined
}
const BECAUSE = {
  'no way': ' Our library has no way to it.',
  'no way in time': ' Our library cannot get it for me in time.',
}

/** A letter by which a student asks an author for a text. */
export function letterToAuthor(item: Item, { from, to, because }: AskedOfAuthor): Letter {
  const title = plainTitle(item.title)
  const author = item.author?.[0]
  const place = placeOf(item)
  return {
    subject: `A copy of “${title}”`,
    text: [
      `Dear ${to ?? (author ? (author.literal ?? spokenName(author)) : 'author')},`,
      `I am working on an annotated bibliography and would like to read your text “${title}”${place ? ` (${place})` : ''}.${because ? BECAUSE[because] : ''}`,
      'Could you send me a copy for my own study, for instance your accepted manuscript? I would cite it as yours and pass it to nobody.',
      ...(item.DOI ? [`Its DOI is ${item.DOI}.`] : []),
      `With thanks,\n${from}`,
    ].join('\n\n'),
  }
}

/**
 * A second letter, where the first brought no answer.
 * @param wrote ISO date of the first
 */
export function letterAgain(item: Item, wrote: string, asked: AskedOfAuthor): Letter {
  const { subject, text } = letterToAuthor(item, asked)
  const [greeting, ...rest] = text.split('\n\n')
  return {
    subject: `Once more: ${subject[0]!.toLowerCase()}${subject.slice(1)}`,
    text: [
      greeting,
      `On ${sayIso(wrote)} I wrote to you about the text named below. In case my letter went astray, here it is once more; a line that you cannot send it would help me as well.`,
      ...rest,
    ].join('\n\n'),
  }
}

/** A way of a library that did not lead to a text. */
export interface FailedWay {
  library: string
  /** The platform. */
  from: string
  /** Where it began. */
  address: string
  /** ISO date. */
  day: string
  /** Where it ended, in a sentence, and its steps. */
  said: string
  steps: readonly { what: string; said: string; url: string }[]
  /** What the library says it holds, in a sentence. */
  evidence: string
}

/**
 * A letter by which a student tells a library that a way of its own did not lead to a text: what it says it holds, what
 * was tried, when, and what came.
 * @param from the name of the student
 */
export function reportOfWay(item: Item, way: FailedWay, from: string): Letter {
  const title = plainTitle(item.title)
  const place = placeOf(item)
  const steps = way.steps.map((s, i) => `${i + 1}. ${s.what}: ${s.said} <${s.url}>`)
  return {
    subject: `No access to “${title}”`,
    text: [
      `Dear librarians of ${way.library},`,
      `I could not read “${title}”${place ? ` (${place})` : ''} at ${way.from}. Your list says: ${way.evidence}`,
      `On ${sayIso(way.day)} I began at ${way.address}, and it ended so: ${way.said}`,
      ...(steps.length ? [`Step by step:\n${steps.join('\n')}`] : []),
      ...(item.DOI ? [`Its DOI is ${item.DOI}.`] : []),
      `Could you see whether the access or the list is wrong?`,
      `With thanks,\n${from}`,
    ].join('\n\n'),
  }
}

/**
 * A letter by which a student tells a library that a thing was not where it stands by its catalogue.
 * @param was what the catalogue said of it, and the ISO dates of that and of the search
 * @param from the name of the student
 */
export function reportOfShelf(
  item: Item,
  was: { library: string; branch: string; call: string; evidence: string; day: string },
  from: string,
): Letter {
  const title = plainTitle(item.title)
  const place = placeOf(item)
  return {
    subject: `Not on its shelf: ${was.call}`,
    text: [
      `Dear librarians of ${was.library},`,
      `On ${sayIso(was.day)} I looked for “${title}”${place ? ` (${place})` : ''} at ${was.branch}, under ${was.call}, and it was not there.`,
      `Your catalogue said: ${was.evidence}`,
      'Could you have it looked for, and tell me when it is found?',
      `With thanks,\n${from}`,
    ].join('\n\n'),
  }
}

/** What is asked of an office by a letter or on its form. */
export interface AskedByLetter {
  library: string
  kind: LoanKind
  /** ISO date. */
  neededBy: string | null
  anyEdition: boolean
  note: string
  /** What its partners said that have it. */
  suppliers: readonly { said: string }[]
  /** Name and mail address of the student. */
  from: { name: string; mail: string }
}

/** Names that are told to an office. */
const NAMES = 10
const namesOf = (names: Item['author'] = []): string =>
  [...names.slice(0, NAMES).map(spokenName), ...(names.length > NAMES ? ['and others'] : [])].join(', ')

/** A description, a line a part: what an office finds a text by, and who has it. */
export const describedForOffice = (item: Item, suppliers: AskedByLetter['suppliers'] = []): string =>
  [...partsOf(item), ...suppliers.map(s => s.said)].join('\n')

const partsOf = (item: Item): string[] =>
  (
    [
      ['Title', plainTitle(item.title)],
      ['By', namesOf(item.author)],
      [item.type === 'chapter' ? 'Book' : 'In', item['container-title']],
      ['Edited by', namesOf(item.editor)],
      ['Edition', item.edition],
      ['Volume', item.volume],
      ['Issue', item.issue],
      ['Pages', item.page],
      ['Publisher', [item.publisher, item['publisher-place']].filter(Boolean).join(', ')],
      ['Year', yearOf(item)],
      ['ISBN', item.ISBN],
      ['ISSN', item.ISSN],
      ['DOI', item.DOI],
    ] as const
  )
    .filter(([, value]) => value !== undefined && value !== '')
    .map(([name, value]) => `${name}: ${value}`)

/** A letter by which a student asks a loan office for a scan or a book. */
export function letterToOffice(item: Item, asked: AskedByLetter): Letter {
  const { library, kind, neededBy, anyEdition, note, suppliers, from } = asked
  return {
    subject: `${kind === 'scan' ? 'A scan' : 'A loan'}: “${plainTitle(item.title)}”`,
    text: [
      `Dear loan office of ${library},`,
      kind === 'scan' ? 'Could you get me a scan of this text?' : 'Could you borrow this book for me?',
      describedForOffice(item, suppliers),
      ...(neededBy ? [`I need it by ${sayIso(neededBy)}.`] : []),
      ...(kind === 'book' && anyEdition ? ['Another edition will do.'] : []),
      ...(kind === 'scan' ? ['It is for my own study, and I pass it to nobody.'] : []),
      ...(note ? [note] : []),
      `With thanks,\n${[from.name, from.mail].filter(Boolean).join('\n')}`,
    ].join('\n\n'),
  }
}

/** Files that are named in a letter; a mail address holds no more than some thousand letters. */
const NAMED = 10

/**
 * A letter by which a student tells a library that files of its holdings cannot be read.
 * @param said why, in a sentence
 * @param from the name of the student
 */
export function reportOfFiles(
  library: string,
  files: readonly { name: string; address: string }[],
  said: string,
  from: string,
): Letter {
  const names = files.slice(0, NAMED).map(f => `${f.name} <${f.address}>`)
  const more = files.length - names.length
  return {
    subject: files.length === 1 ? `The holdings file ${files[0]!.name}` : `${files.length} holdings files`,
    text: [
      `Dear librarians of ${library},`,
      `${files.length === 1 ? 'A file of your holdings' : `${files.length} files of your holdings`} cannot be read as KBART: ${said}`,
      [...names, ...(more > 0 ? [`and ${more} more`] : [])].join('\n'),
      'As long as that is so, whether you hold their titles is not known to me. Could you have a look?',
      `With thanks,\n${from}`,
    ].join('\n\n'),
  }
}

/** The letter for a mail program (RFC 6068). @param to its address; left to be filled in where it is not known */
export const mailOf = ({ subject, text }: Letter, to = ''): string =>
  `mailto:${encodeURIComponent(to).replace('%40', '@')}?subject=${encodeURIComponent(subject)}&body=${encodeURIComponent(text.replace(/\n/g, '\r\n'))}`
