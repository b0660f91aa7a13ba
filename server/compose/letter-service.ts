import { randomUUID } from 'node:crypto'
import type { InferType } from 'yup'
import { plainTitle } from '../../core/bib/clean'
import { plainText } from '../../core/cite/rich-text'
import { entriesIn, writingOf, type Paper } from '../../core/paper/bibliography'
import { formatOf } from '../../core/paper/formats'
import type { Layout } from '../../core/paper/layout'
import { asPlainText } from '../../core/paper/plain'
import type { letterGiven } from '../../core/schema/api/compose'
import type { Context } from '../base/context'
import { notFound, Problem } from '../base/problem'
import { spendLetter } from '../connect/budget'
import { OutsideError } from '../connect/http'
import { sendMail } from '../connect/mail'
import { sizesOfBlobs } from '../db/blobs'
import type { Member } from '../sessions/member'
import { bibliographyOf } from '../styles/format'
import { copiesOf } from './bundle'
import { citationsIn, documentIn, nameOf, requireEntries, type Single, type State } from './files'
import { paperOf } from './paper-service'
import { exportedItem, layoutOf, listForCiting } from './printed-list'

type Given = InferType<typeof letterGiven>
/** Letters of a list that stand in the letter itself. */
const MOST_TEXT = 200_000

/** Works that are named as a list in the style of the inquiry, without annotations; they stand as they were named. */
async function listOf(c: Context, { inquiryId, day }: Member, works: readonly number[]): Promise<State> {
  const [inquiry, { items, style }] = await Promise.all([
    c.db.inquiries.findByPk(inquiryId, { raw: true }),
    listForCiting(c, inquiryId, works),
  ])
  const wanted = new Set(works.map(String))
  const own = items.filter(i => wanted.has(i.id))
  if (!inquiry || own.length < wanted.size) throw notFound()
  const { entries, hangingIndent } = await bibliographyOf(style, [own])
  const itemOf = new Map(own.map(i => [i.id, i]))
  const layout: Layout = { ...layoutOf(inquiry), cover: false, annotated: false }
  const paper: Paper = {
    ...{ title: entries.length === 1 ? 'One work' : `${entries.length} works`, question: inquiry.question, day },
    ...{ author: '', course: '', opening: '', closing: '', hangingIndent },
    ...{ style: style.style, styleName: style.name, language: inquiry.language },
    sections: [
      {
        ...{ heading: null, strand: null, text: '' },
        entries: entries.map(e => {
          const item = itemOf.get(e.id)!
          return {
            ...{ entry: 0, work: Number(e.id), title: plainTitle(item.title), citation: e.citation, annotation: '' },
            ...{ inText: plainText(e.inText), item: exportedItem({ ...item, id: '' }, Number(e.id)) },
            ...(e.label ? { label: e.label } : {}),
          }
        }),
      },
    ],
  }
  return { paper, layout }
}
const stateOf = async (c: Context, member: Member, works: readonly number[] | undefined): Promise<State> => {
  const state = works ? await listOf(c, member, works) : await paperOf(c, member)
  requireEntries(state.paper)
  return state
}

async function addressOf(c: Context, userId: number): Promise<string> {
  const user = await c.db.users.findByPk(userId, { attributes: ['email'], raw: true })
  if (!user) throw notFound()
  return user.email
}

/** The proved copies of a list, with their sizes. */
async function sizedCopies(c: Context, member: Member, { paper, layout }: State) {
  const { copies } = await copiesOf(c, member, paper, layout.names)
  const sizes = await sizesOfBlobs(
    c.db,
    copies.map(x => x.hash),
  )
  return copies.map(x => ({ ...x, bytes: sizes.get(x.hash) ?? 0 }))
}

/** What a letter could carry. */
export async function letterParts(c: Context, member: Member, works: readonly number[] | undefined) {
  const state = await stateOf(c, member, works)
  const copies = await sizedCopies(c, member, state)
  const { mail } = c.settings.outside
  return {
    canMail: mail !== undefined,
    works: entriesIn(state.paper).length,
    copies: copies.map(({ work, title, version, bytes, shared }) => ({ work, title, version, bytes, shared })),
    mostBytes: mail?.mostBytes ?? 0,
  }
}

/**
 * Mails a list with what is wanted of it. To others go the copies that are open to everybody. Those
 * that one letter has no room for are named, with where they are.
 * @throws Problem 422 where no mail is set up or it is too much for a letter; 429 after too many letters; 502 where the mail
 *   server does not take it
 */
export async function sendLetter(c: Context, member: Member, given: Given) {
  const { mail } = c.settings.outside
  if (!mail) throw new Problem(422, 'no-mail', 'No mail is set up here. Save the files, and send them from your own.')
  const own = await addressOf(c, member.userId)
  const isOwn = given.to.toLowerCase() === own.toLowerCase()
  // before anything is made for it
  spendLetter(member.userId, mail.mostLetters)
  const state = await stateOf(c, member, given.works)
  const { paper, layout } = state
  const writing = writingOf(paper, layout)
  const name = nameOf(paper)
  const files: { filename: string; content: Buffer; contentType: string }[] = []
  const add = (filename: string, contentType: string, content: string | Buffer) =>
    files.push({ filename, contentType, content: Buffer.from(content) })
  if (given.document) {
    const { ending, type } = formatOf(given.document)
    add(`${name}.${ending}`, type, await documentIn(given.document as Single, writing, paper))
  }
  if (given.citations) {
    const { ending, type } = formatOf(given.citations)
    add(`citations.${ending}`, type, citationsIn(given.citations, paper))
  }
  let room = mail.mostBytes - files.reduce((n, f) => n + f.content.length, 0)
  if (room < 0)
    throw new Problem(
      422,
      'too-large',
      'This is more than one letter may carry. Leave a file out, or save it from here.',
    )
  const left: string[] = []
  const copies = given.copies ? await sizedCopies(c, member, state) : []
  const kept = isOwn ? [] : copies.filter(x => !x.shared).map(x => x.title)
  for (const x of isOwn ? copies : copies.filter(y => y.shared)) {
    if (x.bytes > room) {
      left.push(x.title)
      continue
    }
    room -= x.bytes
    const parts: Buffer[] = []
    for await (const part of x.body()) parts.push(part)
    add(x.name.replace(/^copies\//, ''), 'application/pdf', Buffer.concat(parts))
  }
  const list = asPlainText(writing)
  const at = `${c.settings.address}/inquiries/${member.inquiryId}`
  // the bundle has the copies of entries alone
  const where = given.works ? `They are read at ${at}/read` : `All are in the bundle at ${at}/compose/hand-in`
  try {
    await sendMail(c, {
      ...{ to: given.to, replyTo: own, id: `list-${randomUUID()}`, attachments: files },
      subject: `${paper.title}: ${paper.question}`.slice(0, 180),
      text: [
        ...(given.note ? [given.note, ''] : []),
        list.length > MOST_TEXT ? `${list.slice(0, MOST_TEXT)}\n…` : list,
        ...(left.length
          ? ['', `There was no room for ${left.length === 1 ? 'one copy' : `${left.length} copies`}:`, ...left, where]
          : []),
        ...['', `Sent with Vine Path for ${own}.`],
      ].join('\n'),
    })
  } catch (e) {
    if (e instanceof OutsideError)
      throw new Problem(502, 'mail-failed', `${e.message} Nothing went out: look at the address, or try again later.`)
    throw e
  }
  return { to: given.to, files: files.map(f => ({ name: f.filename, bytes: f.content.length })), left, kept }
}
