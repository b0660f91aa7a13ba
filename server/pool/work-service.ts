import { plainTitle } from '../../core/bib/clean'
import { Op } from 'sequelize'
import { reach } from '../../core/access/reach'
import { appraise } from '../../core/appraise/kind'
import { leadOf } from '../../core/appraise/leads'
import { yearOf } from '../../core/bib/dates'
import { flowsOf, type Flows } from '../../core/sift/flow'
import type { Member } from '../sessions/member'
import type { Context } from '../base/context'
import { profilesFor } from '../library/holdings'
import { offersFor } from '../library/offices'
import { openingsOf } from '../copies/copy-rights'
import { notFound } from '../base/problem'
import { historyOfWork } from './history-service'
import { lineOf, sourcesOf, withOffers } from './lines'
import type { RecordRow, WorkRow } from './pool-model'

/** All about a work; of one that was joined into another, that one. */
export async function workInFull(c: Context, member: Member, id: number) {
  const { inquiryId, day } = member
  const w = await livingWork(c, inquiryId, id)
  const where = { workId: w.id }
  const [records, routes, copies, attempts, passages, entry, history, profiles, { offers }] = await Promise.all([
    c.db.records.findAll({ where, order: ['id'], raw: true }),
    c.db.routes.findOne({ where, raw: true }),
    c.db.copies.findAll({ where, order: ['id'], raw: true }),
    c.db.attempts.findAll({ where, order: [['id', 'DESC']], limit: 10, raw: true }),
    c.db.passages.findAll({ where, order: ['page'], raw: true }),
    c.db.entries.findOne({ where, raw: true }),
    historyOfWork(c, inquiryId, w.id),
    profilesFor(c, inquiryId, [w.line.access.item]),
    offersFor(c, member),
  ])
  const [sources, openingOf] = await Promise.all([
    sourcesOf(c),
    openingsOf(
      c,
      member,
      copies.map(x => x.id),
    ),
  ])
  const recordIds = records.map(r => r.id)
  const { asked, linked } = await beyond(c, inquiryId, w.id, recordIds)
  const signs = copies.find(x => x.outcome === 'proved' && x.signs)?.signs ?? {}
  const judged = w.said?.kind ? appraise(w.item, w.facts, signs) : null
  const lookedUp = {
    proved: copies.some(x => x.outcome === 'proved' && openingOf(x.id).opens),
    routes: routes?.routes,
    closed: routes?.closed,
  }
  const { access } = w.line
  return {
    ...lineOf(w, { ...lookedUp, sources: [], sweeps: [], arrivals: [] }, { day, profiles, sources, offers }),
    reachSaid: reach(access.item, {
      ...{ profiles, day, facts: access.facts },
      lookedUp: withOffers(lookedUp, access.item, offers),
    }).said,
    item: w.item,
    facts: w.facts,
    fieldFrom: w.fieldFrom,
    evidence: w.evidence,
    said: w.said ?? {},
    signs,
    // what the evidence says, where the student says otherwise
    judged: judged && { kind: judged.kind, confidence: judged.confidence },
    lead: leadOf(w.item, w.kind) ?? null,
    linked: linked.map(l => ({
      work: l.id,
      title: plainTitle(l.item.title),
      kind: l.kind,
      year: yearOf(l.item) ?? null,
    })),
    records: records.map(({ id, source, item, facts, raw, format, at }) => ({
      ...{ id, item, facts, raw, format, at },
      source: sources(source),
    })),
    asked: asked.map(o => ({ record: o.id, work: o.workId!, source: sources(o.source), item: o.item })),
    routes: routes && { routes: routes.routes, closed: routes.closed, at: routes.at },
    copies: copies.map(({ id, outcome, version, origin, proof, pages }) => ({
      id,
      opening: openingOf(id),
      outcome,
      version,
      origin,
      proof,
      pages,
    })),
    attempts,
    passages,
    entry,
    byTrail: records.every(r => r.source === 'trail'),
    history,
  }
}

/** A work; of one that was joined into another, that one. @throws Problem 404 */
export async function livingWork(c: Context, inquiryId: number, id: number): Promise<WorkRow> {
  const found = await c.db.works.findOne({ where: { id, inquiryId }, raw: true })
  const w = found?.successorId
    ? await c.db.works.findOne({ where: { id: found.successorId, inquiryId }, raw: true })
    : found
  if (!w) throw notFound()
  return w
}

/** What lies beyond a work: records of others that may describe it too, and works that belong with it. */
async function beyond(
  c: Context,
  inquiryId: number,
  work: number,
  records: readonly number[],
): Promise<{ asked: RecordRow[]; linked: WorkRow[] }> {
  const ours = { [Op.in]: [...records] }
  const links = await c.db.pairLinks.findAll({
    where: { inquiryId, verdict: ['asked', 'linked'], [Op.or]: [{ a: ours }, { b: ours }] },
    raw: true,
  })
  if (!links.length) return { asked: [], linked: [] }
  const ends = new Map(links.map(l => [records.includes(l.a) ? l.b : l.a, l.verdict]))
  const others = await c.db.records.findAll({ where: { id: [...ends.keys()], workId: { [Op.ne]: null } }, raw: true })
  const away = others.filter(o => o.workId !== work)
  const together = [...new Set(away.filter(o => ends.get(o.id) === 'linked').map(o => o.workId!))]
  return {
    asked: away.filter(o => ends.get(o.id) === 'asked'),
    linked: together.length ? await c.db.works.findAll({ where: { id: together }, raw: true }) : [],
  }
}

/** The texts of the works, for what learns from them; they change only as works come and go. */
export async function textsOf(c: Context, inquiryId: number) {
  const works = await c.db.works.scope('living').findAll({
    where: { inquiryId },
    attributes: ['id', 'item', 'facts'],
    order: ['id'],
    raw: true,
  })
  return works.map(({ id, item, facts }) => ({
    id,
    title: plainTitle(item.title, ''),
    abstract: item.abstract,
    keywords: [...(facts.keywords ?? []), ...(facts.subjects ?? [])],
  }))
}

/** The way from what was found to what is kept, in numbers. */
export async function flowOfPool(c: Context, inquiryId: number): Promise<Flows> {
  const where = { inquiryId }
  const [records, works, copies] = await Promise.all([
    c.db.records.findAll({ where, attributes: ['source', 'workId'], raw: true }),
    c.db.works.scope('living').findAll({ where, attributes: ['id', 'state', 'pass', 'reason'], raw: true }),
    c.db.copies.findAll({ where: { inquiryId, outcome: 'proved' }, attributes: ['workId'], raw: true }),
  ])
  const held = new Set(copies.map(x => x.workId))
  return flowsOf({
    records: records.map(r => ({
      source: r.source === 'trail' ? 'trail' : r.source.startsWith('file:') ? 'file' : 'catalogue',
      work: r.workId,
    })),
    works: works.map(w => ({ ...w, inHand: held.has(w.id) })),
  })
}
