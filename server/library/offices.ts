import { createHmac } from 'node:crypto'
import { Op } from 'sequelize'
import { withinDay, type WorkDays } from '../../core/access/arrival'
import { offersOf, type LoanKind, type LoanOffer, type Office, type Speed } from '../../core/access/loan'
import type { Supplier } from '../../core/access/partners'
import type { LoanOffice, Partner } from '../../core/schema/library'
import { neededBy } from '../../core/write/plan'
import type { Member } from '../sessions/member'
import type { Context } from '../base/context'
import { memory } from '../base/memory'
import { closedFor, hoursOf } from './hours'
import { anyLibrary, librariesOf, type Library } from './libraries'

/** A library that gets scans and books from elsewhere. */
export type WithOffice = Library & { office: LoanOffice }
export const hasOffice = (l: Library): l is WithOffice => l.office !== undefined

/** So many of the last requests tell how fast an office is. */
const SEEN = 60

interface Came {
  library: string
  kind: LoanKind
  took: number | null
  /** Who had it, where that was known. */
  suppliers: readonly Supplier[] | null
}

/** How fast offices were holds for a minute: every list asks, and it moves by little. */
const seenBefore = memory<Came[]>({ holds: 60_000 })

/** How long the last requests took that came, by library. */
const cameFrom = (c: Context, keys: readonly string[]): Promise<Came[]> =>
  seenBefore.get(c, keys.join(), () =>
    c.db.loans.findAll({
      where: { library: [...keys], took: { [Op.ne]: null } },
      attributes: ['library', 'kind', 'took', 'suppliers'],
      order: [['id', 'DESC']],
      limit: SEEN * keys.length,
      raw: true,
    }),
  )

/** Forgets how fast offices were, where something came. */
export const forgetOffices = (c: Pick<Context, 'db'>): void => seenBefore.forget(c)

/** Offices as they are reckoned with: the pace that they tell, and what was seen of them. */
export async function officesOf(c: Context, libraries: readonly Library[]): Promise<Office[]> {
  const own = libraries.filter(hasOffice)
  if (!own.length) return []
  const came = await cameFrom(
    c,
    own.map(l => l.key),
  )
  const hours = await hoursOf(c, own)
  return own.map(library => {
    const { key, name, office } = library
    const here = came.filter(x => x.library === key)
    return {
      library: { key, name },
      ...speedOf(office, here),
      days: { weekend: office.weekend, closed: closedFor(library, hours.get(key)) },
      partners: library.partners.map(p => ({ name: p.name, ...speedOf(p, here, p.name) })),
    }
  })
}

/** How fast things come, in general or from a partner. */
function speedOf({ scan, book }: Pick<Partner, 'scan' | 'book'>, came: readonly Came[], from?: string): Speed {
  const seen = (kind: LoanKind) =>
    came
      .filter(x => x.kind === kind && x.suppliers?.[0]?.name === from)
      .flatMap(x => x.took ?? [])
      .map(withinDay)
  return {
    paces: { ...(scan ? { scan } : {}), ...(book ? { book } : {}) },
    seen: { scan: seen('scan'), book: seen('book') },
  }
}

/** When the office of a library works. */
export async function workDaysOf(c: Context, key: string): Promise<WorkDays> {
  const library = await anyLibrary(c, key)
  if (!library?.office) return { weekend: [], closed: [] }
  return { weekend: library.office.weekend, closed: closedFor(library, (await hoursOf(c, [library])).get(key)) }
}

/** What can be asked of the offices of an inquiry's libraries on a day, and when it is needed. */
export async function offersFor(
  c: Context,
  { inquiryId, day, due, rhythm }: Pick<Member, 'inquiryId' | 'day' | 'due' | 'rhythm'>,
): Promise<{ offices: Office[]; offers: LoanOffer[]; needed: string | null }> {
  const offices = await officesOf(c, await librariesOf(c, inquiryId))
  const needed = neededBy(due, rhythm)
  return { offices, offers: offersOf(offices, day, needed, rhythm.sure), needed }
}

/** What nobody can guess who was not told: it is the key of the address at which an office posts. */
export const tokenOf = (c: Pick<Context, 'settings'>, library: string): string =>
  createHmac('sha256', c.settings.secret).update(`messages of office ${library}`).digest('hex').slice(0, 32)

/** The address at which the office of a library posts its messages. */
export const messagesAt = (c: Pick<Context, 'settings'>, library: string): string =>
  `${c.settings.address}/api/offices/${encodeURIComponent(library)}/${tokenOf(c, library)}`
