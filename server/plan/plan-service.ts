import { Op } from 'sequelize'
import { plainTitle } from '../../core/bib/clean'
import { yearOf } from '../../core/bib/dates'
import { authorLine } from '../../core/bib/names'
import { pageCount } from '../../core/bib/pages'
import type { Answer } from '../../core/schema/api'
import {
  decisionSeconds,
  GUESSED,
  LEAST_ON_A_PAGE,
  makePlan,
  neededBy,
  paceOf,
  type Pace,
  type Rhythm,
  type ToRead,
} from '../../core/write/plan'
import { countWords } from '../../core/write/words'
import type { Context } from '../base/context'
import { change } from '../db/revision'
import { grouped } from '../db/rows'
import { borrowedUntil } from '../loans/loans-service'
import { readable } from '../copies/copy-rights'
import { copyOf } from '../copies/texts'
import { withJoined } from '../compose/joined-entries'
import { familyOf } from '../deeds/family'
import { stationCounts } from '../inquiries/inquiries-model'
import type { Member } from '../sessions/member'
import { addPageTimes, readByWord } from './plan-model'

/** The newest decisions and pages that a pace is taken from: how somebody works changes. */
const NEWEST = { decisions: 500, pages: 500 }

/** What is left to do until an inquiry is due. */
export async function planInFull(c: Context, member: Member): Promise<Answer<'plan'>> {
  const { inquiryId, userId, day: today, due, rhythm } = member
  const [inquiry, counts, works, allCopies, entries, byWord, paces] = await Promise.all([
    c.db.inquiries.findByPk(inquiryId, { attributes: ['rules'], rejectOnEmpty: true, raw: true }),
    stationCounts(c, inquiryId, member),
    c.db.works
      .scope('living')
      .findAll({ where: { inquiryId, state: 'kept' }, attributes: ['id', 'item', 'kind'], raw: true }),
    c.db.copies.findAll({
      where: { inquiryId, outcome: 'proved' },
      attributes: ['id', 'workId', 'pages'],
      order: ['id'],
      raw: true,
    }),
    c.db.entries.findAll({ where: { inquiryId }, order: ['id'], raw: true }).then(rows => withJoined(c, rows)),
    readByWord(c, inquiryId),
    pacesOf(c, { inquiryId, userId, rhythm }),
  ])
  const [copies, borrowed] = await Promise.all([readable(c, member, allCopies), borrowedUntil(c, inquiryId, userId)])
  const times = await c.db.pageTimes.findAll({
    where: { userId, copyId: copies.map(x => x.id), seconds: { [Op.gte]: LEAST_ON_A_PAGE } },
    attributes: ['copyId'],
    raw: true,
  })
  const read = new Map([...grouped(times, t => t.copyId)].map(([id, all]) => [id, all.length]))
  const copiesOf = grouped(copies, x => x.workId)
  const words = new Map(entries.map(e => [e.workId, countWords(e.annotation)]))
  const told = new Map(
    works.map(({ id, item, kind }) => {
      // of several, the one that is being read
      const copy = copiesOf.get(id)?.reduce((a, b) => ((read.get(b.id) ?? 0) > (read.get(a.id) ?? 0) ? b : a))
      const work: ToRead = {
        id,
        pages: copy?.pages ?? pageCount(item.page) ?? null,
        pagesRead: copy ? (read.get(copy.id) ?? 0) : 0,
        isRead: byWord.has(id),
        hasCopy: copy !== undefined || borrowed.has(id),
        until: borrowed.get(id) ?? null,
        isBook: item.type === 'book',
        isOverview: kind === 'literature review',
        year: yearOf(item) ?? null,
        isListed: words.has(id),
        words: words.get(id) ?? 0,
      }
      return [id, { work, item, copy }] as const
    }),
  )
  const { wordsFrom = null, wordsTo = null, entriesWanted = null } = inquiry.rules
  const { reading, ...plan } = makePlan({
    ...{ today, due, rhythm, paces, wanted: entriesWanted, words: { from: wordsFrom, to: wordsTo } },
    works: [...told.values()].map(t => t.work),
    ...{ pool: counts.pool, unread: counts.unread },
  })
  return {
    ...{ today, due, paces, plan },
    rhythm: { ...rhythm, free: [...rhythm.free] },
    neededBy: neededBy(due, rhythm),
    reading: reading.map(r => {
      const { item, copy, work } = told.get(r.work)!
      return {
        ...r,
        title: plainTitle(item.title),
        authors: authorLine(item.author ?? item.editor, 2),
        year: work.year,
        copy: copy?.id ?? null,
        isRead: work.isRead,
      }
    }),
  }
}

/** How long things take this student: of decisions in this inquiry, of pages in all that they read. */
async function pacesOf(
  c: Context,
  { inquiryId, userId, rhythm }: { inquiryId: number; userId: number; rhythm: Rhythm },
): Promise<{ page: Pace; entry: Pace; decision: Pace }> {
  const [decisions, pages] = await Promise.all([
    c.db.deeds.findAll({
      where: { inquiryId, userId, kind: 'decision' },
      attributes: ['at'],
      order: [['n', 'DESC']],
      limit: NEWEST.decisions,
      raw: true,
    }),
    rhythm.timed
      ? c.db.pageTimes.findAll({
          where: { userId, seconds: { [Op.gte]: LEAST_ON_A_PAGE } },
          attributes: ['seconds'],
          order: [['copyId', 'DESC']],
          limit: NEWEST.pages,
          raw: true,
        })
      : [],
  ])
  const moments = decisions.map(d => d.at.getTime()).sort((a, b) => a - b)
  return {
    page: paceOf(
      GUESSED.page,
      pages.map(p => p.seconds),
      rhythm.aPage,
    ),
    entry: paceOf(GUESSED.entry, [], rhythm.anEntry),
    decision: paceOf(GUESSED.decision, decisionSeconds(moments)),
  }
}

/** Where reading is timed no more, what was timed of this inquiry's copies is forgotten. */
export async function setRhythm(c: Context, { inquiryId, userId }: Member, rhythm: Rhythm): Promise<void> {
  await change(c, inquiryId, async transaction => {
    await c.db.inquiries.update({ rhythm }, { where: { id: inquiryId }, transaction })
    if (rhythm.timed) return
    const copies = await c.db.copies.findAll({ where: { inquiryId }, attributes: ['id'], transaction, raw: true })
    await c.db.pageTimes.destroy({ where: { userId, copyId: copies.map(x => x.id) }, transaction })
  })
}

/** @param copy its id, looked up as one of the inquiry */
export async function tellReading(
  c: Context,
  { inquiryId, userId, rhythm }: Member,
  { copy, pages }: { copy: number; pages: readonly { page: number; seconds: number }[] },
): Promise<void> {
  const { id, pages: all } = await copyOf(c, { id: copy, inquiryId })
  if (!rhythm.timed) return
  const there = pages.filter(p => p.page <= all)
  await addPageTimes(c, { userId, copyId: id }, there)
}

/** What is said of a work is said of all that were joined into it. */
export async function setRead(
  c: Context,
  { inquiryId }: Member,
  { work, read }: { work: number; read: boolean },
): Promise<void> {
  await change(c, inquiryId, async t => {
    const { works, heir } = await familyOf(c, inquiryId, [work], t)
    if (read) await c.db.worksRead.upsert({ workId: works[0]!, at: new Date() }, { transaction: t })
    else await c.db.worksRead.destroy({ where: { workId: [...heir.keys()] }, transaction: t })
  })
}
