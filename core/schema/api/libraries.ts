import { array, boolean, object, string } from 'yup'
import { MANNERS, libraryShape } from '../library'
import { BYTES, endpoint } from './endpoint'
import { day, flag, list, maybe, moment, oneOf, orNull, shape, text, whole } from './parts'

/** The parts of a library that can be tried by asking it. */
export const TRIED = ['catalogues', 'shelf', 'gate', 'office', 'partners', 'hours', 'resolver'] as const
export type TriedPart = (typeof TRIED)[number]

const ofLibrary = {
  /** By which it is told from others. */
  key: text(),
  name: text(),
  place: text(),
  /** Its place among the libraries that one asks, from 1; null where it is not asked. */
  chosen: orNull(whole()),
  /** Whether it stands in the settings, where it is changed. */
  isSet: flag(),
  /** Whether it is one’s own, or there for all. */
  isOwn: flag(),
  /** Where its profile was brought in from. */
  cameFrom: orNull(text()),
  /** Whether one sits in one of its networks. */
  onCampus: flag(),
}
const summary = shape({
  ...ofLibrary,
  /** What of it is to be mended, each in a sentence. */
  troubles: list(text()),
})
const all = shape({
  libraries: list(summary),
  /** Whether there is a directory to choose from. */
  hasDirectory: flag(),
  /** Whether one sets up libraries for all, and allows what students set up. */
  administers: flag(),
  /** For administrators: libraries of students whose hosts wait to be allowed, each host in a sentence. */
  waiting: list(shape({ key: text(), name: text(), who: text(), waits: list(text()) })),
  /** Who is told what, whenever something is asked of the outside. */
  told: list(shape({ who: text(), what: text() })),
})
const holdings = shape({
  /** Whether its files are being fetched at the moment. */
  fetching: flag(),
  /** Why some could not be fetched, the last time that was asked for. */
  trouble: orNull(text()),
  files: list(
    shape({
      name: text(),
      address: text(),
      /** Whether it is kept here; its lines are read after that. */
      isKept: flag(),
      isRead: flag(),
      /** When it was fetched or brought. */
      at: orNull(moment()),
      /** What was read of it; null before that. */
      report: orNull(
        shape({
          titles: whole(),
          left: whole(),
          /** The first of what was read otherwise than it stands, or left out. */
          problems: list(shape({ line: whole(), said: text(), leftOut: maybe(flag()) })),
          problemsInAll: whole(),
          /** Why nothing of it could be read. */
          refused: maybe(text()),
          /** Why a newer one could not be read: what is here is of the one before. */
          newer: maybe(text()),
        }),
      ),
    }),
  ),
})
/** When a branch is open. */
const hoursTold = shape({
  library: text(),
  /** Its name; empty where it goes for the whole library. */
  branch: text(),
  /** Today, in a sentence. */
  said: text(),
  /** The coming week, day by day: hours in words, empty where it is closed; null where it is not known. */
  week: list(shape({ day: day(), hours: orNull(text()), why: text() })),
  /** Why its calendars could not be read, or what of them. */
  trouble: orNull(text()),
})
const library = shape({
  ...ofLibrary,
  version: whole(),
  profile: libraryShape,
  /** Hosts that may not be fetched before an administrator allows it, each in a sentence. */
  waits: list(text()),
  allowed: flag(),
  mayChange: flag(),
  /** Where its loan office posts its messages: told to those who set it up, since it is a key. */
  answersAt: orNull(text()),
  /** What came of trying its parts last. */
  tries: list(shape({ part: oneOf(TRIED), holds: flag(), said: text(), day: day(), at: moment() })),
  holdings,
  /** When it is open, by branch, as its calendars say. */
  hours: list(hoursTold),
})
const gate = shape({
  library: text(),
  name: text(),
  /** By a form here, or on its own pages. */
  manner: oneOf(MANNERS),
  /** Where one signs in by hand. */
  address: text(),
  terms: text(),
  /** Which card to take, in a made-up library. */
  hint: orNull(text()),
  /** When the session ends; null where there is none. */
  until: orNull(moment()),
  /** Files that were fetched through it today, and that a card may fetch in a day where the library says so. */
  today: whole(),
  daily: orNull(whole()),
  /** Whether one sits where addresses open without it. */
  onCampus: flag(),
})

export const cardShape = object({
  card: string().trim().max(100).required('Your card number is missing.'),
  password: string().max(200).required('Your password is missing.'),
})
const libraryKey = string().max(40).required()
/** A library is set up by a file, by the address of one, or as a copy of another. */
export const newLibrary = object({
  text: string().max(1_000_000),
  address: string().trim().max(500),
  copyOf: string().max(40),
  forAll: boolean().default(false),
}).test(
  'one',
  'A library comes by its file, by an address, or as a copy of another, and by one of these.',
  x => [x.text, x.address, x.copyOf].filter(v => v !== undefined).length === 1,
)

/** Bytes of a holdings file that is brought. */
const LARGEST_FILE = 150_000_000

export const librariesApi = {
  libraries: endpoint('GET', '/libraries', {
    does: 'The libraries that one may ask, first those one does ask, in their order.',
    answer: all,
  }),
  chooseLibraries: endpoint('PUT', '/libraries', {
    does: 'Chooses the libraries that are asked, in their order. Ways are looked for anew.',
    body: object({
      libraries: array(libraryKey)
        .min(1, 'At least one library. Open copies are looked for besides.')
        .max(20)
        .required()
        .test('once', 'A library is asked once.', l => new Set(l).size === l?.length),
    }),
    answer: all,
  }),
  findLibraries: endpoint('POST', '/libraries/found', {
    does: 'Looks for libraries in the directory, by name or town.',
    status: 200,
    body: object({ words: string().trim().max(200).default('') }),
    answer: shape({
      libraries: list(shape({ name: text(), place: text(), address: text() })),
      /** How many there are in all. */
      of: whole(),
      /** Entries that could not be read. */
      unread: whole(),
    }),
  }),
  addLibrary: endpoint('POST', '/libraries', {
    does: 'Sets up a library, which is asked last from then on.',
    body: newLibrary,
    answer: shape({
      key: text(),
      /** Parts of its file that are not known here. */
      left: list(text()),
    }),
  }),
  library: endpoint('GET', '/libraries/:library', {
    does: 'A library: its profile, its files and what was read of them, and what came of trying it.',
    answer: library,
  }),
  changeLibrary: endpoint('PUT', '/libraries/:library', {
    does: 'Changes the profile of a library.',
    body: libraryShape,
    ifMatch: true,
    answer: library,
  }),
  dropLibrary: endpoint('DELETE', '/libraries/:library', { does: 'Drops a library that was set up here.' }),
  libraryFile: endpoint('GET', '/libraries/:library/profile.json', {
    does: 'Its profile as a file, to keep or to give on. Its shape is published as docs/library.schema.json.',
    answer: ['application/json'],
  }),
  tryLibrary: endpoint('POST', '/libraries/:library/tries', {
    does: 'Tries a part of it, and tells in words what came back.',
    status: 200,
    body: object({ part: string().oneOf(TRIED).required() }),
    answer: library,
  }),
  hours: endpoint('GET', '/inquiries/:inquiry/hours', {
    does: 'When the libraries of an inquiry are open, by branch.',
    answer: list(hoursTold),
  }),
  fetchHoldings: endpoint('POST', '/libraries/:library/holdings/fetch', {
    does: 'Fetches its holdings files again, also those of today.',
    status: 202,
    answer: library,
  }),
  bringHoldings: endpoint('POST', '/libraries/:library/holdings', {
    does: 'Brings a holdings file (KBART) that cannot be fetched.',
    body: BYTES,
    most: LARGEST_FILE,
    answer: library,
  }),
  titleHeld: endpoint('GET', '/libraries/:library/title', {
    does: 'What it says of a journal or a book, by ISSN or ISBN and year, each in a sentence.',
    query: object({
      number: string().trim().max(40).required('An ISSN or an ISBN.'),
      year: string()
        .trim()
        .matches(/^\d{4}$/, { message: 'A year has four digits.', excludeEmptyString: true })
        .default(''),
    }),
    answer: shape({ said: list(text()) }),
  }),
  allowLibrary: endpoint('PUT', '/libraries/:library/allowed', {
    does: 'Allows, as an administrator, that its hosts are fetched; or takes that back.',
    body: object({ allowed: boolean().required() }),
    answer: all,
  }),
  gates: endpoint('GET', '/inquiries/:inquiry/gates', {
    does: 'How one stands at the gates of the libraries that are asked for an inquiry.',
    answer: list(gate),
  }),
  openGate: endpoint('POST', '/inquiries/:inquiry/gates/:library', {
    does: 'Signs in at a gate; card and password are passed on and not kept.',
    body: cardShape,
    answer: list(gate),
  }),
  lookAtGates: endpoint('POST', '/inquiries/:inquiry/gates/look', {
    does: 'Asks the gates whether the sessions that are kept here are ones there too.',
    status: 200,
    answer: list(gate),
  }),
  closeGate: endpoint('DELETE', '/inquiries/:inquiry/gates/:library', { does: 'Forgets the session at a gate.' }),
}
