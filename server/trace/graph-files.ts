import Papa from 'papaparse'
import { plainTitle } from '../../core/bib/clean'
import { writeGraphml } from '../../core/formats/graphml'
import type { Context } from '../base/context'
import { graphNodes } from './graph-model'

/** Nodes as they stand in files: a work of the pool by what the pool says of it, a pointer by what the index says. */
async function nodesOf(c: Context, inquiryId: number) {
  const [nodes, works] = await Promise.all([
    graphNodes(c, inquiryId),
    c.db.works.findAll({
      where: { inquiryId },
      attributes: ['id', 'line', 'kind', 'state', 'citedBy'],
      raw: true,
    }),
  ])
  const pool = new Map(works.map(w => [w.id, w]))
  return nodes.map(({ id, work, line, kind, doi }) => {
    const own = work === null ? undefined : pool.get(work)
    const { title, authors, container, year } = own?.line ?? line
    return {
      id,
      told: {
        ...{ title: plainTitle(title), authors, container, year, DOI: own?.line.doi ?? doi },
        kind: own?.kind ?? kind,
        'cited by': own?.citedBy ?? line.citedBy,
        'in the pool': own?.state ?? 'no',
      },
    }
  })
}

/** Citations with who says so and since when; two who say the same are told together. */
async function linksOf(c: Context, inquiryId: number) {
  const rows = await c.db.citations.findAll({
    where: { inquiryId },
    order: ['citing', 'cited', 'saidBy'],
    raw: true,
  })
  const out = new Map<string, { from: number; to: number; told: { 'said by': string; day: string } }>()
  for (const { citing, cited, saidBy, day } of rows) {
    const key = `${citing} ${cited}`
    const had = out.get(key)
    if (!had) out.set(key, { from: citing, to: cited, told: { 'said by': saidBy, day } })
    else had.told = { 'said by': `${had.told['said by']}, ${saidBy}`, day: day < had.told.day ? day : had.told.day }
  }
  return [...out.values()]
}

/** The graph of an inquiry for other programs, in GraphML. */
export async function graphAsGraphml(c: Context, inquiryId: number): Promise<string> {
  const [nodes, links] = await Promise.all([nodesOf(c, inquiryId), linksOf(c, inquiryId)])
  return writeGraphml({ nodes, links })
}

/** Its citations as a table, a line each (RFC 4180); a cell that begins like a formula is made plain text. */
export async function citationsAsCsv(c: Context, inquiryId: number): Promise<string> {
  const [nodes, links] = await Promise.all([nodesOf(c, inquiryId), linksOf(c, inquiryId)])
  const known = new Map(nodes.map(n => [n.id, n.told]))
  const side = (word: string, id: number) => {
    const { title, authors, year, DOI, 'in the pool': state } = known.get(id)!
    return {
      [`${word}: authors`]: authors,
      [`${word}: year`]: year ?? '',
      [`${word}: title`]: title,
      [`${word}: DOI`]: DOI ?? '',
      [`${word}: in the pool`]: state,
    }
  }
  return Papa.unparse(
    links.map(l => ({ ...side('citing', l.from), ...side('cited', l.to), ...l.told })),
    { escapeFormulae: true },
  )
}
