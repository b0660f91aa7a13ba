import { Router } from 'express'
import { addDays } from '../core/bib/dates'
import { escapeXml } from '../core/formats/xml'
import type { Catalogue } from './catalogues'
import type { Entry } from './records'
import { lot, type ServedWorld } from './world'

const PAGE = 100
const ARGUMENTS: Record<string, { needed: string[]; allowed: string[] }> = {
  Identify: { needed: [], allowed: [] },
  ListMetadataFormats: { needed: [], allowed: ['identifier'] },
  ListSets: { needed: [], allowed: ['resumptionToken'] },
  GetRecord: { needed: ['identifier', 'metadataPrefix'], allowed: [] },
  ListIdentifiers: { needed: ['metadataPrefix'], allowed: ['from', 'until', 'set', 'resumptionToken'] },
  ListRecords: { needed: ['metadataPrefix'], allowed: ['from', 'until', 'set', 'resumptionToken'] },
}

class OaiError extends Error {
  constructor(
    readonly code: string,
    said: string,
  ) {
    super(said)
  }
}

interface Row {
  entry: Entry
  stamp: string
  deleted: boolean
}

/** OAI-PMH 2.0 over a repository: simple Dublin Core, resumption tokens, deletions kept for ever. */
export function oaiServer(c: Catalogue, world: ServedWorld): Router {
  const base = `http://${c.host}/oai`
  const idOf = (e: Entry) => `oai:${c.host}:${e.id}`
  /** A deposit that is taken back leaves a deleted record, stamped with the day it went. */
  const rowOf = (entry: Entry): Row => {
    const gone = lot(entry.id, 'taken back', 50) < 1 ? addDays(entry.from, 200) : undefined
    const deleted = gone !== undefined && gone <= world.day
    return { entry, deleted, stamp: deleted ? gone : entry.from }
  }
  const rows = (from: string, until: string): Row[] =>
    c.entries
      .filter(e => e.from <= world.day)
      .map(rowOf)
      .filter(r => r.stamp >= from && r.stamp <= until)
      .sort((a, b) => (a.stamp < b.stamp ? -1 : a.stamp > b.stamp ? 1 : a.entry.id < b.entry.id ? -1 : 1))
  const header = (r: Row) =>
    `<header${r.deleted ? ' status="deleted"' : ''}><identifier>${idOf(r.entry)}</identifier><datestamp>${r.stamp}</datestamp></header>`
  const record = (r: Row) =>
    `<record>${header(r)}${
      r.deleted
        ? ''
        : `<metadata>${c
            .render(r.entry)
            .replace('<dc:dc ', '<oai_dc:dc xmlns:oai_dc="http://www.openarchives.org/OAI/2.0/oai_dc/" ')
            .replace('</dc:dc>', '</oai_dc:dc>')}</metadata>`
    }</record>`

  const answer = (p: Record<string, string>): string => {
    const wanted = ARGUMENTS[p.verb ?? '']
    if (!wanted) throw new OaiError('badVerb', p.verb ? `There is no verb ${p.verb}.` : 'The verb is missing.')
    const given = Object.keys(p).filter(k => k !== 'verb')
    const resumed = p.resumptionToken !== undefined
    if (resumed && given.length > 1) throw new OaiError('badArgument', 'resumptionToken stands alone.')
    const unknown = given.find(k => ![...wanted.needed, ...wanted.allowed].includes(k))
    if (unknown) throw new OaiError('badArgument', `${unknown} is not an argument of ${p.verb}.`)
    const missing = resumed ? undefined : wanted.needed.find(k => !p[k])
    if (missing) throw new OaiError('badArgument', `${missing} is missing.`)
    if (p.metadataPrefix && p.metadataPrefix !== 'oai_dc')
      throw new OaiError('cannotDisseminateFormat', 'Only oai_dc is held.')
    switch (p.verb) {
      case 'Identify':
        return `<repositoryName>${escapeXml(c.title)}</repositoryName><baseURL>${base}</baseURL><protocolVersion>2.0</protocolVersion><adminEmail>desk@fennmark.example</adminEmail><earliestDatestamp>${rows('', '9999')[0]?.stamp ?? world.day}</earliestDatestamp><deletedRecord>persistent</deletedRecord><granularity>YYYY-MM-DD</granularity>`
      case 'ListMetadataFormats':
        if (p.identifier) find(p.identifier)
        return '<metadataFormat><metadataPrefix>oai_dc</metadataPrefix><schema>http://www.openarchives.org/OAI/2.0/oai_dc.xsd</schema><metadataNamespace>http://www.openarchives.org/OAI/2.0/oai_dc/</metadataNamespace></metadataFormat>'
      case 'ListSets':
        throw new OaiError('noSetHierarchy', 'There are no sets here.')
      case 'GetRecord':
        return record(find(p.identifier!))
      default:
        return list(p)
    }
  }
  const find = (identifier: string): Row => {
    const e = c.entries.find(x => idOf(x) === identifier && x.from <= world.day)
    if (!e) throw new OaiError('idDoesNotExist', 'There is no such record.')
    return rowOf(e)
  }
  const list = (p: Record<string, string>): string => {
    if (p.set) throw new OaiError('noSetHierarchy', 'There are no sets here.')
    let from = p.from ?? ''
    let until = p.until ?? '9999-12-31'
    let cursor = 0
    if (p.resumptionToken !== undefined) {
      const t = /^(\d+)~([\d-]*)~([\d-]+)$/.exec(Buffer.from(p.resumptionToken, 'base64url').toString())
      if (!t) throw new OaiError('badResumptionToken', 'This token was not given by us.')
      cursor = Number(t[1])
      from = t[2]!
      until = t[3]!
    } else if ([p.from, p.until].some(d => d !== undefined && !/^\d{4}-\d{2}-\d{2}$/.test(d)) || from > until)
      throw new OaiError('badArgument', 'Dates are YYYY-MM-DD, from before until.')
    const all = rows(from, until)
    if (!all.length) throw new OaiError('noRecordsMatch', 'Nothing was changed in that time.')
    if (cursor >= all.length) throw new OaiError('badResumptionToken', 'The list has changed; begin again.')
    const page = all.slice(cursor, cursor + PAGE)
    const next =
      cursor + PAGE < all.length ? Buffer.from(`${cursor + PAGE}~${from}~${until}`).toString('base64url') : ''
    const token =
      next || cursor
        ? `<resumptionToken completeListSize="${all.length}" cursor="${cursor}">${next}</resumptionToken>`
        : ''
    return page.map(p.verb === 'ListRecords' ? record : header).join('') + token
  }

  return Router().get('/oai', (req, res) => {
    const p = req.query as Record<string, string>
    let body: string
    let attributes = Object.entries(p)
      .map(([k, v]) => ` ${k}="${escapeXml(String(v))}"`)
      .join('')
    try {
      const repeated = Object.entries(p).find(([, v]) => typeof v !== 'string')
      if (repeated) throw new OaiError('badArgument', `${repeated[0]} is given twice.`)
      body = `<${p.verb}>${answer(p)}</${p.verb}>`
    } catch (e) {
      if (!(e instanceof OaiError)) throw e
      body = `<error code="${e.code}">${escapeXml(e.message)}</error>`
      if (e.code === 'badVerb' || e.code === 'badArgument') attributes = ''
    }
    res
      .type('text/xml')
      .send(
        `<?xml version="1.0" encoding="UTF-8"?>\n<OAI-PMH xmlns="http://www.openarchives.org/OAI/2.0/"><responseDate>${world.day}T06:00:00Z</responseDate><request${attributes}>${base}</request>${body}</OAI-PMH>`,
      )
  })
}
