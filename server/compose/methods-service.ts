import { methodsWriting, type MethodsFacts } from '../../core/paper/methods'
import { formatOf } from '../../core/paper/formats'
import type { Writing } from '../../core/paper/writing'
import { notFound } from '../base/problem'
import type { Context } from '../base/context'
import { sweepsOf } from '../gather/sweeps-service'
import { citationsName } from '../connect/connectors'
import { librariesOf } from '../library/libraries'
import { flowOfPool } from '../pool/work-service'
import type { Member } from '../sessions/member'
import { roundsWalked } from '../trace/graph-model'
import { documentIn, type MadeFile, type Single } from './files'
import { layoutOf } from './printed-list'

/** How the works of an inquiry were searched for and chosen, as a document. */
export async function methodsOf(c: Context, { inquiryId, day }: Pick<Member, 'inquiryId' | 'day'>): Promise<Writing> {
  const where = { inquiryId }
  const [inquiry, sweeps, libraries, imports, rounds, lists, author, flows, people] = await Promise.all([
    c.db.inquiries.findByPk(inquiryId, { raw: true }),
    sweepsOf(c, inquiryId, 'first'),
    librariesOf(c, inquiryId),
    c.db.imports.findAll({ where: { inquiryId, state: 'done' }, order: ['id'], raw: true }),
    roundsWalked(c, inquiryId),
    c.db.lists.count({ where }),
    c.db.listTexts.findOne({ where: { inquiryId, place: 'author' }, raw: true }),
    flowOfPool(c, inquiryId),
    c.db.memberships.count({ where: { inquiryId, role: 'owner' } }),
  ])
  if (!inquiry) throw notFound()
  const both = [flows.catalogues, flows.others]
  const facts: MethodsFacts = {
    ...{ question: inquiry.question, author: author?.content ?? '', day, rules: inquiry.rules, flows, lists, people },
    libraries: libraries.map(l => l.name),
    sweeps,
    files: imports.map(i => ({ name: i.fileName, records: i.report?.read ?? 0 })),
    rounds,
    index: citationsName(c),
    records: both.reduce((n, f) => n + f.joined + f.works, 0),
    works: both.reduce((n, f) => n + f.works, 0),
  }
  return methodsWriting(facts, layoutOf(inquiry))
}

/** The same in a format of one file. */
export async function methodsFile(c: Context, member: Member, format: Single): Promise<MadeFile> {
  const { ending, type } = formatOf(format)
  return { name: `methods.${ending}`, type, body: await documentIn(format, await methodsOf(c, member)) }
}
