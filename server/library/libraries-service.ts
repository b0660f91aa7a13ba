import { randomUUID } from 'node:crypto'
import type { Transaction } from 'sequelize'
import type { Answer } from '../../core/schema/api'
import { TRIED, type TriedPart } from '../../core/schema/api/libraries'
import { addressesOf, BROUGHT, libraryShape, onCampus, type LibraryProfile } from '../../core/schema/library'
import { isAdministrator } from '../accounts/administration-service'
import type { Context } from '../base/context'
import { check, notFound, Problem } from '../base/problem'
import { outsideRule } from '../connect/http'
import { raiseRevision } from '../db/revision'
import { grouped } from '../db/rows'
import { inTransaction } from '../db/transaction'
import { enqueue } from '../jobs/queue'
import type { SentFile } from '../serve/serve'
import { forgetNames } from './catalogues'
import { listedAt, profileAt } from './directory'
import { dropSessionsAt } from './gate-model'
import { fetchHoldings, holdingsOf, keepHoldings } from './holdings'
import { asksFor, dropCounts, type LibraryRow } from './libraries-model'
import { chosenBy, fileName, forgetLibraries, leaveOf, librariesFor, notAllowed, type Library } from './libraries'
import { toldHours } from './hours'
import { messagesAt } from './offices'

/** What was asked lately is asked again: libraries, and the names of their catalogues. */
const forget = (c: Context): void => {
  forgetLibraries(c)
  forgetNames(c)
}

/** Libraries of one's own at most; parts of a file that are told of as not known. */
const MOST = 20
const MOST_TOLD = 20

/** Who asks, and the address of the machine they sit at. */
export interface Asking {
  userId: number
  from: string
}

/** One of the libraries that somebody may ask. @throws Problem 404 */
export async function libraryBy(c: Context, userId: number, key: string): Promise<Library> {
  const library = (await librariesFor(c, userId)).find(l => l.key === key)
  if (!library) throw notFound()
  return library
}

/** The libraries that somebody may ask, first those they do ask. */
export async function librariesInAll(c: Context, { userId, from }: Asking): Promise<Answer<'libraries'>> {
  const [all, chosen] = [await librariesFor(c, userId), await chosenBy(c, userId)]
  const place = new Map(chosen.map((l, i) => [l.key, i + 1]))
  const others = all.filter(l => !place.has(l.key))
  const administers = await isAdministrator(c, userId)
  return {
    libraries: await Promise.all(
      [...chosen, ...others].map(async l => ({
        ...ofLibrary(l, { userId, from }, place.get(l.key)),
        troubles: await troublesOf(c, l),
      })),
    ),
    hasDirectory: c.settings.outside.directory !== undefined,
    administers,
    waiting: administers ? await waitingOnes(c) : [],
    told: toldOutside(c, chosen),
  }
}

const ofLibrary = (l: Library, { userId, from }: Asking, place: number | undefined) => ({
  ...{ key: l.key, name: l.name, place: l.place, chosen: place ?? null },
  ...{ isSet: l.isSet, isOwn: l.userId === userId, cameFrom: l.cameFrom, onCampus: onCampus(l, from) },
})

/** A library with its profile, its files, and what came of trying it. */
export async function libraryInFull(c: Context, asking: Asking, key: string): Promise<Answer<'library'>> {
  const { userId } = asking
  const library = await libraryBy(c, userId, key)
  const place = (await chosenBy(c, userId)).findIndex(l => l.key === key) + 1
  const tries = await c.db.libraryTrials.findAll({ where: { library: key }, order: ['part'], raw: true })
  return {
    ...ofLibrary(library, asking, place || undefined),
    version: library.version,
    profile: profileOf(library),
    waits: waitsOf(c, library),
    allowed: library.allowed,
    ...(await keysOf(c, userId, library)),
    tries: tries
      .filter(t => TRIED.includes(t.part as TriedPart))
      .map(({ part, holds, said, deskDay, at }) => ({
        ...{ part: part as TriedPart, holds: Boolean(holds), said },
        ...{ day: deskDay, at: at.toISOString() },
      })),
    holdings: await holdingsOf(c, library),
    hours: await toldHours(c, [library]),
  }
}

/** A library as its file says it. */
export const profileOf = (library: Library): LibraryProfile => libraryShape.cast(library, { stripUnknown: true })

const mayChange = async (c: Context, userId: number, { isSet, userId: owner }: Library): Promise<boolean> =>
  !isSet && (owner === userId || (owner === null && (await isAdministrator(c, userId))))

/** What somebody may do to a library, and is told of it. */
async function keysOf(c: Context, userId: number, library: Library) {
  const may = await mayChange(c, userId, library)
  const told = library.office && (may || (await isAdministrator(c, userId)))
  return { mayChange: may, answersAt: told ? messagesAt(c, library.key) : null }
}

/** Hosts of a library that may not be fetched, each in a sentence. */
function waitsOf(c: Context, library: Library): string[] {
  const rule = outsideRule(c.settings.outside)
  const { also } = leaveOf(library)
  return [...new Set(addressesOf(library).flatMap(a => rule(new URL(a), also) ?? []))]
}

async function troublesOf(c: Context, library: Library): Promise<string[]> {
  const { trouble, files } = await holdingsOf(c, library)
  const tries = await c.db.libraryTrials.findAll({ where: { library: library.key, holds: false }, raw: true })
  const unread = grouped(
    files.filter(f => f.report?.refused ?? f.report?.newer),
    f => f.report!.refused ?? f.report!.newer!,
  )
  const waits = waitsOf(c, library)
  const hours = await toldHours(c, [library])
  return [
    ...waits,
    // of what waits no file can come
    ...(trouble && !waits.length ? [trouble] : []),
    ...[...unread].map(([why, list]) => `${list.length === 1 ? list[0]!.name : `${list.length} files`}: ${why}`),
    ...hours.flatMap(h => h.trouble ?? []),
    // calendars are fetched without being tried, too
    ...tries.filter(t => t.part !== 'hours').map(t => t.said),
  ]
}

/** Libraries of students whose hosts wait to be allowed. */
async function waitingOnes(c: Context): Promise<Answer<'libraries'>['waiting']> {
  const libraries = await notAllowed(c)
  const ids = libraries.map(l => l.userId!)
  const users = await c.db.users.findAll({ where: { id: ids }, attributes: ['id', 'name'], raw: true })
  const nameOf = new Map(users.map(u => [u.id, u.name]))
  return libraries
    .map(l => ({ key: l.key, name: l.name, who: nameOf.get(l.userId!) ?? '', waits: waitsOf(c, l) }))
    .filter(l => l.waits.length)
}

/** Who outside is told what. */
function toldOutside(c: Context, chosen: readonly Library[]): Answer<'libraries'>['told'] {
  const { connectors } = c.settings.outside
  const catalogues = [...c.settings.outside.catalogues, ...chosen.flatMap(l => l.catalogues)]
  const names = (list: readonly { name: string }[]) => list.map(x => x.name).join(', ')
  const by = (call: 'work' | 'search' | 'references' | 'citedBy' | 'counts') => connectors.filter(x => x.calls[call])
  const cited = connectors.filter(x => x.calls.references ?? x.calls.citedBy ?? x.calls.counts)
  const open = catalogues.filter(x => x.openCopies)
  return [
    { who: names(catalogues), what: 'your queries, when you count or sweep' },
    { who: names([...by('work'), ...by('search')]), what: 'DOIs and titles that you look up' },
    { who: names(cited), what: 'DOIs of the works whose trails you walk' },
    { who: names(open), what: 'DOIs of kept works, when ways to them are looked for' },
    { who: 'The gate of a library', what: 'your card when you sign in, and the addresses that you open through it' },
    ...(chosen.some(l => l.shelf)
      ? [
          {
            who: 'The shelf catalogue of a library',
            what: 'numbers and titles of kept works, when ways are looked for',
          },
        ]
      : []),
    ...(chosen.some(l => l.partners.length)
      ? [
          {
            who: 'The catalogues of partners',
            what: 'numbers and titles of kept works that cannot be had at home the same day',
          },
        ]
      : []),
    ...(chosen.some(l => l.office)
      ? [{ who: 'The loan office of a library', what: 'your name, your address and what you ask it for' }]
      : []),
  ].filter(t => t.who)
}

/**
 * Chooses the libraries that are asked, in their order. What their inquiries say of reach moves with it, and ways that
 * were looked for are looked for anew.
 * @throws Problem 422 where one of them is not there
 */
export async function chooseLibraries(c: Context, userId: number, keys: readonly string[]): Promise<void> {
  const there = new Set((await librariesFor(c, userId)).map(l => l.key))
  if (!keys.every(k => there.has(k)))
    throw new Problem(422, 'no-library', 'One of these libraries is not there any more. Load the page again.')
  await inTransaction(c.db.sequelize, async t => {
    await keepChoice(c, userId, keys, t)
    await lookAnew(c, userId, t)
  })
  forget(c)
}

async function keepChoice(c: Context, userId: number, keys: readonly string[], transaction: Transaction) {
  await c.db.chosenLibraries.destroy({ where: { userId }, transaction })
  await c.db.chosenLibraries.bulkCreate(
    keys.map((library, i) => ({ userId, library, place: i + 1 })),
    { transaction },
  )
}

/** Every line of reach of the inquiries of somebody is told anew, and ways that were found are looked for again. */
async function lookAnew(c: Context, userId: number, transaction: Transaction): Promise<void> {
  for (const inquiryId of await asksFor(c.db, userId, transaction)) await lookAnewFor(c, inquiryId, userId, transaction)
}

async function lookAnewFor(c: Context, inquiryId: number, userId: number, transaction: Transaction): Promise<void> {
  await raiseRevision(c, inquiryId, transaction)
  const found = await c.db.routes.findAll({ where: { inquiryId }, attributes: ['workId'], transaction, raw: true })
  if (found.length) await enqueue(c, 'routes', inquiryId, userId, { works: found.map(r => r.workId) }, transaction)
}

/** The libraries of another member are asked for an inquiry from now on. */
export async function libraryAskerChanged(
  c: Context,
  inquiryId: number,
  userId: number,
  transaction: Transaction,
): Promise<void> {
  await lookAnewFor(c, inquiryId, userId, transaction)
  transaction.afterCommit(() => forget(c))
}

/** The names of the parts of a file that are not known here, as far as `known` is what was read of it. */
function unknownParts(given: unknown, known: unknown, at = ''): string[] {
  if (typeof given !== 'object' || given === null || typeof known !== 'object' || known === null) return []
  const read = known as Record<string, unknown>
  return Object.entries(given).flatMap(([key, value]) => {
    const path = Array.isArray(given) ? `${at}[${key}]` : at ? `${at}.${key}` : key
    if (!at && key.startsWith('$')) return []
    return key in read ? unknownParts(value, read[key], path) : [path]
  })
}

/** What a library is set up from. */
interface Given {
  text?: string | undefined
  address?: string | undefined
  copyOf?: string | undefined
  forAll: boolean
}

/** A library that may be set up, with what of its file is not known here. */
export interface NewLibrary {
  row: Pick<LibraryRow, 'profile' | 'cameFrom' | 'userId' | 'allowed'>
  /** The library in whose place it is asked; without one it is asked last. */
  insteadOf: string | undefined
  left: string[]
}

/**
 * Reads what a library is set up from: its file, the address of one, or another library, which its copy takes the place
 * of.
 * @throws Problem 422 where that is none; 403 where somebody sets one up for all who may not
 */
export async function readLibrary(c: Context, userId: number, given: Given): Promise<NewLibrary> {
  const { text, address, copyOf, forAll } = given
  const administers = await isAdministrator(c, userId)
  if (forAll && !administers)
    throw new Problem(403, 'administrators-only', 'Only an administrator sets up a library for all.')
  const own = await c.db.libraries.count({ where: { userId, dropped: false } })
  if (!forAll && own >= MOST) throw new Problem(422, 'too-many', `${MOST} libraries of your own are the most.`)
  const was = copyOf === undefined ? undefined : await libraryBy(c, userId, copyOf)
  const listed = address === undefined ? undefined : await listedAt(c, address)
  const found = was ? profileOf(was) : address === undefined ? jsonOf(text ?? '') : await profileAt(c, address, listed)
  const profile = check(libraryShape, found)
  return {
    row: {
      profile,
      cameFrom: address ?? null,
      userId: forAll ? null : userId,
      // the directory is the operator's own: what it lists is allowed, as is what an administrator sets up
      allowed: Boolean(listed) || Boolean(was?.allowed) || administers,
    },
    insteadOf: was?.key,
    left: was ? [] : unknownParts(found, profile).slice(0, MOST_TOLD),
  }
}

/** Sets up a library that was read. */
export async function addLibrary(
  c: Context,
  userId: number,
  { row, insteadOf, left }: NewLibrary,
  t: Transaction,
): Promise<{ key: string; left: string[] }> {
  const chosen = (await chosenBy(c, userId)).map(l => l.key)
  const key = String((await c.db.libraries.create({ ...row, dropped: false, version: 1 }, { transaction: t })).id)
  await keepChoice(c, userId, insteadOf ? chosen.map(k => (k === insteadOf ? key : k)) : [...chosen, key], t)
  await lookAnew(c, userId, t)
  await fetchHoldings(c, userId, { key }, t, { changed: true })
  forget(c)
  return { key, left }
}

/** @throws Problem 422 where it is no JSON */
export function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text.replace(/^\ufeff/, ''))
  } catch (e) {
    const said = text.trimStart().startsWith('<') ? 'It is a page, and no file of a library.' : (e as Error).message
    throw new Problem(422, 'no-profile', `This cannot be read as the file of a library. ${said}`)
  }
}

/** A library that somebody may change. @throws Problem 404; 403 where it is for others to change */
async function ownLibrary(c: Context, userId: number, key: string): Promise<Library> {
  const library = await libraryBy(c, userId, key)
  if (!(await mayChange(c, userId, library)))
    throw new Problem(403, 'not-yours', 'This library is there for all. Make your own copy of it to change it.')
  return library
}

/**
 * Changes a library. Hosts that were not asked before wait for an administrator, unless the settings let them be
 * fetched.
 * @throws Problem 412 where it was changed meanwhile
 */
export async function changeLibrary(
  c: Context,
  userId: number,
  key: string,
  version: number,
  profile: LibraryProfile,
): Promise<void> {
  const library = await ownLibrary(c, userId, key)
  const hosts = (of: LibraryProfile) => [...addressesOf(of).map(a => new URL(a).host), of.gate?.suffix ?? '']
  const before = new Set(hosts(library))
  const stays = library.allowed && hosts(profile).every(h => before.has(h))
  const allowed = stays || (await isAdministrator(c, userId))
  await inTransaction(c.db.sequelize, async transaction => {
    const [n] = await c.db.libraries.update(
      { profile, allowed, version: version + 1 },
      { where: { id: Number(key), version }, transaction },
    )
    if (!n)
      throw new Problem(
        412,
        'changed-elsewhere',
        'This library was changed in another window since you opened it. Load it again to see the change.',
      )
    await dropCounts(c.db, key, transaction)
    await dropSessionsAt(c.db, key, transaction)
    // what was said of it was said of how it was
    await c.db.libraryTrials.destroy({ where: { library: key }, transaction })
    await lookAnew(c, userId, transaction)
    await fetchHoldings(c, userId, { key }, transaction, { changed: true })
  })
  forget(c)
}

/** Drops a library that was set up here; who asked it asks the others. */
export async function dropLibrary(c: Context, userId: number, key: string): Promise<void> {
  await ownLibrary(c, userId, key)
  await inTransaction(c.db.sequelize, async transaction => {
    await c.db.libraries.update({ dropped: true }, { where: { id: Number(key) }, transaction })
    await dropSessionsAt(c.db, key, transaction)
    await c.db.chosenLibraries.destroy({ where: { library: key }, transaction })
    await c.db.libraryTrials.destroy({ where: { library: key }, transaction })
    await c.db.libraryHours.destroy({ where: { library: key }, transaction })
    await lookAnew(c, userId, transaction)
  })
  forget(c)
}

/** Allows that the hosts of a library are fetched, or takes that back. @throws Problem 403 for all but administrators */
export async function allowLibrary(c: Context, userId: number, key: string, allowed: boolean): Promise<void> {
  if (!(await isAdministrator(c, userId)))
    throw new Problem(403, 'administrators-only', 'Only an administrator allows further hosts to be fetched.')
  const where = { id: Number(key) || 0, dropped: false }
  const row = await c.db.libraries.findOne({ where, attributes: ['userId'], raw: true })
  if (!row) throw notFound()
  await inTransaction(c.db.sequelize, async t => {
    await c.db.libraries.update({ allowed }, { where, transaction: t })
    const owner = row.userId ?? userId
    await lookAnew(c, owner, t)
    await fetchHoldings(c, owner, { key }, t, { changed: true })
  })
  forget(c)
}

/** Keeps a holdings file that somebody brought; one of the same name takes the place of the one before. */
export async function bringHoldings(
  c: Context,
  userId: number,
  key: string,
  { bytes, name }: SentFile,
  t: Transaction,
): Promise<void> {
  const library = await ownLibrary(c, userId, key)
  const profile = profileOf(library)
  const before = profile.holdings.find(f => f.address.startsWith(BROUGHT) && fileName(f) === name)
  const address = `${BROUGHT}${randomUUID()}`
  await keepHoldings(c, address, bytes, t)
  const holdings = [...profile.holdings.filter(f => f !== before), { name, address }]
  const now = { profile: check(libraryShape, { ...profile, holdings }), version: library.version + 1 }
  await c.db.libraries.update(now, { where: { id: Number(key) }, transaction: t })
  await fetchHoldings(c, userId, { key }, t, { changed: true })
  forget(c)
}
