import { randomUUID } from 'node:crypto'
import { isDeepStrictEqual } from 'node:util'
import type { Transaction } from 'sequelize'
import { contradictions } from '../../core/sift/log'
import type { Context } from '../base/context'
import { notFound, Problem } from '../base/problem'
import { addDeeds, deedsOf, deedsOfGroup, type DeedKind, type DeedRow, type NewDeed } from './deeds-model'
import { familyOf, type Family } from './family'

/** Whose deed it is, and in which write. */
export interface By {
  inquiryId: number
  userId: number
  revision: number
}
export interface Deed {
  /** Made by the client. */
  id: string
  work: number
  kind: Exclude<DeedKind, 'undo'>
  about: string
  value: unknown
}
export interface Done {
  revision: number
  /** The works that may stand differently now. */
  works: number[]
}

/** What follows of lines of a kind that were added or taken back. @returns further works that this touched */
export type Follow = (
  context: Context,
  by: Pick<By, 'inquiryId' | 'revision'>,
  family: Family,
  lines: { lines: readonly Line[]; undone: boolean },
  t: Transaction,
) => Promise<readonly number[]>
/** Each station gives what follows of its kinds. */
export type DeedKinds = Record<Deed['kind'], Follow>

declare module '../base/context' {
  interface Context {
    deedKinds: DeedKinds
  }
}

/** A line that was just added or taken back. */
export type Line = Pick<DeedRow, 'kind' | 'about' | 'value'>

/**
 * Writes deeds into the log, and what follows of them into the works. A deed that is there already, by its id, is not
 * done twice.
 * @throws Problem 409 where an id stands for another deed; 422 where a work is not in the pool
 */
export async function act(
  context: Context,
  by: By,
  group: string,
  deeds: readonly Deed[],
  t: Transaction,
  family?: Family,
): Promise<Done> {
  const works =
    family ??
    (await familyOf(
      context,
      by.inquiryId,
      deeds.map(d => d.work),
      t,
    ))
  const rows = new Map<string, NewDeed>()
  const { inquiryId, userId, revision } = by
  for (const { work, ...deed } of deeds) {
    const row = {
      ...deed,
      value: deed.value ?? null,
      groupId: group,
      inquiryId,
      userId,
      revision,
      workId: works.heir.get(work)!,
    }
    const twin = rows.get(row.id)
    if (twin && !sameDeed(twin, row)) throw idReused()
    rows.set(row.id, row)
  }
  for (const { given, there } of await addDeeds(context, [...rows.values()], t))
    if (!sameDeed(given, there)) throw idReused()
  return { revision: by.revision, works: await follow(context, by, works, [...rows.values()], false, t) }
}

const idReused = (): Problem =>
  new Problem(409, 'id-reused', 'This id stands for another deed that was done before. Nothing was changed.')

/** The same deed sent again; its work may have been joined into another since. */
const sameDeed = (a: NewDeed, b: NewDeed | DeedRow): boolean =>
  a.inquiryId === b.inquiryId && a.kind === b.kind && a.about === b.about && isDeepStrictEqual(a.value, b.value)

async function follow(
  context: Context,
  by: By,
  family: Family,
  lines: readonly Line[],
  undone: boolean,
  t: Transaction,
): Promise<number[]> {
  const touched = new Set(family.works)
  for (const [kind, follows] of Object.entries(context.deedKinds)) {
    const its = lines.filter(l => l.kind === kind)
    if (its.length) for (const w of await follows(context, by, family, { lines: its, undone }, t)) touched.add(w)
  }
  return [...touched]
}

/**
 * Takes a group back, wherever nothing later spoke of the same. What was taken back already stays so.
 * @param id of the line that says so, made by the client
 * @throws Problem 404 where there is no such group; 409 where a later deed stands in the way
 */
export async function takeBack(context: Context, by: By, group: string, id: string, t: Transaction): Promise<Done> {
  const found = await deedsOfGroup(context, by.inquiryId, group, t)
  const lines = found.filter(l => l.groupId === group && l.kind !== 'undo')
  if (!lines.length) throw notFound()
  const works = [...new Set(lines.map(l => l.workId))]
  if (found.some(l => l.undoes === group)) return { revision: by.revision, works }
  const kinds = [...new Set(lines.map(l => l.kind))]
  const log = await deedsOf(context, by.inquiryId, works, kinds, t)
  const blocked = contradictions(
    log.map(d => ({ group: d.groupId, work: d.workId, undoes: d.undoes, matter: `${d.kind} ${d.about}` })),
    group,
    d => d.matter,
  )
  if (blocked.length)
    throw new Problem(
      409,
      'decided-since',
      'This cannot be undone: the work was decided again since. Undo the later decision first.',
      { works: blocked },
    )
  await addDeeds(
    context,
    works.map((workId, i) => ({
      id: i ? randomUUID() : id,
      groupId: id,
      inquiryId: by.inquiryId,
      workId,
      kind: 'undo',
      about: '',
      value: null,
      undoes: group,
      userId: by.userId,
      revision: by.revision,
    })),
    t,
  )
  const family = await familyOf(context, by.inquiryId, works, t)
  const touched = await follow(context, by, family, lines, true, t)
  return { revision: by.revision, works: [...new Set([...works, ...touched])] }
}
