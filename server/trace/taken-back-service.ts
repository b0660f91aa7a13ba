import { saidOfItself, takenBackAmong, VERDICTS, verdictOf, type TakenBack } from '../../core/appraise/taken-back'
import { plainTitle } from '../../core/bib/clean'
import type { Answer } from '../../core/schema/api'
import type { Context } from '../base/context'
import { memory } from '../base/memory'
import { citationsName } from '../connect/connectors'
import { grouped } from '../db/rows'
import { sourcesOf } from '../pool/lines'
import type { Member } from '../sessions/member'
import { inThread } from '../threads/threads'
import { nodesOfWorks } from './graph-model'
import { citingWorks, NOT_THERE } from './said-service'
import { titlesAround, updatesAround, type Titled, type Updated } from './taken-back-model'

/** What is told of at most, and of how much of it who cites it; of more the gravest. */
const [MOST, READ] = [200, 20]
/** Fewer titles than this are looked through at once; more in a thread. */
const FEW = 500

type Told = Answer<'takenBack'>[number]
/** A work by all that it is called, and what is said of it. */
interface Found extends Pick<TakenBack, 'says'> {
  of: Titled[]
  by: Titled[] | null
  /** Where a source says so otherwise than by a title: who does, since when, and by which notice. */
  said?: { updated: Updated; notice: string }
}
/** Titles change with what comes in, and every step counts the inquiry on. */
const found = memory<Found[]>({ holds: 600_000, most: 200 })

/**
 * What was taken back or corrected among the works of the pool and those around it, by their own titles in one source or
 * another and by notices there; with the works of the pool that cite it.
 */
export async function takenBack(c: Context, member: Member): Promise<Told[]> {
  const { inquiryId } = member
  const inquiry = await c.db.inquiries.findByPk(inquiryId, { attributes: ['revision'], raw: true })
  const told = await found.get(c, `${inquiryId} ${inquiry?.revision}`, () => foundIn(c, inquiryId))
  if (!told.length) return []
  const names = await sourcesOf(c)
  const out: Told[] = []
  for (const { of, says, by, said } of told) {
    const isNamed = said?.updated.isRegistered
    // who says it: a source that calls it so, or the one that has the notice
    const from = said?.updated ?? by?.[0] ?? of.find(t => saidOfItself(plainTitle(t.title, ''))) ?? of[0]!
    const subject = numbers(of)
    out.push({
      ...subject,
      says,
      title: plainTitle(of[0]!.title, ''),
      by: by && { ...numbers(by), title: plainTitle(by[0]!.title, '') },
      notice: said && !by ? said.notice : null,
      source: isNamed ? from.source : from.source === 'trail' ? citationsName(c) : names(from.source),
      at: from.at.toISOString(),
      citing: says === 'corrected' || out.length >= READ ? [] : await readersOf(c, member, subject),
    })
  }
  return out
}

async function foundIn(c: Context, inquiryId: number): Promise<Found[]> {
  const [all, updates] = await Promise.all([titlesAround(c, inquiryId), updatesAround(c, inquiryId)])
  const byKey = grouped(all, keyOf)
  const things = [...byKey.values()]
  const titles = things.map(list => [...new Set(list.map(t => plainTitle(t.title, '')))])
  const told = titles.length < FEW ? takenBackAmong(titles) : await inThread('takenBack', { titles })
  const found = told.map(({ at, says, by }): Found => ({ of: things[at]!, says, by: by === null ? null : things[by]! }))
  // what a title or a notice at hand says needs no other word
  const known = new Set(found.map(f => `${keyOf(f.of[0]!)} ${f.says}`))
  for (const f of registeredIn(updates, byKey)) {
    const key = `${keyOf(f.of[0]!)} ${f.says}`
    if (known.has(key)) continue
    known.add(key)
    found.push(f)
  }
  return found.sort((a, b) => VERDICTS.indexOf(a.says) - VERDICTS.indexOf(b.says)).slice(0, MOST)
}

const keyOf = ({ work, node }: Pick<Titled, 'work' | 'node'>): string => (work === null ? `p${node}` : `w${work}`)

/** What sources say of changes in so many words, from the side of the work or of the notice. */
function registeredIn(updates: readonly Updated[], byKey: ReadonlyMap<string, Titled[]>): Found[] {
  const byDoi = new Map([...byKey.values()].flatMap(of => of.flatMap(t => (t.doi ? [[t.doi, of] as const] : []))))
  return updates.flatMap(updated => {
    const own = byKey.get(keyOf(updated))
    if (!own) return []
    const told = (type: string, of: Titled[] | undefined, by: Titled[] | null, notice: string): Found[] => {
      const says = verdictOf(type)
      return says && of && of !== by ? [{ of, says, by, said: { updated, notice } }] : []
    }
    return [
      ...updated.updatedBy.flatMap(u => told(u.type, own, byDoi.get(u.doi) ?? null, u.doi)),
      ...updated.updates.flatMap(u => told(u.type, byDoi.get(u.doi), own, u.doi)),
    ]
  })
}

const numbers = ([first]: readonly Titled[]): { work: number | null; node: number | null } => ({
  work: first!.work,
  node: first!.work === null ? first!.node : null,
})

/** Works of the pool that cite it, by the graph or by the lists of copies. */
async function readersOf(c: Context, member: Member, { work, node }: { work: number | null; node: number | null }) {
  const { inquiryId } = member
  const [subject, nodes] = await Promise.all([
    work === null
      ? c.db.nodes.findOne({ where: { id: node!, inquiryId }, attributes: ['item'], raw: true })
      : c.db.works.findOne({ where: { id: work, inquiryId }, attributes: ['item'], raw: true }),
    work === null ? [node!] : nodesOfWorks(c, inquiryId, [work]).then(list => list.map(n => n.node)),
  ])
  return subject ? citingWorks(c, member, { work: work ?? NOT_THERE, item: subject.item, nodes }) : []
}
