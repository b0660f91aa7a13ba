import { licenceName } from '../../core/access/copy-rights'
import { plainTitle } from '../../core/bib/clean'
import { yearOf } from '../../core/bib/dates'
import { doiAddress, isAddress, normaliseDoi } from '../../core/bib/identifiers'
import type { DataLink, Facts, Item } from '../../core/bib/item'
import type { Answer } from '../../core/schema/api'
import type { Context } from '../base/context'
import { memory } from '../base/memory'
import { readable } from '../copies/copy-rights'
import { pagesOf } from '../copies/texts'
import { livingWork } from '../pool/work-service'
import type { Member } from '../sessions/member'
import { inThread } from '../threads/threads'
import { signedIn } from './author-model'
import { dataInPool, hitsOf } from './follow-model'
import { followed } from './follow-service'
import { worksOfNodes } from './graph-model'

/** What the pool says of data changes with what comes in, and every step counts the inquiry on. */
const inPool = memory<Awaited<ReturnType<typeof dataInPool>>>({ holds: 600_000, most: 200 })

type Data = Answer<'beside'>['data'][number]

/** What stands beside a work: grants, data and where they lie, or what it is the data of. */
export async function beside(c: Context, member: Member, id: number): Promise<Answer<'beside'>> {
  const { inquiryId } = member
  const work = await livingWork(c, inquiryId, id)
  const { item, facts } = work
  const own = [...new Set([item.DOI, ...(await doisOf(c, work.id))].flatMap(d => normaliseDoi(d) ?? []))]
  const inquiry = await c.db.inquiries.findByPk(inquiryId, { attributes: ['revision'], raw: true })
  const [pool, { nodes: hits }, said] = await Promise.all([
    inPool.get(c, `${inquiryId} ${inquiry?.revision}`, () => dataInPool(c, inquiryId)),
    hitsOf(c, inquiryId, 'data', own),
    saidInCopy(c, member, work.id),
  ])
  const [found, works] = await Promise.all([
    signedIn(c, inquiryId, 'nodes', hits),
    signedIn(
      c,
      inquiryId,
      'works',
      pool.filter(p => p.dataOf.some(d => own.includes(d))).map(p => p.id),
    ),
  ])
  const workOf = await c.db.sequelize.transaction(t => worksOfNodes(c, inquiryId, hits, t))
  const data: Data[] = [
    ...works.map((w): Data => ({ ...described(w.item, w.facts), work: w.id, node: null, says: 'data' })),
    ...found.map((n): Data => {
      const known = workOf.get(n.id) ?? null
      return { ...described(n.item, n.facts), work: known, node: known === null ? n.id : null, says: 'index' }
    }),
    ...(facts.data ?? []).map((d): Data => ({ ...linked(d), says: 'record' })),
    ...(said?.links ?? []).map((d): Data => ({ ...linked(d), says: 'copy' })),
  ]
  const once = data.filter((d, i) => data.findIndex(x => isSame(x, d)) === i && !own.includes(d.doi ?? ''))
  return {
    grants: facts.grants ?? [],
    licence: licenceIn(facts),
    data: (await inPoolAlready(c, inquiryId, once)).map(d => ({
      ...d,
      // a lasting address before one that may be gone
      address: d.doi ? doiAddress(c.settings.outside.resolver, d.doi) : d.address,
    })),
    dataOf: await studiesOf(c, inquiryId, facts.dataOf ?? []),
    said: said && { copy: said.copy, page: said.page, label: said.label, said: said.said },
    asked: await followed(c, inquiryId, 'data', own),
  }
}

const isSame = (a: Data, b: Data): boolean =>
  (a.work !== null && a.work === b.work) ||
  (a.doi !== null ? a.doi === b.doi : a.address !== null && a.address === b.address)

const described = (item: Item, facts: Facts): Omit<Data, 'work' | 'node' | 'says'> => ({
  title: plainTitle(item.title, '') || null,
  year: yearOf(item) ?? null,
  doi: normaliseDoi(item.DOI) ?? null,
  address: [item.URL, facts.openUrl].find(a => a && isAddress(a)) ?? null,
  licence: licenceIn(facts),
})
const linked = ({ doi, address, title }: DataLink): Omit<Data, 'says'> => ({
  ...{ work: null, node: null, title: title ?? null, year: null },
  ...{ doi: normaliseDoi(doi) ?? null, address: address && isAddress(address) ? address : null, licence: null },
})
const licenceIn = ({ licence }: Facts): string | null => (licence ? (licenceName(licence) ?? licence) : null)

/** All DOIs that records of a work have. */
const doisOf = async (c: Context, workId: number): Promise<string[]> =>
  (await c.db.records.findAll({ where: { workId }, attributes: ['doi'], raw: true })).flatMap(r => r.doi ?? [])

/** Data that are named by DOI alone and are a work of the pool. */
async function inPoolAlready(c: Context, inquiryId: number, data: readonly Data[]): Promise<Data[]> {
  const known = await worksByDoi(
    c,
    inquiryId,
    data.flatMap(d => (d.work === null && d.doi ? d.doi : [])),
  )
  const works = new Map((await signedIn(c, inquiryId, 'works', [...known.values()])).map(w => [w.id, w]))
  return data.map(d => {
    const work = d.doi ? works.get(known.get(d.doi) ?? 0) : undefined
    return work ? { ...d, ...described(work.item, work.facts), work: work.id, node: null } : d
  })
}

async function studiesOf(c: Context, inquiryId: number, dois: readonly string[]): Promise<Answer<'beside'>['dataOf']> {
  const known = await worksByDoi(c, inquiryId, dois)
  const works = new Map((await signedIn(c, inquiryId, 'works', [...known.values()])).map(w => [w.id, w]))
  return dois.map(doi => {
    const work = works.get(known.get(doi) ?? 0)
    return { doi, work: work?.id ?? null, title: work ? plainTitle(work.item.title) : null }
  })
}

async function worksByDoi(c: Context, inquiryId: number, dois: readonly string[]): Promise<Map<string, number>> {
  if (!dois.length) return new Map()
  const rows = await c.db.records.findAll({
    where: { inquiryId, doi: [...dois] },
    attributes: ['doi', 'workId'],
    raw: true,
  })
  return new Map(rows.flatMap(r => (r.doi && r.workId ? [[r.doi.toLowerCase(), r.workId] as const] : [])))
}

/** What the best copy that the member may read says of the work's data. */
async function saidInCopy(c: Context, member: Member, workId: number) {
  const rows = await c.db.copies.findAll({
    where: { workId, outcome: 'proved' },
    attributes: ['id', 'workId', 'version', 'labels', 'pages'],
    order: [['id', 'DESC']],
    raw: true,
  })
  const copies = await readable(c, member, rows)
  const copy = copies.find(x => x.version === 'version of record') ?? copies[0]
  if (!copy) return null
  const told = await inThread('dataSaid', { pages: await pagesOf(c, copy.id, copy.pages) })
  return told ? { ...told, copy: copy.id, label: copy.labels[told.page - 1] ?? String(told.page) } : null
}
