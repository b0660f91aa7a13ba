import type { Deed } from '../../core/sift/line'
import type { Context } from '../base/context'
import type { Decided } from './decisions'
import { deedGroups, type Grouped } from './history-model'

type Dated = Omit<Deed, 'at'> & { at: Date }

/** What was done in an inquiry, the latest first: decisions and words by their groups, arrivals, sweeps and checks. */
export async function historyOf(
  c: Context,
  inquiryId: number,
  { before = new Date('9999-01-01'), limit = 100 }: { before?: Date | undefined; limit?: number | undefined },
): Promise<Deed[]> {
  const latest = { where: { inquiryId }, order: [['id', 'DESC'] as [string, string]], limit, raw: true as const }
  const [groups, arrivals, sweeps, checks] = await Promise.all([
    deedGroups(c, { inquiryId, work: undefined, before, limit }),
    c.db.arrivals.findAll(latest),
    c.db.sweeps.findAll({ ...latest, attributes: ['id', 'query', 'name', 'at'] }),
    c.db.checks.findAll(latest),
  ])
  const ids = [...arrivals, ...checks].flatMap(x => x.userId ?? [])
  const users = ids.length
    ? await c.db.users.findAll({ where: { id: [...new Set(ids)] }, attributes: ['id', 'name'], raw: true })
    : []
  const names = new Map(users.map(u => [u.id, u.name]))
  const plain = (
    what: Deed['what'],
    row: { at: Date; userId?: number | null },
    works: number,
    detail: Record<string, unknown>,
  ): Dated => ({
    at: row.at,
    who: names.get(row.userId ?? 0) ?? null,
    what,
    group: null,
    undone: false,
    works,
    first: null,
    detail,
  })
  return [
    ...groups.map(tell),
    ...arrivals.map(a => {
      const { id, how, records, newWorks, known } = a
      return plain('arrival', a, newWorks + known, { id, how, records, newWorks, known })
    }),
    ...sweeps.map(s => plain('sweep', s, 0, { id: s.id, query: s.query, name: s.name })),
    ...checks.map(k => plain('check', k, k.drawn.length, { n: k.n, size: k.size })),
  ]
    .filter(d => d.at < before)
    .sort((a, b) => b.at.getTime() - a.at.getTime())
    .slice(0, limit)
    .map(d => ({ ...d, at: d.at.toISOString() }))
}

/** How works came into the pool, the latest first. */
export const arrivalsOf = (c: Context, inquiryId: number) =>
  c.db.arrivals.findAll({
    where: { inquiryId },
    attributes: ['id', 'how', 'records', 'newWorks', 'known', 'at'],
    order: [['id', 'DESC']],
    raw: true,
  })

/** What was done with one work, the latest first. */
export async function historyOfWork(c: Context, inquiryId: number, work: number): Promise<Deed[]> {
  const groups = await deedGroups(c, { inquiryId, work, before: new Date('9999-01-01'), limit: 200 })
  return groups.map(g => ({ ...tell(g), at: g.at.toISOString() }))
}

const tell = (g: Grouped): Dated => ({
  at: g.at,
  who: g.who,
  what: g.kind === 'pair' ? 'mark' : g.kind,
  group: g.undoes ? null : g.groupId,
  undone: g.undone,
  works: g.works,
  first: { id: g.first, title: g.title ?? 'Untitled' },
  detail: detailOf(g),
})

/** What a line says, by its kind. */
function detailOf({ kind, about, value, matters }: Grouped): Record<string, unknown> {
  if (kind === 'undo') return {}
  if (kind === 'decision') return { pass: about, ...(value as Decided) }
  // how links stood before is for undoing, not for reading
  if (kind === 'pair') return { about: `pair:${about}`, value: (value as { verdict: string }).verdict, all: matters }
  return { about, value, all: matters }
}
