import type { Transaction } from 'sequelize'
import { daysBetween } from '../../core/bib/dates'
import type { Answer } from '../../core/schema/api'
import { nameOf, type BriefInput } from '../../core/schema/brief'
import { checkBrief } from '../../core/write/rules'
import { rhythmOf, type Member } from '../sessions/member'
import type { Context } from '../base/context'
import { deskDay } from '../db/desk-day'
import { cataloguesFor } from '../library/catalogues'
import { librariesOf } from '../library/libraries'
import { notFound, Problem } from '../base/problem'
import { requireStyle, styleFor } from '../styles/styles-service'
import { stationCounts, type InquiryRow } from './inquiries-model'
import { change } from '../db/revision'

type Told = Answer<'inquiries'>[number]

/** The inquiries that somebody is a member of, with the live numbers of the path bar. */
export async function inquiriesOf(c: Context, userId: number): Promise<Told[]> {
  const memberships = await c.db.memberships.findAll({ where: { userId }, raw: true })
  const roles = new Map(memberships.map(m => [m.inquiryId, m.role]))
  const rows = await c.db.inquiries.findAll({ where: { id: [...roles.keys()] }, order: ['id'], raw: true })
  const today = await deskDay(c.db)
  return Promise.all(rows.map(r => tellInquiry(c, r, { today, role: roles.get(r.id)!, userId })))
}

export async function createInquiry(
  c: Context,
  userId: number,
  { title, question, due, zone, style, language, ...rules }: BriefInput,
  t: Transaction,
): Promise<{ id: number }> {
  await requireStyle(c, userId, { style, language })
  const of = { title: title || nameOf(question), question, due, zone, style, language, rules, query: '' }
  const row = await c.db.inquiries.create(of, { transaction: t })
  await c.db.memberships.create({ inquiryId: row.id, userId, role: 'owner' }, { transaction: t })
  return { id: row.id }
}

export const ownInquiry = async (c: Context, id: number, userId: number): Promise<Told> =>
  tellInquiry(c, await load(c, id), { today: await deskDay(c.db), role: 'owner', userId })

/** An inquiry in full, with what its pages can choose from. */
export async function inquiryInFull(c: Context, { inquiryId, day, role, userId }: Member): Promise<Answer<'inquiry'>> {
  const catalogues = await cataloguesFor(c, inquiryId)
  const row = await load(c, inquiryId)
  return {
    ...(await tellInquiry(c, row, { today: day, role, userId })),
    styleName: (await styleFor(c, row)).name,
    others: (await c.db.memberships.count({ where: { inquiryId } })) - 1,
    timed: rhythmOf(row.rhythm).timed,
    catalogues: catalogues.map(x => ({ id: x.id, name: x.name })),
    libraries: (await librariesOf(c, inquiryId)).map(({ key, name, resolver, contact }) => ({
      ...{ key, name, resolver, contact },
    })),
  }
}

/** The brief is a resource of its own: its version changes with it alone, and not with every decision. */
export async function briefOf(c: Context, id: number): Promise<Answer<'brief'>> {
  const { title, question, due, zone, style, language, rules, version } = await load(c, id)
  return { title, question, due, zone, style, language, ...rules, version } as Answer<'brief'>
}

/**
 * @throws Problem 412 where it was changed meanwhile, 422 where there is no such style
 */
export async function changeBrief(
  c: Context,
  { inquiryId: id, userId }: Member,
  version: number,
  given: BriefInput,
): Promise<void> {
  const { title, question, due, zone, style, language, ...rules } = given
  await requireNewStyle(c, { id, userId }, { style, language })
  await change(c, id, async t => {
    const now = await c.db.inquiries.findByPk(id, { transaction: t, raw: true })
    if (now!.version !== version)
      throw new Problem(
        412,
        'changed-elsewhere',
        'The brief was changed in another window since you opened it. Load it again to see the change.',
      )
    await c.db.inquiries.update(
      { title: title || nameOf(question), question, due, zone, style, language, rules, version: version + 1 },
      { where: { id }, transaction: t },
    )
  })
}

/** Sets style and language alone; a brief that is open elsewhere has to be loaded again. @throws Problem 422 as above */
export async function setStyle(
  c: Context,
  { inquiryId: id, userId }: Member,
  to: { style: string; language: string | null },
): Promise<{ style: string; language: string | null }> {
  await requireNewStyle(c, { id, userId }, to)
  await change(c, id, async transaction => {
    const now = (await c.db.inquiries.findByPk(id, { attributes: ['version'], transaction, raw: true }))!
    await c.db.inquiries.update({ ...to, version: now.version + 1 }, { where: { id }, transaction })
  })
  return to
}

/** What stands already may stand, whoever brought it and whether or not it is still here. */
async function requireNewStyle(
  c: Context,
  { id, userId }: { id: number; userId: number },
  to: { style: string; language: string | null },
): Promise<void> {
  const now = await load(c, id)
  if (now.style !== to.style || now.language !== to.language) await requireStyle(c, userId, to)
}

async function load(c: Context, id: number): Promise<InquiryRow> {
  const row = await c.db.inquiries.findByPk(id, { raw: true })
  if (!row) throw notFound()
  return row
}

async function tellInquiry(
  c: Context,
  r: InquiryRow,
  { today, role, userId }: { today: string; role: Member['role']; userId: number },
): Promise<Told> {
  const { id, title, question, due, zone, style, language, rules, query, revision, version } = r
  const { least, most, ...counts } = await stationCounts(c, id, { userId, day: today })
  return {
    ...{ id, title, question, due, zone, style, language, rules, query, revision, version, role },
    today,
    daysLeft: due === null ? null : daysBetween(today, due),
    numbers: { ...counts, rules: checkBrief(rules, [], today).length, found: [least, most] },
  }
}
