import { standingAt } from '../../core/access/partners'
import type { Partner } from '../../core/schema/library'
import { isSought, sayEdition, soughtOnShelf, type ShelfAnswer } from '../../core/access/shelf'
import { fold } from '../../core/bib/fold'
import { familyName } from '../../core/bib/names'
import { normaliseIsbn, normaliseIssn } from '../../core/bib/identifiers'
import type { Item } from '../../core/bib/item'
import { readRecord, schemaFor } from '../../core/formats/records'
import { readShelfHoldings } from '../../core/formats/shelf'
import type { Clause, Query, QueryNode } from '../../core/query/cql'
import { OutsideError, type OutsideRequest } from '../connect/http'
import { askSru, explainOf, type Asking, type SruPage, type SruSetting } from '../connect/sru-client'
import { leaveOf, type Library } from './libraries'

/** Shelves that can be asked: of a library, or of a partner of it. */
export interface Shelves extends Pick<OutsideRequest, 'also'> {
  id: string
  name: string
  address: string
  /** How a catalogue of several libraries names what stands here. */
  named: readonly string[]
}
/** What shelves have of a work; whose they are is known to who asks. */
export type ShelvesSaid = Omit<ShelfAnswer, 'library'>

/** The shelves of a library, where it tells them. */
export const shelvesOf = (library: Library): Shelves | undefined =>
  library.shelf && {
    ...{ id: `${library.key}.shelf`, name: `The shelf catalogue of ${library.name}`, ...library.shelf },
    ...leaveOf(library),
  }

/** The shelves of a partner of a library. */
export const shelvesAt = (library: Library, { name, shelf }: Partner): Shelves => ({
  ...{ id: `${library.key}.shelf.${fold(name)}`, name: `The shelf catalogue of ${name}`, ...shelf },
  ...leaveOf(library),
})

/** Records that are looked at: editions of one book, journals of one title. */
const MOST = 20

const HOLDINGS = /20775|iso[-_ ]?hold|holdings/i
const OPAC = /opac/i

const settingOf = ({ id, name, address, also }: Shelves): SruSetting => ({
  ...{ id, name, sru: address, schema: 'marcxml', openCopies: false },
  ...(also ? { also } : {}),
})

/**
 * Asks shelves for a work: by its number, else by its title. The record says which work it is; what stands there is
 * read from the fullest that the server gives, its holdings (ISO 20775) before its records.
 * @param day ISO date of the desk
 * @returns undefined for works that stand on no shelf
 * @throws OutsideError where they do not answer
 */
export async function askShelves(
  c: Asking,
  shelves: Shelves,
  item: Item,
  day: string,
  signal?: AbortSignal,
): Promise<ShelvesSaid | undefined> {
  const said = await askCatalogue(c, shelves, item, day, signal)
  return said && ofThese(shelves, said)
}

/** What a catalogue of several libraries says of one of them: of what stands elsewhere it has only heard. */
export function ofThese({ named }: Shelves, said: ShelvesSaid): ShelvesSaid {
  if (!named.length) return said
  const holdings = standingAt(said.holdings, named)
  // that others have another edition says nothing of these shelves
  const { known: _, others: __, ...rest } = said
  return { ...rest, holdings, ...(holdings.length ? { known: true } : {}) }
}

/** The same of all that the catalogue knows, wherever it stands. @throws OutsideError */
export async function askCatalogue(
  c: Asking,
  shelves: Shelves,
  item: Item,
  day: string,
  signal?: AbortSignal,
): Promise<ShelvesSaid | undefined> {
  const wanted = soughtOnShelf(item)
  if (!wanted) return undefined
  const at = settingOf(shelves)
  const { abilities, told, holdingsForm } = await formsOf(c, at, signal)
  const answer: ShelvesSaid = { day, holdings: [] }
  const others = new Set<string>()
  let refused: OutsideError | undefined
  let answered = false
  for (const query of queriesFor(wanted.item, wanted.as, abilities.indexes)) {
    let page: SruPage
    try {
      page = await askSru(c, told, query, 1, MOST, signal)
      answered = true
    } catch (e) {
      // what it cannot be asked by number it may be asked by title
      if (!(e instanceof OutsideError) || e.again) throw e
      refused = e
      continue
    }
    const found = page.records.flatMap(({ raw, position }) => {
      const record = readIfCan(raw, told)
      const as = record && isSought(wanted, record)
      if (as === 'another edition') others.add(sayEdition(record!.item))
      return as === 'it' ? [{ raw, position }] : []
    })
    if (!found.length) continue
    const fuller = holdingsForm ? await holdingsAt(c, { ...at, as: holdingsForm }, query, signal) : undefined
    const holdings = found.flatMap(({ raw, position }) => {
      const own = fuller?.get(position)
      return own?.length ? own : holdingsIn(raw)
    })
    return { ...answer, holdings, known: true }
  }
  if (refused && !answered) throw refused
  return { ...answer, others: [...others] }
}

/** In which forms shelves are told: what is asked for works, and what for their holdings where that is another. */
async function formsOf(c: Asking, at: SruSetting, signal?: AbortSignal) {
  const { schemas, abilities, assumed, noSchema } = await explainOf(c, at, signal)
  const offered = schemas.filter(s => !noSchema.has(s.name))
  const named = (what: RegExp) => offered.find(s => what.test(`${s.name} ${s.identifier}`))?.name
  const [holdingsForm, opac] = [named(HOLDINGS), named(OPAC)]
  const told: SruSetting = { ...at, schema: schemaFor(schemas) ?? at.schema, ...(opac ? { as: opac } : {}) }
  return { abilities, assumed, told, holdingsForm }
}

/** A word that is in the titles of any library. */
const TRIAL = 'city'

/** Asks shelves in what form they tell what stands there, and whether their first records do. @throws OutsideError */
export async function tryShelves(
  c: Asking,
  shelves: Shelves,
): Promise<{ holds: boolean; said: string; short?: string }> {
  const { assumed, told, holdingsForm } = await formsOf(c, settingOf(shelves))
  const root: QueryNode = { kind: 'clause', index: 'title', relation: '=', modifiers: [], term: TRIAL }
  const asked = holdingsForm ? { ...told, as: holdingsForm } : told
  const { records } = await askSru(c, asked, { root }, 1, SAMPLE)
  const telling = records.filter(r => standingAt(holdingsIn(r.raw), shelves.named).length).length
  const form = holdingsForm ? 'holdings of their own' : told.as ? 'records with holdings' : 'its records'
  if (!records.length)
    return {
      holds: !assumed,
      said: assumed ?? `It answers, and tells its shelves by ${form}. It has nothing on “${TRIAL}”.`,
    }
  return {
    holds: telling > 0,
    short: `${telling} of the first ${records.length} on “${TRIAL}”.`,
    said: `It tells its shelves by ${form}: ${telling} of ${records.length} of the first on “${TRIAL}” ${
      shelves.named.length ? 'stand here' : 'say where they stand'
    }.`,
  }
}
const SAMPLE = 50

/** What its holdings say, by the places of their records; nothing where it does not give them after all. */
async function holdingsAt(c: Asking, at: SruSetting, query: Query, signal: AbortSignal | undefined) {
  let page: SruPage
  try {
    page = await askSru(c, at, query, 1, MOST, signal)
  } catch (e) {
    if (!(e instanceof OutsideError)) throw e
    return undefined
  }
  return new Map(page.records.map(r => [r.position, holdingsIn(r.raw)]))
}

function holdingsIn(raw: string) {
  try {
    return readShelfHoldings(raw)
  } catch {
    return []
  }
}

function readIfCan(raw: string, { schema }: SruSetting) {
  try {
    return readRecord(schema, raw)
  } catch {
    return undefined
  }
}

/** What is asked, one after the other until something is found. */
function queriesFor(item: Item, as: 'book' | 'journal', indexes: readonly string[] | undefined): Query[] {
  const clause = (index: string, relation: Clause['relation'], term: string): Clause => ({
    ...{ kind: 'clause', index, relation, modifiers: [], term: term.replace(/[*?"\\^]/g, ' ') },
  })
  const has = (index: string) => indexes === undefined || indexes.includes(index)
  const number = as === 'book' ? normaliseIsbn(item.ISBN) : normaliseIssn(item.ISSN)
  const index = as === 'book' ? 'isbn' : 'issn'
  const names = item.author ?? item.editor ?? []
  const title = item.title && clause('title', 'all', item.title)
  const author = as === 'book' && names[0] && has('author') ? clause('author', '=', familyName(names[0])) : undefined
  const roots: QueryNode[] = [
    ...(number && has(index) ? [clause(index, '=', number)] : []),
    ...(title
      ? [author ? { kind: 'boolean' as const, op: 'and' as const, modifiers: [], left: title, right: author } : title]
      : []),
  ]
  return roots.map(root => ({ root }))
}
