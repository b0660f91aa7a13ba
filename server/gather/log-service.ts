import Papa from 'papaparse'
import { Op } from 'sequelize'
import { plainTitle } from '../../core/bib/clean'
import { methodsText } from '../../core/query/methods'
import type { Answer } from '../../core/schema/api'
import type { Context } from '../base/context'
import { catalogueNames, cataloguesFor } from '../library/catalogues'
import { librariesOf } from '../library/libraries'
import { citationsName } from '../connect/connectors'
import { notFound } from '../base/problem'
import { grouped } from '../db/rows'
import { roundsWalked } from '../trace/graph-model'
import { foundOnlyBy, worksBySource } from './gather-model'
import { sweepsOf } from './sweeps-service'

/** What of a sweep another one did not find, and the other way round. */
export async function compareSweeps(c: Context, inquiryId: number, a: number, b: number): Promise<Answer<'against'>> {
  if ((await c.db.sweeps.count({ where: { inquiryId, id: [a, b] } })) < new Set([a, b]).size) throw notFound()
  const [came, went] = await Promise.all([foundOnlyBy(c, a, b), foundOnlyBy(c, b, a)])
  const shown = (list: typeof came) => list.map(r => ({ ...r, title: r.title && plainTitle(r.title) }))
  return { came: shown(came), went: shown(went) }
}

/** The search log as a table (RFC 4180); a cell that begins like a formula is made plain text. */
export async function logAsCsv(c: Context, inquiryId: number): Promise<string> {
  const rows = (await sweepsOf(c, inquiryId, 'first')).flatMap((s, i) =>
    s.catalogues.map(p => ({
      search: i + 1,
      name: s.name ?? '',
      'desk day': s.deskDay,
      'run at': new Date(s.at).toISOString(),
      catalogue: p.name,
      query: s.cql,
      'asked as': p.asked ?? '',
      found: p.count ?? '',
      examined: p.fetched,
      state: p.state,
      said: p.error ?? p.changes.join(' '),
      note: s.note ?? '',
    })),
  )
  return Papa.unparse(rows, { escapeFormulae: true })
}

export async function methodsOf(c: Context, inquiryId: number): Promise<string> {
  const records = await c.db.records.count({ where: { inquiryId, workId: { [Op.ne]: null } } })
  const works = await c.db.works.scope('living').count({ where: { inquiryId } })
  const libraries = (await librariesOf(c, inquiryId)).map(l => l.name)
  const rounds = await roundsWalked(c, inquiryId)
  return methodsText(
    await sweepsOf(c, inquiryId, 'first'),
    libraries.join(' and '),
    { records, works },
    { rounds, from: citationsName(c) },
  )
}

/** Of the pool and of the kept works: what only one catalogue has, and with which it shares the rest. */
export async function sharesOf(c: Context, inquiryId: number): Promise<Answer<'shares'>> {
  const names = await catalogueNames(c)
  const asked = (await cataloguesFor(c, inquiryId)).map(x => x.id)
  const [rows, sweeps] = await Promise.all([worksBySource(c, inquiryId), sweepsOf(c, inquiryId, 'latest')])
  const answers = grouped(
    sweeps.flatMap(s => s.catalogues),
    a => a.catalogue,
  )
  const sources = new Map<number, Set<string>>()
  const of = (source: string) => (source.startsWith('file:') ? 'your files' : source)
  for (const r of rows) sources.set(r.work, (sources.get(r.work) ?? new Set()).add(of(r.source)))
  const works = new Map(rows.map(r => [r.work, r]))
  const all = [...new Set([...asked, ...[...sources.values()].flatMap(s => [...s])])]
  return all.map(id => {
    const mine = [...sources].filter(([, s]) => s.has(id))
    const given = answers.get(id) ?? []
    const alone = mine.filter(([, s]) => s.size === 1).map(([w]) => works.get(w)!)
    return {
      catalogue: id,
      name: names.get(id) ?? (id === 'trail' ? citationsName(c) : id),
      works: mine.length,
      asked: given.length,
      found: Math.max(0, ...given.map(g => g.count ?? 0)),
      failed: given[0]?.state === 'failed' ? (given[0].error ?? '') : null,
      onlyHere: alone.length,
      kept: mine.filter(([w]) => works.get(w)!.state === 'kept').length,
      keptOnlyHere: alone.filter(w => w.state === 'kept').map(w => ({ id: w.work, title: w.title })),
      shared: all
        .filter(o => o !== id)
        .map(o => ({ catalogue: o, works: mine.filter(([, s]) => s.has(o)).length }))
        .filter(x => x.works > 0)
        .sort((a, b) => b.works - a.works),
    }
  })
}
