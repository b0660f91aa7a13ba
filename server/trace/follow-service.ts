import type { Transaction } from 'sequelize'
import { bareNumber } from '../../core/bib/grants'
import { normaliseAuthorId, normaliseDoi } from '../../core/bib/identifiers'
import type { CallName } from '../../core/connectors/description'
import type { Values } from '../../core/connectors/request'
import type { Answer } from '../../core/schema/api'
import type { Follow } from '../../core/schema/api/follow'
import type { Context } from '../base/context'
import { Problem } from '../base/problem'
import { connectorsFor } from '../connect/connectors'
import { enqueue } from '../jobs/queue'
import { livingWork } from '../pool/work-service'
import type { Member } from '../sessions/member'
import { hitsOf } from './follow-model'

/** The call by which each is asked for. */
export const CALL = { author: 'byAuthor', grant: 'byGrant', data: 'data' } as const satisfies Record<Follow, CallName>

/** As long as a subject is kept. */
const LONGEST = 190
/** What a grant is kept under. */
export const grantSubject = (number: string): string => bareNumber(number).slice(0, LONGEST)

/** Who can be asked, and what they said last of any of these. */
export async function followed(
  c: Context,
  inquiryId: number,
  what: Follow,
  subjects: readonly string[],
): Promise<Answer<'author'>['asked']> {
  const { asked } = await hitsOf(c, inquiryId, what, subjects)
  const last = asked.toSorted((a, b) => (a.day < b.day ? 1 : -1))[0]
  return {
    of: connectorsFor(c.settings.outside, CALL[what])[0]?.name ?? '',
    subject: subjects[0] ?? '',
    last: last ? { source: last.source, day: last.day, total: last.total, got: last.got, trouble: last.trouble } : null,
  }
}

/** What a job is given. */
interface FollowPayload {
  what: Follow
  subject: string
  values: Omit<Values, 'key'>
}

/**
 * Queues the asking for what can be followed.
 * @throws Problem 422 where nobody can be asked, or for nothing; 404 where there is no such work
 */
export async function follow(
  c: Context,
  { inquiryId, userId }: Pick<Member, 'inquiryId' | 'userId'>,
  asked: {
    what: Follow
    author?: string | undefined
    number?: string | undefined
    funder?: string | undefined
    work?: number | undefined
  },
  t: Transaction,
): Promise<{ job: number }> {
  const { what } = asked
  if (!connectorsFor(c.settings.outside, CALL[what]).length)
    throw new Problem(422, 'no-index', 'Nobody who could be asked for this is set up here.')
  const payload: FollowPayload = { what, ...(await subjectOf(c, inquiryId, asked)) }
  return { job: await enqueue(c, 'follow', inquiryId, userId, { ...payload }, t) }
}

async function subjectOf(
  c: Context,
  inquiryId: number,
  { what, author, number, funder, work }: Parameters<typeof follow>[2],
): Promise<Pick<FollowPayload, 'subject' | 'values'>> {
  if (what === 'author') {
    const id = normaliseAuthorId(author)
    if (!id)
      throw new Problem(422, 'not-an-identifier', 'This is no identifier of an author: its check digit is wrong.', {
        fields: [{ field: 'author', said: 'Sixteen digits, the last of which may be an X.' }],
      })
    return { subject: id, values: { authorId: id } }
  }
  if (what === 'grant') {
    const subject = grantSubject(number ?? '')
    if (!subject)
      throw new Problem(422, 'no-number', 'A grant is found by its number.', {
        fields: [{ field: 'number', said: 'Give its number.' }],
      })
    return { subject, values: { grant: number!.trim(), ...(funder ? { funder } : {}) } }
  }
  const { item } = await livingWork(c, inquiryId, work ?? 0)
  const doi = normaliseDoi(item.DOI)
  if (!doi || doi.length > LONGEST)
    throw new Problem(422, 'no-doi', 'Data are looked for by the DOI of the work, and it has none on record.')
  return { subject: doi, values: { doi } }
}
