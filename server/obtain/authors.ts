import type { Transaction } from 'sequelize'
import { MOST_LETTERS, standOfAuthor, type AskedAuthor } from '../../core/access/asked-author'
import { authorMails } from '../../core/access/author-mail'
import { plainTitle } from '../../core/bib/clean'
import { nameKey, spokenName } from '../../core/bib/names'
import type { Context } from '../base/context'
import { notFound, Problem } from '../base/problem'
import { readable } from '../copies/copy-rights'
import { grouped } from '../db/rows'
import { familyOf, heirsOf } from '../deeds/family'
import type { Member } from '../sessions/member'

type Who = Pick<Member, 'inquiryId' | 'userId' | 'day'>

/** The letters of a member to authors, by work. */
export async function authorsAsked(
  c: Context,
  { inquiryId, userId }: Pick<Who, 'inquiryId' | 'userId'>,
): Promise<Map<number, AskedAuthor>> {
  const rows = await c.db.authorLetters.findAll({ where: { inquiryId, userId }, raw: true })
  // of two works that were joined since, the letters of both
  const heir = await heirsOf(
    c,
    inquiryId,
    rows.map(r => r.workId),
  )
  const of = grouped(rows, r => heir.get(r.workId) ?? r.workId)
  return new Map(
    [...of].map(([work, letters]) => [
      work,
      {
        wrote: letters
          .flatMap(l => l.wrote)
          .toSorted()
          .slice(-MOST_LETTERS),
        declined: letters.some(l => l.declined),
      },
    ]),
  )
}

/**
 * Notes on which days the member wrote to the author of a work, and whether that one said no; without a day, that no
 * letter was sent.
 * @throws Problem 422 where a day is still to come, or earlier than the one before
 */
export async function noteLetters(
  c: Context,
  { inquiryId, userId, day }: Who,
  workId: number,
  { wrote, declined }: { wrote: string[]; declined: boolean },
  transaction: Transaction,
): Promise<void> {
  if (!(await c.db.works.scope('living').count({ where: { id: workId, inquiryId }, transaction }))) throw notFound()
  if (wrote.length > MOST_LETTERS || wrote.some((d, i) => d > day || d < (wrote[i - 1] ?? '')))
    throw new Problem(422, 'letter-days', 'A letter was written today or before, a second one after the first.')
  if (wrote.length) {
    const { is, until } = standOfAuthor({ wrote, declined }, day)
    const remindOn = is === 'waiting' ? until : null
    await c.db.authorLetters.upsert({ workId, userId, inquiryId, wrote, declined, remindOn }, { transaction })
  } else await c.db.authorLetters.destroy({ where: { workId, userId }, transaction })
  // what stood with works that were joined into it is in what is said now
  const { heir } = await familyOf(c, inquiryId, [workId], transaction)
  const before = [...heir.keys()].filter(w => w !== workId)
  if (before.length) await c.db.authorLetters.destroy({ where: { workId: before, userId }, transaction })
}

/** Copies of which the pages are looked at, and pages of each at its beginning. */
const [COPIES, PAGES] = [40, 2]

/**
 * Addresses of the authors of a work, as copies show them that the member may open: of this work, and of others by one
 * of them; the first author's first.
 */
export async function authorAddresses(
  c: Context,
  { inquiryId, userId, day }: Who,
  workId: number,
): Promise<{ mail: string; name: string; said: string }[]> {
  const work = await c.db.works.scope('living').findOne({ where: { id: workId, inquiryId }, raw: true })
  if (!work) throw notFound()
  const wanted = (work.item.author ?? []).map(nameKey)
  const copies = await c.db.copies.findAll({
    where: { inquiryId, outcome: 'proved' },
    attributes: ['id', 'workId'],
    order: [['id', 'DESC']],
    raw: true,
  })
  const open = await readable(c, { userId, day }, copies)
  const works = await c.db.works.findAll({
    where: { id: [...new Set(open.map(x => x.workId))] },
    attributes: ['id', 'item'],
    raw: true,
  })
  const byThem = new Map(works.filter(w => w.item.author?.some(a => wanted.includes(nameKey(a)))).map(w => [w.id, w]))
  const near = open.filter(x => byThem.has(x.workId)).slice(0, COPIES)
  const pages = await c.db.copyPages.findAll({
    where: { copyId: near.map(x => x.id), page: Array.from({ length: PAGES }, (_, i) => i + 1) },
    raw: true,
  })
  const found = pages.flatMap(({ copyId, page, content }) => {
    const of = byThem.get(near.find(x => x.id === copyId)!.workId)!
    const authors = of.item.author!
    return authorMails(content, authors).flatMap(({ mail, author }) => {
      const place = wanted.indexOf(nameKey(authors[author]!))
      const said =
        of.id === workId ? `on page ${page} of its copy` : `on page ${page} of “${plainTitle(of.item.title)}”`
      return place < 0 ? [] : [{ mail, said, place }]
    })
  })
  const names = work.item.author ?? []
  return found
    .toSorted((a, b) => a.place - b.place)
    .filter((x, i, all) => all.findIndex(y => y.mail === x.mail) === i)
    .map(({ mail, said, place }) => ({ mail, said, name: spokenName(names[place]!) }))
}
