import { randomUUID } from 'node:crypto'
import { Op, type Transaction } from 'sequelize'
import { describedForOffice, letterToOffice } from '../../core/access/letter'
import { comes, inOrder, kindFor, lacking, OVER, sayStand, standOf, type LoanOffer } from '../../core/access/loan'
import { actsFor, isScanOf, type LoanAct } from '../../core/access/loan-acts'
import { openUrl } from '../../core/formats/openurl'
import { sayIso } from '../../core/access/coverage'
import { plainTitle } from '../../core/bib/clean'
import { addDays, yearOf } from '../../core/bib/dates'
import type { Item } from '../../core/bib/item'
import { authorLine } from '../../core/bib/names'
import { writeCalendar, type CalendarDay } from '../../core/formats/calendar'
import type { Answer, Loan, LoanDraft } from '../../core/schema/api'
import type { BodyOf } from '../../core/schema/api/endpoint'
import { api } from '../../core/schema/api'
import { suppliersTold, type Supplier } from '../../core/access/partners'
import { suppliersOf } from '../../core/access/routes'
import { isByHand } from '../../core/schema/library'
import { neededBy } from '../../core/write/plan'
import type { Context } from '../base/context'
import { notFound, Problem } from '../base/problem'
import { deskDay } from '../db/desk-day'
import type { LoanEvent } from '../../core/access/loan'
import { enqueue } from '../jobs/queue'
import { anyLibrary, librariesOf, type Library } from '../library/libraries'
import { hasOffice, offersFor, officesOf } from '../library/offices'
import { rhythmOf, type Member } from '../sessions/member'
import type { LoanEventRow, LoanRow } from './loans-model'
import { deskMoment, eventRows, inPlace, keptBy, note } from './standing'

/** Requests that are told of at most: years of them. */
const TOLD = 500

/** Everything that somebody asked for, those first that wait for them. */
export async function loansOf(c: Context, userId: number): Promise<Answer<'loans'>> {
  const rows = await c.db.loans.findAll({ where: { userId }, order: [['id', 'DESC']], limit: TOLD, raw: true })
  return {
    day: await deskDay(c.db),
    loans: await told(c, rows),
  }
}

/** Requests with how they stand. */
async function told(c: Context, rows: readonly LoanRow[]): Promise<Loan[]> {
  if (!rows.length) return []
  const today = await deskDay(c.db)
  const ids = rows.map(r => r.id)
  const [events, users, inquiries, jobs] = await Promise.all([
    eventRows(c, ids),
    c.db.users.findAll({
      where: { id: [...new Set(rows.map(r => r.userId))] },
      attributes: ['id', 'name', 'email'],
      raw: true,
    }),
    c.db.inquiries.findAll({
      where: { id: [...new Set(rows.map(r => r.inquiryId))] },
      attributes: ['id', 'title', 'due', 'rhythm'],
      raw: true,
    }),
    c.db.jobs.findAll({
      where: { kind: 'loan', state: ['queued', 'running'], inquiryId: [...new Set(rows.map(r => r.inquiryId))] },
      attributes: ['payload'],
      raw: true,
    }),
  ])
  const of = new Map<number, LoanEventRow[]>(ids.map(id => [id, []]))
  for (const e of events) of.get(e.loanId)!.push(e)
  const libraries = new Map<string, Library>()
  for (const key of new Set(rows.map(r => r.library))) {
    const library = await anyLibrary(c, key)
    if (library) libraries.set(key, library)
  }
  const offices = await officesOf(c, [...libraries.values()])
  const busy = new Set(jobs.map(j => j.payload.loan))
  return rows.map(r => {
    const inquiry = inquiries.find(i => i.id === r.inquiryId)!
    const needed = neededBy(inquiry.due, rhythmOf(inquiry.rhythm))
    const library = libraries.get(r.library)
    const befell = inPlace(of.get(r.id)!)
    const stand = standOf(r.kind, befell, keptBy(library?.office))
    const pace = offices.find(o => o.library.key === r.library)
    const byHand = isByHand(library?.office)
    const user = users.find(u => u.id === r.userId)
    return {
      id: r.id,
      inquiry: { id: inquiry.id, title: inquiry.title, due: inquiry.due, neededBy: needed },
      work: r.workId,
      title: plainTitle(r.item.title),
      authors: authorLine(r.item.author),
      year: yearOf(r.item) ?? null,
      kind: r.kind,
      library: library?.name ?? 'a library that is gone',
      suppliers: (r.suppliers ?? []).map(s => s.name),
      pickUp: library?.office?.pickUp ?? '',
      state: stand.state,
      stands: sayStand(stand, r.kind, today, byHand),
      said: stand.said,
      since: stand.since,
      asked: stand.asked,
      until: stand.until ?? null,
      due: stand.due ?? null,
      waits: stand.waits ?? null,
      recalled: stand.recalled ?? false,
      again: stand.again ?? false,
      busy: busy.has(r.id),
      acts: actsFor({ state: stand.state, kind: r.kind, byHand }),
      hand: library && byHand ? handOf(r, library, user, needed) : null,
      when: (pace && comes(pace, { kind: r.kind, partner: r.suppliers?.[0]?.name, stand, today, needed })) ?? null,
      events: inOrder(befell).map(e => ({ what: e.what, at: e.at, said: e.said ?? '', until: e.until ?? null })),
    }
  })
}

/** How a student sends a request: on the form of the office, or by a letter. */
function handOf(
  { kind, item, note, anyEdition, suppliers }: LoanRow,
  { name, office }: Library,
  user: { name: string; email: string } | undefined,
  needed: string | null,
): Loan['hand'] {
  const from = { name: user?.name ?? '', mail: user?.email ?? '' }
  const having = suppliers ?? []
  const asked = {
    library: name,
    kind,
    neededBy: needed,
    anyEdition: Boolean(anyEdition),
    note,
    from,
    suppliers: having,
  }
  const { subject, text } = letterToOffice(item, asked)
  return {
    form: office?.manner === 'form' ? openUrl(office.address, item) : null,
    ...{ to: office?.mail ?? '', subject, letter: text, details: describedForOffice(item, having) },
  }
}

/** The last request for each kept work of an inquiry that has one, and the offices that refused it. */
export async function lastLoans(c: Context, inquiryId: number) {
  const rows = await c.db.loans.findAll({ where: { inquiryId }, order: ['id'], raw: true })
  const last = new Map<number, NonNullable<Answer<'ways'>[number]['loan']>>()
  const refused = new Map<number, Refused[]>()
  for (const [i, l] of (await told(c, rows)).entries()) {
    const { id, kind, state, stands, library, until, when, hand } = l
    last.set(l.work, {
      ...{ id, kind, state, stands, library, until, byHand: hand !== null },
      when: when && { from: when.from, to: when.to, likely: when.likely },
    })
    if (state !== 'refused' || l.again) continue
    const said = `${library} refused it on ${sayIso(l.since.slice(0, 10))}${l.said ? `: ${l.said}` : '.'}`
    refused.set(l.work, [...(refused.get(l.work) ?? []), { by: rows[i]!.library, said }])
  }
  return { last, refused }
}

/** The books of an inquiry that somebody has borrowed, by their works, each with the day on which it goes back. */
export async function borrowedUntil(
  c: Context,
  inquiryId: number,
  userId: number,
): Promise<Map<number, string | null>> {
  const rows = await c.db.loans.findAll({ where: { inquiryId, userId, state: 'with you' }, order: ['id'], raw: true })
  return new Map((await told(c, rows)).map(l => [l.work, l.due]))
}

/** An office that did not get a text, and why. */
interface Refused {
  by: string
  said: string
}

/** What would be asked for: of works that are kept, with the offices that can be asked. */
export async function draftLoans(c: Context, member: Member, wanted: readonly number[]): Promise<LoanDraft> {
  const { inquiryId } = member
  const works = await c.db.works
    .scope('living')
    .findAll({ where: { inquiryId, state: 'kept', id: [...wanted] }, attributes: ['id', 'item'], raw: true })
  const under = await underWay(c, inquiryId, wanted)
  const { offers, needed } = await offersFor(c, member)
  const libraries = (await librariesOf(c, inquiryId)).filter(hasOffice)
  const having = await havingPartners(c, works, offers)
  return {
    works: works.map(w => ({
      ...{ work: w.id, item: w.item, kind: kindFor(w.item), lacks: lacking(w.item) },
      partners: libraries.flatMap(({ key }) => {
        const found = having(w, key)
        const first = found[0]?.offer
        return first
          ? [{ library: key, names: found.map(f => f.route.from), evidence: first.evidence, when: whenOf(first) }]
          : []
      }),
      why: under.has(w.id) ? 'It was asked for already, and is under way.' : null,
    })),
    offices: libraries.map(({ key, name, office }) => ({
      ...{ library: key, name, manner: office.manner, terms: office.terms, pickUp: office.pickUp },
      kinds: offers
        .filter(o => o.library.key === key && !o.partner)
        .map(o => ({ kind: o.kind, evidence: o.evidence, when: whenOf(o) })),
    })),
    neededBy: needed,
  }
}
const whenOf = ({ from, to, expected, likely, askBy }: LoanOffer) => ({ from, to, expected, likely, askBy })

/** Which partners of a library have a work and send it, the fastest first, as they were asked last. */
async function havingPartners(
  c: Context,
  works: readonly { id: number; item: Item }[],
  offers: readonly LoanOffer[],
  transaction?: Transaction,
) {
  const rows = await c.db.routes.findAll({
    where: { workId: works.map(w => w.id) },
    attributes: ['workId', 'routes'],
    raw: true,
    ...(transaction ? { transaction } : {}),
  })
  const of = new Map(rows.map(r => [r.workId, r.routes]))
  return ({ id, item }: { id: number; item: Item }, library: string) => {
    const kind = kindFor(item)
    return suppliersOf(
      of.get(id) ?? [],
      offers.filter(o => o.kind === kind),
      library,
    )
  }
}

async function underWay(c: Context, inquiryId: number, works: readonly number[], transaction?: Transaction) {
  const rows = await c.db.loans.findAll({
    where: { inquiryId, workId: [...works], state: { [Op.notIn]: [...OVER] } },
    attributes: ['workId'],
    raw: true,
    ...(transaction ? { transaction, lock: transaction.LOCK.UPDATE } : {}),
  })
  return new Set(rows.map(r => r.workId))
}

/**
 * Asks an office for scans or books. What is under way is not asked for again: two windows may ask for the same.
 * @throws Problem 422 where nothing of it can be asked for
 */
export async function askFor(
  c: Context,
  member: Member,
  body: BodyOf<typeof api.askFor>,
  t: Transaction,
): Promise<{ loans: number[] }> {
  const { inquiryId, userId } = member
  const library = (await librariesOf(c, inquiryId)).filter(hasOffice).find(l => l.key === body.library)
  if (!library) throw new Problem(422, 'no-office', 'This library is not among yours, or gets nothing from elsewhere.')
  // of two that ask in one moment the second sees what the first asked for
  await c.db.inquiries.findByPk(inquiryId, { attributes: ['id'], transaction: t, lock: t.LOCK.UPDATE })
  const wanted = body.works.map(w => w.work)
  const under = await underWay(c, inquiryId, wanted, t)
  const works = await c.db.works.scope('living').findAll({
    where: { inquiryId, state: 'kept', id: wanted },
    attributes: ['id', 'item'],
    transaction: t,
    raw: true,
  })
  const { offers } = await offersFor(c, member)
  const having = await havingPartners(c, works, offers, t)
  const at = new Date(await deskMoment(c))
  const ids: number[] = []
  for (const { id: workId, item } of works.filter(w => !under.has(w.id))) {
    const { kind, parts } = body.works.find(w => w.work === workId)!
    const isUsual = kind === kindFor(item)
    const suppliers: Supplier[] = isUsual
      ? suppliersTold(having({ id: workId, item }, library.key), library.partners)
      : []
    if (!library.office[kind] && !suppliers.length)
      throw new Problem(422, 'no-office', `${library.name} gets no ${kind}s from elsewhere.`)
    const asked = { ...item, ...Object.fromEntries(Object.entries(parts).filter(([, v]) => v)) }
    const row = await c.db.loans.create(
      {
        ...{ inquiryId, workId, userId, library: library.key, kind, request: randomUUID(), item: asked },
        ...{ note: body.note, anyEdition: body.anyEdition, state: 'not sent' },
        suppliers: suppliers.length ? suppliers : null,
      },
      { transaction: t },
    )
    await c.db.loanEvents.create({ loanId: row.id, what: 'asked', at, said: body.note }, { transaction: t })
    if (!isByHand(library.office)) await enqueue(c, 'loan', inquiryId, userId, { loan: row.id, send: 'request' }, t)
    ids.push(row.id)
  }
  if (!ids.length) throw new Problem(422, 'nothing-to-ask', 'All of these are under way already, or not kept.')
  return { loans: ids }
}

/** A request of somebody. @throws Problem 404 */
async function ownLoan(c: Context, userId: number, id: number): Promise<LoanRow> {
  const row = await c.db.loans.findOne({ where: { id, userId }, raw: true })
  if (!row) throw notFound()
  return row
}

export async function loanBy(c: Context, userId: number, id: number): Promise<Loan> {
  return (await told(c, [await ownLoan(c, userId, id)]))[0]!
}

/** What is written down of what a student does that no office has to be told of. */
const TOLD_HERE: Partial<Record<LoanAct, LoanEvent['what']>> = { 'picked up': 'taken', 'it came': 'ready' }
/** The same where the student tells the office, or where it never left the house. */
const BY_HAND: Partial<Record<LoanAct, LoanEvent['what']>> = {
  ...TOLD_HERE,
  'handed over': 'sent',
  'turned down': 'refused',
  'due on': 'renewed',
  'given back': 'returned',
  'give up': 'given up',
}

/** Who lends a scan that came, its last day where its terms name one, and the terms. */
export const lentBy = ({ name, office }: Pick<Library, 'name' | 'office'>, at: string) => ({
  from: name,
  until: office?.scanLasts ? addDays(at.slice(0, 10), office.scanLasts) : null,
  terms: office?.terms || null,
})

/**
 * A file that a student brought is the scan that they asked for, where they await one: its request is over.
 * @param lend is told who lends it, and writes that down with the end of the request or not at all
 */
export async function scanCame(
  c: Context,
  { inquiryId, workId, userId }: Pick<LoanRow, 'inquiryId' | 'workId' | 'userId'>,
  lend: (by: ReturnType<typeof lentBy>, t: Transaction, revision: number) => Promise<void>,
): Promise<void> {
  const rows = await c.db.loans.findAll({
    where: { inquiryId, workId, userId, kind: 'scan', state: { [Op.notIn]: [...OVER] } },
    raw: true,
  })
  for (const row of rows) {
    const library = await anyLibrary(c, row.library)
    if (!isScanOf({ ...row, byHand: isByHand(library?.office) })) continue
    const at = await deskMoment(c)
    const lent = lentBy(library ?? { name: 'a library' }, at)
    const taken = { what: 'taken' as const, at, said: 'You brought the file.' }
    await note(c, row, library?.office, taken, (_, t, revision) => lend(lent, t, revision))
  }
}

/**
 * Carries a request on.
 * @throws Problem 409 where it stands otherwise by now
 */
export async function actOn(
  c: Context,
  userId: number,
  id: number,
  { act, said, until }: BodyOf<typeof api.actOnLoan>,
): Promise<void> {
  const row = await ownLoan(c, userId, id)
  const { state, kind } = row
  const office = (await anyLibrary(c, row.library))?.office
  const byHand = isByHand(office)
  if (!actsFor({ state, kind, byHand }).includes(act))
    throw new Problem(409, 'stands-otherwise', 'It stands otherwise by now. Look at it again.')
  const what = byHand || (act === 'give up' && state === 'not sent') ? BY_HAND[act] : TOLD_HERE[act]
  if (what) return void (await note(c, row, office, { what, at: await deskMoment(c), said, until }))
  const payload = act === 'fetch' ? { fetch: true } : act === 'send again' ? { send: 'request' } : { send: act, said }
  await c.db.sequelize.transaction(async t => {
    // of two windows that press in one moment the second sees what the first began
    await c.db.loans.findByPk(id, { attributes: ['id'], transaction: t, lock: t.LOCK.UPDATE })
    const under = await c.db.jobs.findAll({
      where: {
        kind: 'loan',
        inquiryId: row.inquiryId,
        state: ['queued', 'running'],
        runAfter: { [Op.lte]: new Date() },
      },
      attributes: ['payload'],
      transaction: t,
      raw: true,
    })
    const same = ({ payload: p }: (typeof under)[number]) =>
      p.loan === id && (act === 'fetch' ? p.fetch === true : p.send === payload.send)
    if (under.some(same)) throw new Problem(409, 'stands-otherwise', 'This is being done already.')
    await enqueue(c, 'loan', row.inquiryId, userId, { loan: id, ...payload }, t)
  })
}

/** The days of what somebody asked for, to be put into their calendar. */
export async function calendarOf(c: Context, userId: number, only?: number): Promise<string> {
  const rows = await c.db.loans.findAll({ where: { userId, ...(only ? { id: only } : {}) }, raw: true })
  const host = new URL(c.settings.address).hostname
  const days = (await told(c, rows)).flatMap((l): CalendarDay[] => {
    const text = `${l.title}${l.authors ? `, ${l.authors}` : ''}. For “${l.inquiry.title}”. ${c.settings.address}/asked`
    const day = (what: string, on: string | null, title: string): CalendarDay[] =>
      on ? [{ id: `loan-${l.id}-${what}@${host}`, day: on, title, text }] : []
    if (l.state === 'ready')
      return l.kind === 'scan'
        ? day('until', l.until, `Last day to fetch the scan: ${l.title}`)
        : day('until', l.until, `Last day to pick up${l.pickUp ? ` at ${l.pickUp}` : ''}: ${l.title}`)
    if (l.state === 'with you') return day('due', l.due, `Give back to ${l.library}: ${l.title}`)
    return []
  })
  return writeCalendar(days, await deskMoment(c))
}

/** What is told by mail of a request that moved: its subject, and what there is to do. */
export const letterOf = (l: Loan): { subject: string; text: string } => ({
  subject: `${l.stands}: ${l.title}`,
  text: [
    `${l.title}${l.authors ? `\n${l.authors}${l.year ? `, ${l.year}` : ''}` : ''}`,
    `You asked ${l.library} for ${l.kind === 'scan' ? 'a scan of it' : 'this book'} on ${sayIso(l.asked.slice(0, 10))}. ${l.stands}.`,
    ...(l.said ? [`It writes: ${l.said}`] : []),
    ...(l.kind === 'book' && l.state === 'ready' && l.pickUp ? [`It waits at ${l.pickUp}.`] : []),
  ].join('\n\n'),
})
