import { Op } from 'sequelize'
import { standOfAuthor } from '../../core/access/asked-author'
import { sayIso } from '../../core/access/coverage'
import { plainTitle } from '../../core/bib/clean'
import type { Context } from '../base/context'
import { sendMail } from '../connect/mail'
import { readable } from '../copies/copy-rights'
import { deskDay } from '../db/desk-day'
import { change } from '../db/revision'
import { grouped } from '../db/rows'
import { enqueue, type JobHandle } from '../jobs/queue'
import { heirsOf } from '../deeds/family'
import { authorsAsked } from './authors'

/** Queues a mail for each member whose letters to authors were not answered in a week. @returns how many letters */
export async function remindOfLetters(c: Context): Promise<number> {
  const due = { remindOn: { [Op.lte]: await deskDay(c.db) } }
  const rows = await c.db.authorLetters.findAll({ where: due, limit: 2000, raw: true })
  for (const of of grouped(rows, r => `${r.inquiryId} ${r.userId}`).values()) {
    const { inquiryId, userId } = of[0]!
    await change(c, inquiryId, async transaction => {
      const where = { ...due, userId, inquiryId }
      const mine = await c.db.authorLetters.findAll({ where, transaction, lock: transaction.LOCK.UPDATE, raw: true })
      // another process was faster
      if (!mine.length) return
      const works = mine.map(r => r.workId)
      await c.db.authorLetters.update({ remindOn: null }, { where: { userId, workId: works }, transaction })
      await enqueue(c, 'reminder', inquiryId, userId, { works }, transaction)
    })
  }
  return rows.length
}

/** Tells a member by mail of which authors nothing came, as far as their texts are still wanted. */
export async function runReminder(c: Context, { job }: JobHandle): Promise<Record<string, unknown>> {
  const inquiryId = job.inquiryId!
  const userId = job.userId!
  const day = await deskDay(c.db)
  const asked = job.payload.works as number[]
  const heir = await heirsOf(c, inquiryId, asked)
  const works = await c.db.works.scope('living').findAll({
    where: { id: [...heir.values()], inquiryId, state: 'kept' },
    attributes: ['id', 'item'],
    raw: true,
  })
  const ids = works.map(w => w.id)
  const copies = await c.db.copies.findAll({
    where: { workId: ids, outcome: 'proved' },
    attributes: ['id', 'workId'],
    raw: true,
  })
  const inHand = new Set((await readable(c, { userId, day }, copies)).map(x => x.workId))
  const letters = await authorsAsked(c, { inquiryId, userId })
  const silent = works.flatMap(({ id, item }) => {
    const letter = letters.get(id)
    if (inHand.has(id) || !letter) return []
    const { wrote } = letter
    const { is } = standOfAuthor(letter, day)
    const on = wrote.map(sayIso).join(' and on ')
    const said = {
      'write again': `You wrote on ${on}. A second letter is ready for you.`,
      'no answer': `You wrote on ${on}, and nothing came. Its other ways are laid out for you.`,
      waiting: undefined,
      declined: undefined,
    }[is]
    return said ? [{ title: plainTitle(item.title), said }] : []
  })
  const told = silent.length
  const user = await c.db.users.findByPk(userId, { attributes: ['email'], raw: true })
  const inquiry = await c.db.inquiries.findByPk(inquiryId, { attributes: ['title'], raw: true })
  // the page says it, too: where no mail is set up that is all
  if (!told || !user || !inquiry || !c.settings.outside.mail) return { told: 0 }
  await sendMail(c, {
    to: user.email,
    id: `reminder-${job.id}`,
    subject: `No answer ${told === 1 ? 'to a letter' : `to ${told} letters`} yet: ${inquiry.title}`,
    text: [
      `Authors whom you asked for a text for “${inquiry.title}” have not answered:`,
      '',
      ...silent.flatMap(({ title, said }) => [title, `  ${said}`, '']),
      `See them: ${c.settings.address}/inquiries/${inquiryId}/obtain`,
    ].join('\n'),
  })
  return { told }
}
