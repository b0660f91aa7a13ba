import { REGISTER_KEY } from './register'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { once } from 'node:events'
import type { AddressInfo } from 'node:net'
import { createTransport } from 'nodemailer'
import request, { type Test } from 'supertest'
import { openUrl } from '../core/formats/openurl'
import { readWebPage } from '../core/access/web-page'
import type { Item } from '../core/bib/item'
import { readDublinCore } from '../core/formats/dublin-core'
import { readKbart } from '../core/formats/kbart'
import { readShelfHoldings } from '../core/formats/shelf'
import { readMarcXml } from '../core/formats/marcxml'
import { readMods } from '../core/formats/mods'
import { readExplain, readSruAnswer } from '../core/formats/sru'
import { readXml } from '../core/formats/xml'
import { readBlocks } from './test/pdf-text'
import { mayRead } from '../core/world/licence'
import type { WorldWork } from '../core/world/types'
import { smallOutside, smallWorld } from '../server/test/small-world'
import { outsideWorld, PLATFORMS } from './app'
import { CARD, DAILY_FILES, HOME } from './gate'
import { mailbox } from './mail'
import { drawPdf } from './pdf'
import { breaches, OAI, SRU_1, SRU_2 } from './test/protocol-rules'
import { citingNow, lot } from './world'

const { behind: behindGate, through: throughGate } = HOME
const world = smallWorld()
const app = smallOutside(world)
const get = (host: string, path: string): Test => request(app).get(path).set('Host', host)
const control = (path: string, body: object = {}): Test =>
  request(app).post(path).set('Host', 'control.example').send(body).expect(200)
const standOn = (day: string) => request(app).put('/desk').set('Host', 'control.example').send({ day }).expect(200)
const sru = async (host: string, parameters: Record<string, string>) =>
  (await get(host, `/sru?${new URLSearchParams({ version: '1.2', ...parameters }).toString()}`).expect(200)).text
const search = async (host: string, query: string, more: Record<string, string> = {}) =>
  readSruAnswer(await sru(host, { operation: 'searchRetrieve', query, ...more }))
const listed = (key: string) => world.works.filter(w => (w.catalogues[key]?.from ?? '9') <= world.day)

const CATALOGUES = [
  ['broadleaf', readMods],
  ['lampyr', readMods],
  ['vigil', readDublinCore],
  ['civic', readDublinCore],
  ['vault', readMods],
  ['fennmark', readDublinCore],
  ['shelf', readMarcXml],
] as const

describe.each(CATALOGUES)('%s as an SRU server', (key, readRecord) => {
  const host = `${key}.example`
  test('explains itself, at the bare address too, as the schema has it', async () => {
    const text = (await get(host, '/sru').expect(200)).text
    expect(breaches(text, SRU_1)).toEqual([])
    const explained = readExplain(text)
    expect(explained.title).toMatch(/\w+ \w+/)
    expect(explained.abilities.indexes).toContain('title')
    // the shelves give what stands there in a form of its own besides
    expect(explained.schemas).toHaveLength(key === 'shelf' ? 2 : 1)
    expect(readExplain(await sru(host, { operation: 'explain' }))).toEqual(explained)
  })

  test('can really be asked by every index it names', async () => {
    const { abilities } = readExplain((await get(host, '/sru')).text)
    for (const index of abilities.indexes!)
      expect(await sru(host, { operation: 'searchRetrieve', query: `${index} = 2001` })).not.toContain('<diagnostics>')
    if (abilities.truncation) expect((await search(host, 'title = th*')).count).toBeGreaterThan(0)
    else expect(await sru(host, { operation: 'searchRetrieve', query: 'lamp*' })).toContain('diagnostic/1/28')
    const near = await sru(host, { operation: 'searchRetrieve', query: 'the prox/distance<=4 of' })
    if (abilities.proximity) expect(near).not.toContain('<diagnostics>')
    else expect(near).toContain('diagnostic/1/39')
  })

  test('pages through everything within its window, each record once, and then stops', async () => {
    const { abilities } = readExplain((await get(host, '/sru')).text)
    const all = await search(host, 'year > 1800', { maximumRecords: '1' })
    if (!['fennmark', 'shelf'].includes(key)) expect(all.count).toBe(listed(key).length)
    const seen = new Set<string>()
    let next: number | undefined = 1
    for (let guard = 0; next && guard < 40; guard++) {
      const text = await sru(host, {
        operation: 'searchRetrieve',
        query: 'year > 1800',
        startRecord: String(next),
        maximumRecords: '100',
      })
      expect(breaches(text, SRU_1)).toEqual([])
      const page = readSruAnswer(text)
      expect(page.count).toBe(all.count)
      expect(page.records.map(r => r.position)).toEqual(page.records.map((_, i) => next! + i))
      for (const r of page.records) {
        seen.add(r.identifier!)
        expect(() => readRecord(r.raw)).not.toThrow()
      }
      next = page.next
    }
    expect(seen.size).toBe(Math.min(all.count!, abilities.window ?? Infinity))
  })

  test('answers mistakes with the diagnostics of the standard, in its form', async () => {
    const diagnostic = async (p: Record<string, string>) => {
      const text = await sru(host, p)
      expect(breaches(text, SRU_1)).toEqual([])
      return /diagnostic\/1\/(\d+)/.exec(text)?.[1]
    }
    const ask = { operation: 'searchRetrieve' }
    expect(await diagnostic({ ...ask, query: 'moth and (' })).toBe('10')
    expect(await diagnostic({ ...ask, query: 'shoe = x' })).toBe('16')
    expect(await diagnostic(ask)).toBe('7')
    expect(await diagnostic({ operation: 'dance', query: 'x' })).toBe('4')
    expect(await diagnostic({ ...ask, query: 'year > 1800', startRecord: '99999' })).toBe('61')
    expect(await diagnostic({ ...ask, query: 'year > 1800', startRecord: '0' })).toBe('6')
    expect(await diagnostic({ ...ask, query: 'year > 1800', maximumRecords: 'many' })).toBe('6')
    expect(await diagnostic({ ...ask, query: 'year > 1800', recordSchema: 'poem' })).toBe('66')
    expect(await diagnostic({ ...ask, query: 'year > 1800', recordPacking: 'paper' })).toBe('71')
    expect(await diagnostic({ ...ask, query: 'year > 1800', colour: 'green' })).toBe('8')
    expect(await diagnostic({ ...ask, query: 'year > 1800 sortBy doi' })).toMatch(/80|82/)
    expect(await diagnostic({ ...ask, version: '7.0', query: 'x' })).toBe('5')
  })

  test('packs records as a string where it is asked to', async () => {
    const [xml] = (await search(host, 'year > 1800', { maximumRecords: '1' })).records
    const [string] = (await search(host, 'year > 1800', { maximumRecords: '1', recordPacking: 'string' })).records
    expect(readRecord(string!.raw)).toEqual(readRecord(xml!.raw))
  })

  test('speaks 2.0, with facets where it has them', async () => {
    const ask = async (p: Record<string, string>) => {
      const { text } = await get(host, `/sru?${new URLSearchParams({ queryType: 'cql', ...p }).toString()}`).expect(200)
      expect(breaches(text, SRU_2)).toEqual([])
      return text
    }
    const text = await ask({ query: 'year > 1990', maximumRecords: '3' })
    expect(readSruAnswer(text).count).toBe((await search(host, 'year > 1990')).count)
    expect(text).toContain('resultCountPrecision')
    const faceted = await ask({ query: 'year > 1990', facetLimit: '3:year', maximumRecords: '0' })
    if (!/facets/.test((await get(host, '/sru')).text) || !faceted.includes('facetedResults'))
      return void expect(faceted).toContain('diagnostic/1/16')
    for (const [, year, n] of faceted.matchAll(/<facet:actualTerm>(\d+)<.*?<facet:count>(\d+)</g))
      expect((await search(host, `year > 1990 and year == ${year}`)).count).toBe(Number(n))
  })
})

describe('scan', () => {
  test('gives the terms around a term with their counts', async () => {
    const text = await sru('broadleaf.example', { operation: 'scan', scanClause: 'title = moth', maximumTerms: '4' })
    expect(breaches(text, SRU_1)).toEqual([])
    const terms = [...text.matchAll(/<value>([^<]+)<\/value><numberOfRecords>(\d+)/g)]
    expect(terms).toHaveLength(4)
    expect(terms[0]![1]! >= 'moth').toBe(true)
    for (const [, t, n] of terms) expect((await search('broadleaf.example', `title = "${t}"`)).count).toBe(Number(n))
  })
  test('is not had everywhere, and says so', async () => {
    expect(await sru('civic.example', { operation: 'scan', scanClause: 'title = moth' })).toContain('diagnostic/1/4')
  })
})

test('sorting goes by the key that is asked for, in both directions', async () => {
  const years = async (sort: string) => {
    const { records } = await search('lampyr.example', `year > 1950 sortBy ${sort}`, { maximumRecords: '100' })
    return records.map(r => readMods(r.raw).item.issued!['date-parts']![0]![0] as number)
  }
  const up = await years('year')
  expect([...up].sort((a, b) => a - b)).toEqual(up)
  const down = await years('year/sort.descending')
  expect([...down].sort((a, b) => b - a)).toEqual(down)
})

test('the same description differs from catalogue to catalogue, as their cataloguers do', async () => {
  const both = world.works.find(
    w =>
      listed('broadleaf').includes(w) &&
      !w.catalogues.broadleaf!.noDoi &&
      !w.catalogues.broadleaf!.slip &&
      (w.catalogues.civic?.from ?? '9') < world.day &&
      w.catalogues.civic!.capitals &&
      !w.catalogues.civic!.noDoi &&
      !w.catalogues.civic!.slip &&
      w.item.DOI,
  )!
  const doi = both.item.DOI!
  const mods = readMods((await search('broadleaf.example', `doi == ${doi}`)).records[0]!.raw)
  const dc = (await search('civic.example', `doi == ${doi}`)).records[0]!.raw
  expect(dc).toContain(both.item.title!.toUpperCase().replaceAll('&', '&amp;'))
  expect(mods.item.title).toBe(both.item.title)
})

test('the vault is searched page by page in full, without abstracts', async () => {
  const { count, records } = await search('vault.example', 'text adj "second observer repeated"')
  expect(count).toBeGreaterThan(0)
  expect(records.every(r => readMods(r.raw).item.abstract === undefined)).toBe(true)
})

test.each([
  ['shelf.example', 'isohold'],
  ['shelf.ostermoor.example', 'opac'],
])('%s tells its shelves as %s, with what is out and until when', async (host, recordSchema) => {
  const { records } = await search(host, 'year > 1800', { maximumRecords: '100', recordSchema })
  const holdings = records.flatMap(r => readShelfHoldings(r.raw))
  expect(holdings.length).toBeGreaterThan(5)
  expect(holdings.every(s => s.branch && s.call)).toBe(true)
  const out = holdings.filter(s => s.free === 0)
  expect(out.length).toBeGreaterThan(0)
  expect(out.every(s => s.back! >= world.day)).toBe(true)
  expect(holdings.some(s => s.free! > 0)).toBe(true)
})

test('the shelf tells branch, call number and runs of journals', async () => {
  const { records } = await search('shelf.example', 'year > 1800', { maximumRecords: '100' })
  const read = records.map(r => readMarcXml(r.raw))
  const book = read.find(r => r.item.type === 'book' && r.facts.shelf)!
  expect(book.facts.shelf![0]!.call).toMatch(/\d/)
  expect(book.item.author!.length).toBeGreaterThan(0)
  const journals = readSruAnswer(
    await sru('shelf.example', { operation: 'searchRetrieve', query: 'type = journal', maximumRecords: '20' }),
  ).records.map(r => readMarcXml(r.raw))
  expect(journals.length).toBeGreaterThan(3)
  expect(journals.every(j => j.item.type === 'periodical' && j.facts.runs!.length > 0 && j.item.ISSN)).toBe(true)
})

describe('time', () => {
  afterAll(() => standOn('2026-10-05'))
  test('as the desk moves on, catalogues list what has come since, and embargoes end', async () => {
    const count = async () => (await search('lampyr.example', 'year = 2026')).count
    const before = await count()
    const closed = world.works
      .flatMap(w => w.deposits)
      .find(
        d =>
          d.embargoUntil &&
          d.embargoUntil > '2026-10-05' &&
          d.embargoUntil < '2027-06-01' &&
          !d.dead &&
          d.from < '2026-10-05',
      )!
    await get('fennmark.example', `/deposit/${closed.id}.pdf`).expect(403)
    await standOn('2027-06-01')
    expect(await count()).toBeGreaterThan(before!)
    await get('fennmark.example', `/deposit/${closed.id}.pdf`).expect(200)
  })
  test('nothing is cited by what is not yet published', async () => {
    await standOn('2026-10-05')
    const late = world.works.find(w => w.date > '2026-10-05' && w.references.length > 5)!
    const cited = world.byId.get(late.references[0]!)!
    expect(citingNow(world, cited.id)).not.toContain(late)
    await standOn('2027-01-01')
    expect(citingNow(world, cited.id)).toContain(late)
  })
  test('a day that is none is refused', async () => {
    await request(app).put('/desk').set('Host', 'control.example').send({ day: 'tomorrow' }).expect(422)
  })
})

describe('OAI-PMH', () => {
  const oai = async (p: Record<string, string>) => {
    const { text } = await get('fennmark.example', `/oai?${new URLSearchParams(p).toString()}`).expect(200)
    expect(breaches(text, OAI)).toEqual([])
    return text
  }
  test('identifies itself and its one format', async () => {
    expect(await oai({ verb: 'Identify' })).toContain('<deletedRecord>persistent')
    expect(await oai({ verb: 'ListMetadataFormats' })).toContain('oai_dc')
  })
  test('is harvested whole by resumption tokens, each record once, deletions among them', async () => {
    const seen = new Set<string>()
    let deleted = 0
    let p: Record<string, string> = { verb: 'ListRecords', metadataPrefix: 'oai_dc' }
    for (let guard = 0; guard < 60; guard++) {
      const text = await oai(p)
      for (const [, gone, id] of text.matchAll(/<header( status="deleted")?><identifier>([^<]+)/g)) {
        expect(seen.has(id!)).toBe(false)
        seen.add(id!)
        if (gone) deleted++
      }
      const token = /<resumptionToken[^>]*>([^<]+)</.exec(text)?.[1]
      if (!token) break
      p = { verb: 'ListRecords', resumptionToken: token }
    }
    const deposits = world.works
      .filter(w => w.catalogues.fennmark)
      .flatMap(w => w.deposits.filter(d => d.from <= world.day))
    expect(seen.size).toBe(deposits.length)
    expect(deleted).toBeGreaterThan(0)
  })
  test('selects by date, and gives one record', async () => {
    const text = await oai({
      verb: 'ListIdentifiers',
      metadataPrefix: 'oai_dc',
      from: '2024-01-01',
      until: '2024-12-31',
    })
    const stamps = [...text.matchAll(/<datestamp>([^<]+)/g)].map(m => m[1]!)
    expect(stamps.length).toBeGreaterThan(0)
    expect(stamps.every(s => s >= '2024-01-01' && s <= '2024-12-31')).toBe(true)
    const id = /<identifier>([^<]+)/.exec(text)![1]!
    expect(await oai({ verb: 'GetRecord', metadataPrefix: 'oai_dc', identifier: id })).toContain(id)
  })
  test.each([
    [{ verb: 'Sing' }, 'badVerb'],
    [{ verb: 'ListRecords' }, 'badArgument'],
    [{ verb: 'Identify', colour: 'x' }, 'badArgument'],
    [{ verb: 'ListRecords', metadataPrefix: 'marc' }, 'cannotDisseminateFormat'],
    [{ verb: 'ListRecords', resumptionToken: 'xyz' }, 'badResumptionToken'],
    [{ verb: 'ListRecords', metadataPrefix: 'oai_dc', from: '1800-01-01', until: '1800-02-01' }, 'noRecordsMatch'],
    [{ verb: 'ListRecords', metadataPrefix: 'oai_dc', from: '2020-02-01', until: '2020-01-01' }, 'badArgument'],
    [{ verb: 'GetRecord', metadataPrefix: 'oai_dc', identifier: 'oai:none' }, 'idDoesNotExist'],
    [{ verb: 'ListSets' }, 'noSetHierarchy'],
  ])('%j is %s', async (p, code) => expect(await oai(p as never)).toContain(`<error code="${code}">`))
})

describe('the citation index', () => {
  const origin = world.works.find(w => w.item.DOI && w.references.length > 12 && w.unlinked > 0 && w.date < world.day)!
  const at = `/works/${encodeURIComponent(origin.item.DOI!)}`
  test('goes both ways, in pages, without the references it has not linked', async () => {
    const seen: string[] = []
    for (let offset: number | undefined = 0; offset !== undefined;) {
      const { body }: { body: { total: number; items: { item: { id: string } }[]; next?: number } } = await get(
        'lampyr.example',
        `${at}/references?offset=${offset}&limit=5`,
      ).expect(200)
      expect(body.total).toBe(origin.references.length - origin.unlinked)
      seen.push(...body.items.map(i => i.item.id))
      offset = body.next
    }
    expect(new Set(seen).size).toBe(origin.references.length - origin.unlinked)
    expect(seen.every(id => origin.references.includes(id))).toBe(true)
    const cited = world.works.find(w => w.item.DOI && citingNow(world, w.id).length > 2)!
    const { body } = await get('lampyr.example', `/works/${encodeURIComponent(cited.item.DOI!)}/cited-by`)
    expect(body.total).toBe(citingNow(world, cited.id).length)
  })
  test('knows nothing of a work it does not hold', async () => {
    await get('lampyr.example', '/works/10.5555%2Fnone/references').expect(404)
    await get('lampyr.example', `${at}/sideways`).expect(404)
  })
  test('finds the works of an author and of a grant', async () => {
    const author = origin.item.author!.find(a => a.family)!
    const { body } = await get('lampyr.example', `/authors?name=${encodeURIComponent(author.family!)}`).expect(200)
    expect(body.items.length).toBeGreaterThan(0)
    const { body: list } = await get(
      'lampyr.example',
      `/authors/${encodeURIComponent(body.items[0].id as string)}/works`,
    ).expect(200)
    expect(list.total).toBeGreaterThan(0)
    await get('lampyr.example', '/authors?name=x').expect(400)
    const funded = world.works.find(w => w.grant && w.date < world.day)!
    const { body: grant } = await get('lampyr.example', `/grants/${funded.grant}`).expect(200)
    expect((grant.items as { item: { id: string } }[]).map(i => i.item.id)).toContain(funded.id)
    await get('lampyr.example', '/grants/none').expect(404)
  })
  test('leads from a study to its data', async () => {
    const data = world.works.find(
      w => w.form === 'dataset' && w.about && w.date < world.day && world.byId.get(w.about)!.item.DOI,
    )!
    const study = world.byId.get(data.about!)!
    const { body } = await get('lampyr.example', `/works/${encodeURIComponent(study.item.DOI!)}/data`).expect(200)
    expect((body.items as { item: { id: string } }[]).map(i => i.item.id)).toContain(data.id)
  })
  test('counts citations by field and year, every work once', async () => {
    const { body } = await get('lampyr.example', '/counts?field=Ecology&year=2019').expect(200)
    const works = world.works.filter(w => w.year === 2019 && w.venue && world.venues.get(w.venue)!.field === 'Ecology')
    expect(body.works).toBe(works.length)
    const total = (body.counts as [number, number][]).reduce((n, [cited, k]) => n + cited * k, 0)
    expect(total).toBe(works.reduce((n, w) => n + citingNow(world, w.id).length, 0))
    await get('lampyr.example', '/counts?field=Cooking&year=2019').expect(400)
  })
})

describe('the register', () => {
  const find = (body: object, key = REGISTER_KEY) =>
    request(app).post('/find').set('Host', 'register.example').set('x-register-key', key).send(body)
  test('lets nobody in without its key, and gives every work once over its pages', async () => {
    await find({ words: 'light' }, 'another').expect(401)
    await find({ words: '' }).expect(422)
    const seen: string[] = []
    let found: number | undefined
    for (let after: string | undefined; ;) {
      const { body } = await find({ words: 'light', after, most: 5 }).expect(200)
      const page = body as { found: string; entries: { ti: string }[]; mark?: string }
      found = Number(page.found)
      seen.push(...page.entries.map(e => e.ti))
      if (!(after = page.mark)) break
    }
    expect(found).toBeGreaterThan(5)
    expect(seen).toHaveLength(found!)
    for (const title of seen) expect(title.toLowerCase()).toContain('light')
    const titles = world.works.filter(w => w.date <= world.day).map(w => w.item.title!)
    for (const title of seen) expect(titles).toContain(title)
  })
})

describe('the DOI resolver', () => {
  test('gives CSL-JSON to programs and the landing page to people', async () => {
    const w = world.works.find(x => x.host && x.item.DOI && x.form === 'research article')!
    const data = await get('doi.example', `/${w.item.DOI}`)
      .set('Accept', 'application/vnd.citationstyles.csl+json')
      .expect(200)
    expect(JSON.parse(data.text)).toMatchObject({ DOI: w.item.DOI, title: w.item.title })
    const page = await get('doi.example', `/${w.item.DOI}`).expect(302)
    expect(page.headers.location).toBe(`http://${w.host}/article/${w.id}`)
    await get('doi.example', '/10.5555/none').expect(404)
  })
  test('knows preprints by DOIs of their own', async () => {
    const w = world.works.find(x => x.deposits.some(d => d.doi) && x.date < world.day)!
    const d = w.deposits.find(x => x.doi)!
    expect((await get('doi.example', `/${d.doi}`).expect(302)).headers.location).toContain(d.id)
    const data = await get('doi.example', `/${d.doi}`).set('Accept', 'application/vnd.citationstyles.csl+json')
    expect(JSON.parse(data.text)).toMatchObject({ type: 'article', DOI: d.doi })
  })
})

/** A work that its platform gives whole and right to those who may read. */
const clean = (w: WorldWork) =>
  lot(w.id, 'neighbour', 40) >= 1 && lot(w.id, 'cut', 55) >= 1 && !(w.year < 1996 && lot(w.id, 'scan', 3) < 1)
const licensed = (host: string) =>
  world.works.find(w => {
    const v = w.venue ? world.venues.get(w.venue)! : undefined
    return (
      v &&
      w.host === host &&
      w.date < world.day &&
      w.form === 'research article' &&
      clean(w) &&
      mayRead(v, w.date, world.day) &&
      !(v.openFrom && w.year >= v.openFrom)
    )
  })!
const signIn = async () => {
  const answer = await request(app)
    .post('/sign-in')
    .set('Host', 'gate.halverane.example')
    .type('form')
    .send({ ...CARD, terms: 'accepted' })
    .expect(302)
  return String(answer.headers['set-cookie']![0]).split(';')[0]!
}

describe('the gate', () => {
  const article = licensed('tessary.example')
  const url = `http://tessary.example/article/${article.id}.pdf`
  let cookie: string
  beforeAll(async () => {
    cookie = await signIn()
  })
  test('rewrites hosts both ways', () => {
    expect(throughGate('my-press.tessary.example')).toBe('my--press-tessary-example.gate.halverane.example')
    for (const h of ['tessary.example', 'my-press.tessary.example']) expect(behindGate(throughGate(h))).toBe(h)
    expect(behindGate('tessary.example')).toBeUndefined()
  })
  test('sends those who are not signed in to its form', async () => {
    const answer = await get('gate.halverane.example', `/open?url=${encodeURIComponent(url)}`).expect(302)
    expect(answer.headers.location).toContain('/sign-in?then=')
    expect((await get('gate.halverane.example', '/sign-in')).text).toContain('type="password"')
    await get('gate.halverane.example', '/open?url=nonsense').expect(400)
    await get(throughGate('tessary.example'), `/article/${article.id}.pdf`).expect(302)
  })
  test('refuses a wrong card, and a right one without its terms', async () => {
    const post = (form: object) =>
      request(app).post('/sign-in').set('Host', 'gate.halverane.example').type('form').send(form)
    await post({ card: 'x', password: 'y', terms: 'accepted' }).expect(401)
    expect((await post(CARD).expect(403)).text).toContain('terms')
  })
  test('opens the platform to those who are, which is closed from outside', async () => {
    await get('tessary.example', `/article/${article.id}.pdf`).expect(403)
    const opened = await get('gate.halverane.example', `/open?url=${encodeURIComponent(url)}`)
      .set('Cookie', cookie)
      .expect(302)
    const target = new URL(opened.headers.location!)
    const pdf = await get(target.host, target.pathname).set('Cookie', cookie).buffer().expect(200)
    expect(pdf.headers['content-type']).toContain('application/pdf')
  })
  test('keeps what the library has not paid for closed, whatever its files say', async () => {
    const foreign = world.works.find(
      w =>
        w.host === 'tessary.example' &&
        w.venue &&
        w.date < world.day &&
        !mayRead(world.venues.get(w.venue)!, w.date, world.day) &&
        !world.venues.get(w.venue)!.openFrom,
    )!
    await get(throughGate('tessary.example'), `/article/${foreign.id}.pdf`).set('Cookie', cookie).expect(403)
  })
  test('stops a card after its files of a day, until the next morning', async () => {
    await control('/reset')
    const short = world.works.filter(
      w =>
        w.host === 'tessary.example' &&
        w.venue &&
        w.pages < 4 &&
        w.date < world.day &&
        mayRead(world.venues.get(w.venue)!, w.date, world.day) &&
        !world.venues.get(w.venue)!.openFrom,
    )[0]!
    const fetch = () => get(throughGate('tessary.example'), `/article/${short.id}.pdf`).set('Cookie', cookie)
    for (let n = 0; n < DAILY_FILES; n++) await fetch().expect(200)
    expect((await fetch().expect(429)).text).toContain('60 files a day')
    await standOn('2026-10-06')
    await fetch().expect(200)
    await standOn('2026-10-05')
  })
  test('forgets every session when it is told to', async () => {
    await control('/gate/expire')
    await get(throughGate('tessary.example'), `/article/${article.id}.pdf`).set('Cookie', cookie).expect(302)
  })
})

describe('the platforms, each with its manner', () => {
  let cookie: string
  beforeAll(async () => {
    await control('/reset')
    cookie = await signIn()
  })
  const through = (host: string, path: string, more = '') => get(throughGate(host), path).set('Cookie', cookie + more)
  test('tessary names the PDF on a landing page by a link of the open standard', async () => {
    const w = licensed('tessary.example')
    const page = (await get('tessary.example', `/article/${w.id}`).expect(200)).text
    expect(page).toContain(`<link rel="alternate" type="application/pdf" href="/article/${w.id}.pdf">`)
  })
  test('moorgrave gives the PDF at once', async () => {
    await through('moorgrave.example', `/article/${licensed('moorgrave.example').id}`)
      .expect(200)
      .expect('Content-Type', /pdf/)
  })
  test('quillon leads over the front page, volume and issue', async () => {
    const w = licensed('quillon.example')
    const front = (await through('quillon.example', `/article/${w.id}`).expect(302)).headers.location!
    expect(front).toBe(`/journal/${w.venue}`)
    const volume = `${front}/${w.item.volume ?? 'ahead'}`
    expect((await through('quillon.example', front)).text).toContain(`href="${volume}"`)
    const issue = `${volume}/${w.item.issue ?? '0'}`
    expect((await through('quillon.example', volume)).text).toContain(`href="${issue}"`)
    expect((await through('quillon.example', issue)).text).toContain(`href="/pdf/${w.id}.pdf"`)
    await through('quillon.example', `/pdf/${w.id}.pdf`).expect('Content-Type', /pdf/)
  })
  test('lanternhill asks for its terms first, and has books by chapter', async () => {
    const w = licensed('lanternhill.example')
    const asked = await through('lanternhill.example', `/article/${w.id}.pdf`).expect(302)
    expect(asked.headers.location).toContain('/terms')
    expect((await through('lanternhill.example', asked.headers.location!)).text).toContain('I accept')
    await through('lanternhill.example', `/article/${w.id}.pdf`, '; terms=yes').expect('Content-Type', /pdf/)
    const book = world.works.find(
      x => x.shelf?.ebook && x.host === 'lanternhill.example' && x.date < world.day && clean(x),
    )!
    expect((await through('lanternhill.example', `/book/${book.id}`)).text).toContain('chapter-6.pdf')
    await through('lanternhill.example', `/book/${book.id}/chapter-2.pdf`).expect('Content-Type', /pdf/)
    await through('lanternhill.example', `/book/${book.id}/chapter-9.pdf`).expect(404)
  })
  test('what is open is open to all', async () => {
    const w = world.works.find(
      x =>
        x.host &&
        x.host !== 'lanternhill.example' &&
        x.venue &&
        world.venues.get(x.venue)!.openFrom &&
        x.year >= world.venues.get(x.venue)!.openFrom! &&
        x.date < world.day,
    )!
    await get(w.host!, `/pdf/${w.id}.pdf`).expect('Content-Type', /pdf/)
  })
  test('an unknown page is not there, on any of them', async () => {
    for (const host of PLATFORMS) {
      await get(host, '/article/none').expect(404)
      await get(host, '/journal/none').expect(404)
    }
  })
})

describe('texts as PDF', () => {
  const first = (p: (w: WorldWork) => boolean) => world.works.find(p)!
  test('carry title, authors, DOI and the printed page, in reading order over two columns', async () => {
    const w = first(
      x =>
        x.form === 'research article' &&
        x.pages > 8 &&
        Boolean(x.item.DOI) &&
        world.venues.get(x.venue!)!.columns === 2 &&
        /^\d+-/.test(x.item.page ?? '') &&
        x.item.language === 'en',
    )
    const { pages, labels } = await readBlocks(await drawPdf(world, w, { version: 'version of record' }))
    const text = pages[0]!.lines.join(' ')
    expect(text.replace(/\s+/g, ' ')).toContain(w.item.title!.slice(0, 40))
    expect(text).toContain(w.item.DOI!)
    expect(labels[0]).toBe(w.item.page!.split('-')[0])
    expect(Math.abs(pages.length - w.pages)).toBeLessThanOrEqual(Math.max(2, w.pages * 0.25))
    const all = pages.flatMap(p => p.lines).join('\n')
    expect(all.indexOf('1 Introduction')).toBeLessThan(all.indexOf('2 Methods'))
    expect(all.indexOf('2 Methods')).toBeLessThan(all.indexOf('4 Discussion'))
    expect(all).toMatch(/References|Literature cited/)
  })
  test('are the same bytes every time', async () => {
    const w = first(x => x.form === 'review of a book')
    const draw = async () =>
      Buffer.from(await drawPdf(world, w, { version: 'version of record' }))
        .toString('latin1')
        .replace(/\/ID \[[^\]]*\]/, '')
    expect(await draw()).toBe(await draw())
  })
  test('say which version they are', async () => {
    const w = first(x => x.form === 'research article' && x.deposits.length > 0)
    for (const [version, mark] of [
      ['preprint', 'not been peer-reviewed'],
      ['accepted manuscript', 'Accepted manuscript'],
    ] as const)
      expect((await readBlocks(await drawPdf(world, w, { version }))).pages[0]!.lines.join(' ')).toContain(mark)
    const draft = first(x => x.form === 'conference paper' && !world.venues.get(x.venue!)!.refereed)
    expect(
      (await readBlocks(await drawPdf(world, draft, { version: 'version of record' }))).pages[0]!.lines.join(' '),
    ).toContain('Not for citation')
  })
  test('a scan has pages and no text', async () => {
    const w = first(x => x.form === 'research article' && x.pages > 5)
    const { pages } = await readBlocks(await drawPdf(world, w, { version: 'version of record', scan: true }))
    expect(pages).toHaveLength(Math.min(w.pages, 30))
    expect(pages.flatMap(p => p.lines)).toEqual([])
  })
})

describe('the library', () => {
  test('gives its holdings as KBART files', async () => {
    const index = (await get('library.halverane.example', '/kbart').expect(200)).text
    const names = [...index.matchAll(/href="(\/kbart\/[^"]+)"/g)].map(m => m[1]!)
    expect(names).toHaveLength(40)
    let lines = 0
    for (const n of names)
      lines += readKbart((await get('library.halverane.example', n).expect(200)).text).holdings.length
    expect(lines).toBeGreaterThan(60)
    await get('library.halverane.example', '/kbart/none.tsv').expect(404)
  })
  test('resolves OpenURLs by DOI and by description', async () => {
    const ask = (q: Record<string, string>) =>
      get('resolver.halverane.example', `/openurl?${new URLSearchParams(q).toString()}`)
    await ask({ rft_id: 'info:doi/10.5555/x' }).expect(400)
    const v = world.facts.venues.find(x => x.licences.some(l => !l.wall && !l.to && l.from < '2010'))!
    const { text } = await ask({
      url_ver: 'Z39.88-2004',
      'rft.jtitle': v.title,
      'rft.issn': v.issnPrint,
      'rft.date': '2015',
      'rft.atitle': 'A & B',
    }).expect(200)
    expect(text).toContain('class="target"')
    expect(text).toContain('A &amp; B')
    expect(
      (await ask({ url_ver: 'Z39.88-2004', 'rft.jtitle': 'Unknown Papers', 'rft.issn': '0000-0000' })).text,
    ).toContain('does not hold')
  })
})

describe('misbehaviour by switch', () => {
  const set = (mode: string, more = {}) => control('/switches/broadleaf.example', { mode, ...more })
  afterAll(() => control('/reset'))
  test('errors are named, and counted down', async () => {
    await set('503', { times: 1 })
    await get('broadleaf.example', '/sru').expect(503)
    await get('broadleaf.example', '/sru').expect(200)
    await set('429')
    const busy = await get('broadleaf.example', '/sru').expect(429)
    expect(Number(busy.headers['retry-after'])).toBeGreaterThan(0)
  })
  test('broken XML is broken, counts are wrong, letters are mangled', async () => {
    await set('broken')
    const { text } = await get('broadleaf.example', '/sru')
    expect(() => readXml(text)).toThrow()
    await set('ok')
    const right = (await search('broadleaf.example', 'moth')).count
    await set('miscount')
    expect((await search('broadleaf.example', 'moth')).count).toBeGreaterThan(right!)
    await set('latin1')
    const foreign = world.works.find(w => listed('broadleaf').includes(w) && /[à-ÿ]/.test(w.item.title!))
    if (foreign)
      expect(
        (await search('broadleaf.example', `year = ${foreign.year}`, { maximumRecords: '100' })).records
          .map(r => r.raw)
          .join(''),
      ).toContain('\ufffd')
  })
  test('an expired session is served with status 200', async () => {
    await control('/switches/tessary.example', { mode: 'expired' })
    expect((await get('tessary.example', '/article/none').expect(200)).text).toContain('expired')
  })
  test('a mode that does not exist is refused, and the other hosts are not touched', async () => {
    await request(app)
      .post('/switches/broadleaf.example')
      .set('Host', 'control.example')
      .send({ mode: 'rain' })
      .expect(422)
    await set('503')
    await get('civic.example', '/sru').expect(200)
  })
  test('a weather of faults comes over all hosts, the same one for the same seed', async () => {
    await control('/reset')
    const day = async () => {
      await control('/weather', { seed: 9, rate: 0.5 })
      const out: number[] = []
      for (let n = 0; n < 24; n++)
        out.push(
          await get('doi.example', '/10.5555/none').then(
            r => r.status,
            () => 0,
          ),
        )
      return out
    }
    const first = await day()
    expect(await day()).toEqual(first)
    expect(new Set(first).size).toBeGreaterThan(2)
  })
})

test('mail arrives on a page and as .eml; strangers’ addresses are not served', async () => {
  const box = mailbox()
  const smtp = box.smtp.listen(0, '127.0.0.1')
  await once(smtp, 'listening')
  const transport = createTransport({ host: '127.0.0.1', port: (smtp.address() as AddressInfo).port, ignoreTLS: true })
  await transport.sendMail({
    from: 'vine@desk.example',
    to: 'student@halverane.example',
    subject: 'Neu: Åkerelins Lampen',
    text: 'Three <new> records.',
  })
  await expect(
    transport.sendMail({ from: 'vine@desk.example', to: 'a@elsewhere.invalid', subject: 'x', text: 'y' }),
  ).rejects.toThrow()
  const served = outsideWorld(world, { mail: box })
  const list = await request(served).get('/').set('Host', 'mail.example').expect(200)
  expect(list.body).toMatchObject([{ subject: 'Neu: Åkerelins Lampen', to: 'student@halverane.example' }])
  const page = await request(served).get('/').set('Host', 'mail.example').set('Accept', 'text/html')
  expect(page.text).toContain('Three &lt;new&gt; records.')
  await request(served)
    .get('/0.eml')
    .set('Host', 'mail.example')
    .expect('Content-Type', /rfc822/)
  await request(served).get('/7.eml').set('Host', 'mail.example').expect(404)
  await new Promise<void>(done => box.smtp.close(() => done()))
})

test('a host that does not exist is not there', async () => {
  await get('elsewhere.example', '/').expect(404)
})

test('the form of the town library is filled in by an OpenURL, and takes what is sent', async () => {
  const host = 'library.ostermoor.example'
  const chapter: Item = {
    ...{ id: 'a', type: 'chapter', title: 'Moths "at" dusk & dawn', 'container-title': 'Lit Gardens', page: '12-19' },
    author: [{ family: 'Okafor', given: 'Ada' }],
  }
  const { pathname, search } = new URL(openUrl(`http://${host}/request`, chapter))
  const { text } = await get(host, pathname + search).expect(200)
  const [form] = readWebPage(text, `http://${host}/request`).forms
  expect(form!.filled).toEqual(['Moths "at" dusk & dawn', 'Lit Gardens', 'Okafor', '12-19'])
  const sent = await request(app).post('/request').set('Host', host).type('form').send({ what: 'Lit Gardens' })
  expect(sent.text).toContain('We look for “Lit Gardens”')
})
