import { Op } from 'sequelize'
import { plainTitle } from '../../core/bib/clean'
import type { Checked, CheckedCopy } from '../../core/cite/checks/finding'
import { needsWords } from '../../core/cite/checks/of-title'
import type { Field } from '../../core/match/best-fields'
import type { Context } from '../base/context'
import { grouped } from '../db/rows'
import { gatedOf } from '../library/gate-service'
import { sourcesOf } from '../pool/lines'
import type { WorkRow } from '../pool/pool-model'
import type { Member } from '../sessions/member'
import { inThread } from '../threads/threads'
import { takenBack } from '../trace/taken-back-service'
import { entriesOf } from './printed-list'
import { doiOf, registrationsOf } from './registrations'
import type { DoiRegistrationRow } from './registrations-model'
import { mannerOf } from '../styles/format'

/** Pages of a copy from which is learned how words are written. */
const ENOUGH_PAGES = 40

/** What was found of the entries of an inquiry, each against its copy, the records of its work and the style. */
export async function checksOf(c: Context, member: Member, asked: string | undefined) {
  const { inquiryId } = member
  const { list, style } = await entriesOf(c, inquiryId, asked)
  const manner = await mannerOf(style)
  const works = list.map(e => e.workId)
  const [records, copies, became, back, registered] = await Promise.all([
    c.db.records.findAll({ where: { workId: works }, order: ['id'], raw: true }),
    c.db.copies.findAll({
      where: { workId: works, outcome: 'proved' },
      attributes: ['id', 'workId', 'version', 'labels', 'parts'],
      // what was brought last is of the version that is meant
      order: [['id', 'DESC']],
      raw: true,
    }),
    becameOf(
      c,
      inquiryId,
      list.map(e => e.work),
    ),
    takenBack(c, member),
    registrationsOf(
      c,
      list.flatMap(e => doiOf(e.work) ?? []),
    ),
  ])
  const recordsOf = grouped(records, r => r.workId!)
  const copyOf = new Map(works.map(w => [w, best(copies.filter(x => x.workId === w))]))
  const doubtful = list.filter(e => needsWords(e.work.item.title, manner)).flatMap(e => copyOf.get(e.workId)?.id ?? [])
  const pages = doubtful.length
    ? await c.db.copyPages.findAll({ where: { copyId: doubtful, page: { [Op.lte]: ENOUGH_PAGES } }, raw: true })
    : []
  const wordsOf = grouped(pages, p => p.copyId)
  const sources = await sourcesOf(c)
  const entries = list.map(({ id, workId, work }): Checked => {
    const copy = copyOf.get(workId)
    return {
      ...{ entry: id, work: workId, item: work.item, facts: work.facts, kind: work.kind },
      chosen: Object.keys(work.said?.fields ?? {}) as Field[],
      records: (recordsOf.get(workId) ?? []).map(r => ({
        ...{ id: r.id, item: r.item, facts: r.facts },
        source: sources(r.source),
      })),
      ...(copy?.parts ? { copy: checkedCopy(copy.id, copy.version, copy.labels, copy.parts) } : {}),
      words: [work.item.abstract ?? '', ...(copy ? (wordsOf.get(copy.id) ?? []) : []).map(p => p.content)].join('\n'),
      became: became.get(workId) ?? [],
      since: back.filter(t => t.work === workId),
      ...registrationIn(registered, work),
      leansOn: back.filter(t => t.citing.includes(workId)),
    }
  })
  const gates = (await gatedOf(c, inquiryId)).map(l => ({ suffix: l.gate.suffix }))
  const told = entries.length ? await inThread('checks', { entries, manner, gates }) : []
  const rightOf = new Map(list.map(e => [e.id, new Set(e.work.said?.right)]))
  const dois = list.flatMap(e => doiOf(e.work) ?? [])
  const days = dois.flatMap(d => registered.get(d)?.day ?? [])
  return {
    style: manner.name,
    registrations: { asked: days.length, of: dois.length, day: days.sort()[0] ?? null },
    entries: told.map(t => ({
      ...t,
      findings: t.findings.map(f => ({ ...f, isRight: rightOf.get(t.entry)!.has(f.key) })),
    })),
  }
}

function registrationIn(rows: ReadonlyMap<string, DoiRegistrationRow>, work: WorkRow): Pick<Checked, 'registration'> {
  const row = rows.get(doiOf(work) ?? '')
  return row ? { registration: { source: row.source, doi: row.doi, item: row.item, facts: row.facts } } : {}
}

/** The version of record before a manuscript, and of equals the one that came last. */
const best = <T extends { version: string }>(copies: readonly T[]): T | undefined =>
  copies.find(x => x.version === 'version of record') ?? copies[0]

function checkedCopy(
  id: number,
  version: string,
  labels: readonly string[],
  { by, front, scan }: { by: readonly string[]; front: CheckedCopy['front']; scan?: unknown },
): CheckedCopy {
  return {
    id,
    version,
    labels,
    front,
    arePrinted: by.includes('printed') || by.includes('file'),
    isScan: Boolean(scan),
  }
}

/** Articles of the pool that a conference paper became. */
async function becameOf(
  c: Context,
  inquiryId: number,
  works: readonly WorkRow[],
): Promise<Map<number, Checked['became'][number][]>> {
  const out = new Map<number, Checked['became'][number][]>()
  const papers = works.filter(w => w.kind === 'conference paper').map(w => w.id)
  if (!papers.length) return out
  const own = await c.db.records.findAll({ where: { workId: papers }, attributes: ['id', 'workId'], raw: true })
  const workOf = new Map(own.map(r => [r.id, r.workId!]))
  const ids = [...workOf.keys()]
  const links = await c.db.pairLinks.findAll({
    where: { inquiryId, verdict: 'linked', [Op.or]: [{ a: ids }, { b: ids }] },
    raw: true,
  })
  const others = await c.db.records.findAll({
    where: { id: links.map(l => (workOf.has(l.a) ? l.b : l.a)) },
    attributes: ['id', 'workId'],
    raw: true,
  })
  const became = await c.db.works.scope('living').findAll({
    where: { id: others.flatMap(o => o.workId ?? []), kind: 'research article' },
    attributes: ['id', 'item'],
    raw: true,
  })
  for (const l of links) {
    const [paper, other] = workOf.has(l.a) ? [l.a, l.b] : [l.b, l.a]
    const article = became.find(w => w.id === others.find(o => o.id === other)?.workId)
    const of = workOf.get(paper)!
    if (article) out.set(of, [...(out.get(of) ?? []), { work: article.id, title: plainTitle(article.item.title) }])
  }
  return out
}
