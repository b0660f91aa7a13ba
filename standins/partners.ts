import { addDays } from '../core/bib/dates'
import { field, toMarcXml, type Entry } from './records'
import { lot, type ServedWorld } from './world'

/** What several libraries around the home library have, in one catalogue. */
export const UNION = {
  key: 'union',
  host: 'union.example',
  title: 'Hill and Shore Union Catalogue',
  description: 'Books, theses and journals in print of six libraries, each named by its sign.',
}
/** A partner with a catalogue of its own. */
export const ESTERMARK = { host: 'shelf.estermark.example', title: 'Estermark Reading Room' }

/** Libraries of the union by their signs, with how many in a hundred books and journals stand there. */
const MEMBERS = [
  { sign: 'XX-HAL', branch: '', books: 0, journals: 0 },
  { sign: 'XX-KOR', branch: 'Main building', books: 52, journals: 46 },
  { sign: 'XX-MAR', branch: 'Letters wing', books: 24, journals: 48 },
  { sign: 'XX-THO', branch: 'Tower', books: 30, journals: 12 },
  { sign: 'XX-LIN', branch: 'Quay', books: 40, journals: 20 },
] as const

/** Books, theses and reports of the world, and all of its journals. */
export function unionEntries(world: ServedWorld): Entry[] {
  const books = world.works
    .filter(w => ['book', 'thesis', 'report'].includes(w.form))
    .map((work): Entry => {
      const how = { from: work.date }
      return { id: `un-${work.id}`, from: how.from, how, work }
    })
  const how = { from: '1900-01-01' }
  const journals = world.facts.venues.map((journal): Entry => ({
    id: `un-${journal.code}`,
    from: how.from,
    how,
    work: world.works[0]!,
    journal,
  }))
  return [...books, ...journals]
}

const nameOf = (e: Entry): string => e.journal?.code ?? e.work.id
const draw = (e: Entry, what: string, below: number): number => Math.floor(lot(nameOf(e), what, below))
const callOf = (e: Entry, sign: string): string =>
  `${'ABCDEFGHK'[draw(e, `${sign} class`, 9)]} ${10 + draw(e, `${sign} no`, 880)}/${1 + draw(e, `${sign} part`, 40)}`
/** The run of a journal: from some year on, in one of three up to a year. */
function runOf({ journal }: Entry, n: number): string {
  const from = journal!.since + (n % 12)
  return n % 3 ? `${from}-` : `${from}-${Math.max(from + 6, 2012)}`
}
const statusOf = (e: Entry, sign: string, day: string): string => {
  const until = addDays('2026-10-08', draw(e, `${sign} until`, 30))
  return draw(e, `${sign} out`, 4) || until < day ? 'Available' : `On loan until ${until}`
}

/** A record with a place for each library that has it, the parts of which are linked by number (MARC 21, subfield 8). */
export function toUnionMarc(e: Entry, day: string): string {
  const has = MEMBERS.filter(m =>
    m.sign === 'XX-HAL'
      ? e.journal
        ? e.journal.print !== undefined
        : e.work.shelf !== undefined && !e.work.shelf.ebook
      : draw(e, m.sign, 100) < (e.journal ? m.journals : m.books),
  )
  const places = has.map(({ sign, branch }, i) => {
    const link = `${i + 1}`
    const home = e.journal ? e.journal.print : e.work.shelf
    const [where, call] = sign === 'XX-HAL' ? [home!.branch, home!.call] : [branch, callOf(e, sign)]
    return (
      field('852', [
        ...[['8', link] as [string, string], ['a', sign] as [string, string]],
        ...[['b', where] as [string, string], ['h', call] as [string, string]],
      ]) +
      (e.journal
        ? field('866', [
            ['8', `${link}.1`],
            ['a', runOf(e, draw(e, `${sign} run`, 60))],
          ])
        : field('876', [
            ['8', `${link}.1`],
            ['j', statusOf(e, sign, day)],
          ]))
    )
  })
  return toMarcXml(e, places.join(''))
}

/** A record of the reading room: nothing leaves it. */
export const toEstermarkMarc = (e: Entry): string =>
  toMarcXml(
    e,
    draw(e, 'estermark', 100) < 30
      ? field('852', [
          ['b', 'Old Sheet House'],
          ['h', `Sheet ${100 + draw(e, 'sheet', 900)}`],
          ['z', 'Reading room only'],
        ]) + (e.journal ? field('866', [['a', runOf(e, draw(e, 'estermark run', 60))]]) : '')
      : '',
  )
