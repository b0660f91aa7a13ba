import { Op } from 'sequelize'
import { addressesOf, BROUGHT, libraryShape, type LibraryProfile } from '../../core/schema/library'
import type { Context } from '../base/context'
import { memory } from '../base/memory'
import type { OutsideRequest } from '../connect/http'
import { askerOf, type LibraryRow } from './libraries-model'

/** A library as it is asked from here. */
export interface Library extends LibraryProfile {
  /** Its id in the settings, or the number of its row. */
  key: string
  /** Whose it is; null where it is there for all. */
  userId: number | null
  /** Whether it stands in the settings, so that nobody changes it here. */
  isSet: boolean
  /** Whether its hosts may be fetched though the settings do not name them. */
  allowed: boolean
  version: number
  cameFrom: string | null
}

/** The libraries of an inquiry hold for a second: every list asks for them, and they change once a year. */
const known = memory<Library[]>({ holds: 1000 })

/** Forgets what was asked, where libraries changed. */
export const forgetLibraries = (c: Pick<Context, 'db'>): void => known.forget(c)

const ofRow = ({ id, profile, ...row }: LibraryRow): Library => ({
  // what a profile can say came to be after some were written
  ...libraryShape.cast(profile, { assert: false }),
  key: String(id),
  userId: row.userId,
  isSet: false,
  allowed: Boolean(row.allowed),
  version: row.version,
  cameFrom: row.cameFrom,
})

/** The libraries of the settings, which are there for all. */
export const setLibraries = ({ settings }: Pick<Context, 'settings'>): Library[] =>
  settings.outside.libraries.map(({ id, ...profile }) => ({
    ...profile,
    ...{ key: id, userId: null, isSet: true, allowed: true, version: 0, cameFrom: null },
  }))

/** All libraries that somebody may ask: those of the settings, those that are there for all, their own. */
export async function librariesFor(c: Context, userId: number): Promise<Library[]> {
  const rows = await c.db.libraries.findAll({
    where: { [Op.or]: [{ userId: null }, { userId }], dropped: false },
    order: ['id'],
    raw: true,
  })
  return [...setLibraries(c), ...rows.map(ofRow)]
}

/** A library by its key, whoever asks it, and though it was dropped: what is under way with it goes on. */
export async function anyLibrary(c: Context, key: string): Promise<Library | undefined> {
  const set = setLibraries(c).find(l => l.key === key)
  if (set || !/^\d+$/.test(key)) return set
  const row = await c.db.libraries.findByPk(Number(key), { raw: true })
  return row ? ofRow(row) : undefined
}

/** Libraries of students whose hosts nobody allowed yet. */
export async function notAllowed(c: Context): Promise<Library[]> {
  const where = { allowed: false, dropped: false, userId: { [Op.ne]: null } }
  return (await c.db.libraries.findAll({ where, order: ['id'], raw: true })).map(ofRow)
}

/** The libraries that somebody asks, in their order; where they chose none, those of the settings. */
export async function chosenBy(c: Context, userId: number): Promise<Library[]> {
  const chosen = await c.db.chosenLibraries.findAll({ where: { userId }, order: ['place'], raw: true })
  if (!chosen.length) return setLibraries(c)
  const all = new Map((await librariesFor(c, userId)).map(l => [l.key, l]))
  const there = chosen.flatMap(x => all.get(x.library) ?? [])
  return there.length ? there : setLibraries(c)
}

/** The libraries that are asked for an inquiry: those of its owner. */
export const librariesOf = (c: Context, inquiryId: number): Promise<Library[]> =>
  known.get(c, inquiryId, async () => {
    const userId = await askerOf(c, inquiryId)
    return userId ? chosenBy(c, userId) : setLibraries(c)
  })

/** What may be fetched on account of a library beside what the settings name. */
export const leaveOf = (library: Library): Pick<OutsideRequest, 'also'> =>
  library.allowed
    ? { also: { addresses: addressesOf(library), ...(library.gate?.suffix ? { suffix: library.gate.suffix } : {}) } }
    : {}

/** What a holdings file is called. */
export const fileName = ({ name, address }: LibraryProfile['holdings'][number]): string =>
  name || (address.startsWith(BROUGHT) ? 'a file' : address.split('/').at(-1)) || address
