import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { gzipSync } from 'node:zlib'
import { printCql, type Query } from '../../core/query/cql'
import { parseCql } from '../../core/query/parse-cql'
import { answering } from './answering'
import { readRecord } from '../../core/formats/records'
import { askSru, explainOf, type SruSetting } from './sru-client'

/** Answers as honest servers give them: of three versions of the standard, and of those who read it their own way. */
interface Manner {
  body: string | Buffer
  type?: string
  status?: number
  headers?: Record<string, string>
}
let manner: Manner | ((asked: URL) => Manner)
let seen: URL
let c: Awaited<ReturnType<typeof answering>>
const catalogue: SruSetting = {
  ...{ id: 'odd', name: 'Odd Shelf', sru: 'http://odd.example/sru', schema: 'dc', openCopies: false },
}
beforeAll(async () => {
  c = await answering(
    (req, res) => {
      seen = new URL(req.url!, 'http://odd.example')
      const m = typeof manner === 'function' ? manner(seen) : manner
      res.writeHead(m.status ?? 200, { 'content-type': m.type ?? 'text/xml; charset=utf-8', ...m.headers })
      res.end(m.body)
    },
    [catalogue],
  )
})
afterAll(() => c.close())

const query = { root: { kind: 'clause' as const, relation: '=' as const, modifiers: [], term: 'lamps' } }
async function asked(m: Manner | string, start = 1, most = 3) {
  manner = typeof m === 'string' ? { body: m } : m
  return askSru(c, catalogue, query, start, most)
}

const TITLES = ['Lamps & owls', 'Über den Mond', 'Moths at 5 °C']
const escaped = (s: string) => s.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;')
const dc = (title: string, p = 'dc') =>
  `<${p}:dc xmlns:${p}="http://purl.org/dc/elements/1.1/"><${p}:title>${escaped(title)}</${p}:title><${p}:date>2003</${p}:date></${p}:dc>`
const rec = (data: string, i: number, { p = '', packing = 'xml' } = {}) =>
  `<${p}record><${p}recordSchema>info:srw/schema/1/dc-v1.1</${p}recordSchema><${p}recordPacking>${packing}</${p}recordPacking><${p}recordData>${data}</${p}recordData><${p}recordPosition>${i + 1}</${p}recordPosition></${p}record>`
const around = (
  records: string,
  { p = '', ns = 'http://www.loc.gov/zing/srw/', count = '3', more = '', head = '<?xml version="1.0"?>' } = {},
) =>
  `${head}<${p}searchRetrieveResponse xmlns${p ? `:${p.slice(0, -1)}` : ''}="${ns}"><${p}version>1.2</${p}version>${count && `<${p}numberOfRecords>${count}</${p}numberOfRecords>`}<${p}records>${records}</${p}records>${more}</${p}searchRetrieveResponse>`
const plain = TITLES.map(t => dc(t))
const good = around(plain.map((d, i) => rec(d, i)).join(''))
const latin = (s: string) => Buffer.from(s, 'latin1')

describe('three records in honest manners', () => {
  test.each<[string, Manner | string]>([
    ['version 1.2, plainly', good],
    ['a prefix of its own', around(plain.map((d, i) => rec(d, i, { p: 'zs:' })).join(''), { p: 'zs:' })],
    [
      'version 2.0',
      around(plain.map((d, i) => rec(d, i, { p: 'sruResponse:' })).join(''), {
        p: 'sruResponse:',
        ns: 'http://docs.oasis-open.org/ns/search-ws/sruResponse',
      }),
    ],
    ['records of another prefix', around(TITLES.map((t, i) => rec(dc(t, 'd'), i)).join(''))],
    ['packed as a string, escaped', around(plain.map((d, i) => rec(escaped(d), i, { packing: 'string' })).join(''))],
    [
      'packed as a string in CDATA',
      around(plain.map((d, i) => rec(`<![CDATA[${d}]]>`, i, { packing: 'string' })).join('')),
    ],
    ['called xml and escaped', around(plain.map((d, i) => rec(escaped(d), i)).join(''))],
    ['called string and plain', around(plain.map((d, i) => rec(d, i, { packing: 'string' })).join(''))],
    ['a packing nobody knows', around(plain.map((d, i) => rec(d, i, { packing: 'application/xml' })).join(''))],
    ['no packing named', good.replaceAll('<recordPacking>xml</recordPacking>', '')],
    ['no positions', good.replace(/<recordPosition>\d<\/recordPosition>/g, '')],
    ['white space everywhere', good.replaceAll('><', '>\n  <')],
    ['line ends of Windows', good.replaceAll('><', '>\r\n<')],
    [
      'comments with tags in them',
      good.replaceAll(
        '<recordData>',
        '<!-- <recordData>none</recordData> --><recordData><!-- <dc:title>no</dc:title> -->',
      ),
    ],
    ['processing instructions', good.replace('<records>', '<?look <recordData> ?><records>')],
    ['a document type without entities', good.replace('?>', '?><!DOCTYPE searchRetrieveResponse>')],
    ['a document type by address', good.replace('?>', '?><!DOCTYPE r SYSTEM "http://odd.example/sru.dtd">')],
    [
      'numeric references',
      around(plain.map((d, i) => rec(d.replace('Ü', '&#220;').replace('°', '&#xB0;'), i)).join('')),
    ],
    [
      'text in CDATA within a record',
      around(
        plain
          .map((d, i) =>
            rec(
              d.replace(
                /<dc:title>(.*?)<\/dc:title>/,
                (_, t: string) => `<dc:title><![CDATA[${t.replace('&amp;', '&')}]]></dc:title>`,
              ),
              i,
            ),
          )
          .join(''),
      ),
    ],
    ['a bare ampersand', good.replaceAll('&amp;', '&')],
    ['control characters', good.replaceAll('Lamps', 'La\u000bmps').replaceAll('owls', 'owls&#12;')],
    ['blank lines before it', `\n\n  ${good}`],
    ['a byte order mark', `\ufeff${good}`],
    ['UTF-16 with its mark', { body: Buffer.from(`\ufeff${good}`, 'utf16le'), type: 'text/xml' }],
    [
      'Latin-1 by its declaration',
      {
        body: latin(
          around(plain.map((d, i) => rec(d, i)).join(''), { head: '<?xml version="1.0" encoding="ISO-8859-1"?>' }),
        ),
        type: 'text/xml',
      },
    ],
    ['Latin-1 by its header', { body: latin(good), type: 'application/xml; charset=ISO-8859-1' }],
    ['Latin-1 by nothing', { body: latin(good), type: 'application/sru+xml' }],
    [
      'called UTF-8 and Latin-1',
      {
        body: latin(
          around(plain.map((d, i) => rec(d, i)).join(''), { head: '<?xml version="1.0" encoding="UTF-8"?>' }),
        ),
      },
    ],
    ['packed by gzip unasked', { body: gzipSync(good), headers: { 'content-encoding': 'gzip' } }],
    ['as text/html', { body: good, type: 'text/html' }],
    ['a number of records with signs in it', good.replace('>3<', '> 3 <')],
    ['no number of records', around(plain.map((d, i) => rec(d, i)).join(''), { count: '' })],
    ['identifiers', good.replace(/<recordPosition>/g, '<recordIdentifier>x</recordIdentifier><recordPosition>')],
    [
      'data of its own beside each record',
      good.replaceAll(
        '</recordPosition>',
        '</recordPosition><extraRecordData><recordData>no</recordData><score>1</score></extraRecordData>',
      ),
    ],
    [
      'the request echoed with records in it',
      good.replace(
        '</records>',
        '</records><echoedSearchRetrieveRequest><query>lamps</query><records><record><recordData>no</recordData></record></records></echoedSearchRetrieveRequest>',
      ),
    ],
    ['a stylesheet', good.replace('?>', '?><?xml-stylesheet type="text/xsl" href="/sru.xsl"?>')],
    ['attributes on everything', good.replaceAll('<recordData>', '<recordData xml:space="preserve" lang="a &gt; b">')],
    [
      'a warning beside the records',
      good.replace(
        '</searchRetrieveResponse>',
        '<diagnostics><diagnostic xmlns="http://www.loc.gov/zing/srw/diagnostic/"><uri>info:srw/diagnostic/1/59</uri><message>Slow</message></diagnostic></diagnostics></searchRetrieveResponse>',
      ),
    ],
  ])('%s', async (_, m) => {
    const page = await asked(m)
    expect(page.records.map(r => readRecord(catalogue.schema, r.raw).item.title)).toEqual(TITLES)
    expect(page.records.map(r => r.position)).toEqual([1, 2, 3])
    expect(page.unread).toEqual([])
    expect(page.count).toBeGreaterThanOrEqual(3)
  })
})

describe('what is missing or broken', () => {
  const diag = (inside: string) => `<diagnostic xmlns="http://www.loc.gov/zing/srw/diagnostic/">${inside}</diagnostic>`
  test('an empty record, an error in a record’s place and a text keep their places, and shift no other', async () => {
    const page = await asked(
      around(
        [
          rec('', 0),
          rec(plain[0]!, 1),
          rec(diag('<uri>info:srw/diagnostic/1/64</uri><details>17</details>'), 2).replace(
            'info:srw/schema/1/dc-v1.1',
            'info:srw/schema/1/diagnostics-v1.1',
          ),
          '<record><recordSchema>dc</recordSchema><recordData/><recordPosition>4</recordPosition></record>',
          '<record><recordSchema>dc</recordSchema></record>',
          rec('gone', 5),
          rec(plain[1]!, 6),
        ].join(''),
        { count: '7' },
      ),
      1,
      10,
    )
    expect(page.records.map(r => [r.position, readRecord(catalogue.schema, r.raw).item.title])).toEqual([
      [2, TITLES[0]],
      [7, TITLES[1]],
    ])
    expect(page.unread.map(u => [u.position, u.why])).toEqual([
      [1, 'It is empty.'],
      [3, 'The catalogue says: Record temporarily unavailable: 17.'],
      [4, 'It is empty.'],
      [5, 'It is empty.'],
      [6, 'It is no XML.'],
    ])
    expect(page.more).toBe(false)
  })
  test.each<[string, string, string]>([
    [
      'with a count of none',
      around(
        `</records><diagnostics>${diag('<uri>info:srw/diagnostic/1/16</uri><message>Unsupported index</message><details>dc.date</details>')}</diagnostics><records>`,
        { count: '0' },
      ),
      'Unsupported index: dc.date',
    ],
    [
      'without a count',
      around(`</records><diagnostics>${diag('<message>Too slow</message>')}</diagnostics><records>`, { count: '' }),
      'Too slow',
    ],
    [
      'an address alone',
      around(`</records><diagnostics>${diag('<uri>info:srw/diagnostic/1/28</uri>')}</diagnostics><records>`, {
        count: '0',
      }),
      'Masking character not supported',
    ],
    [
      'details alone',
      around(`</records><diagnostics>${diag('<details>year</details>')}</diagnostics><records>`, { count: '0' }),
      'year',
    ],
    [
      'an address of its own',
      around(`</records><diagnostics>${diag('<uri>http://odd.example/errors/7</uri>')}</diagnostics><records>`, {
        count: '0',
      }),
      'http://odd.example/errors/7',
    ],
    [
      'nothing around it',
      `<diagnostics>${diag('<message>No such database</message>')}</diagnostics>`,
      'No such database',
    ],
    ['itself alone', diag('<message>No such database</message>'), 'No such database'],
    [
      'in an explain',
      `<explainResponse xmlns="http://www.loc.gov/zing/srw/"><diagnostics>${diag('<message>Unsupported operation</message>')}</diagnostics></explainResponse>`,
      'Unsupported operation',
    ],
  ])('a refusal %s is said in its own words, at 200 and at 400', async (_, xml, said) => {
    for (const status of [200, 400, 500])
      await expect(asked({ body: xml, status })).rejects.toThrow(`Odd Shelf refuses: ${said}`)
  })
  test.each<[string, Manner, RegExp]>([
    ['a page of HTML', { body: '<html><body><p>Welcome<br></body></html>', type: 'text/html' }, /cannot be read/],
    ['an error of the server', { body: 'Oops', status: 500, type: 'text/plain' }, /answered with an error \(500\)/],
    ['half an answer', { body: good.slice(0, 700) }, /cannot be read: The XML is broken/],
    ['nothing', { body: '' }, /cannot be read/],
    ['another answer', { body: '<feed xmlns="http://www.w3.org/2005/Atom"/>' }, /not that of an SRU search/],
    ['entities of its own', { body: good.replace('?>', '?><!DOCTYPE r [<!ENTITY a "b">]>') }, /entities of its own/],
    ['a packing that is none', { body: good, headers: { 'content-encoding': 'gzip' } }, /cannot be unpacked/],
  ])('%s is told', async (_, m, said) => {
    await expect(asked(m)).rejects.toThrow(said)
  })
})

test('pages go on while records come, whether or not the next position is named', async () => {
  const page = (more: string, count = '9') => around(plain.map((d, i) => rec(d, i)).join(''), { more, count })
  expect((await asked(page('<nextRecordPosition>4</nextRecordPosition>'))).more).toBe(true)
  expect((await asked(page(''))).more).toBe(true)
  expect((await asked(page('', '3'))).more).toBe(false)
  expect(await asked(page('', ''))).toMatchObject({ more: true, count: 4, counted: false })
  expect(await asked(page('', '3'))).toMatchObject({ more: false, count: 3, counted: true })
  // the last page of one that does not count
  expect(await asked(page('', ''), 4, 5)).toMatchObject({ more: false, count: 6, counted: false })
  const second = await asked(page(''), 4)
  // numbered from one on each page
  expect(second.records.map(r => r.position)).toEqual([4, 5, 6])
  expect((await asked(page(''), 7)).more).toBe(false)
})

test('an address with a query of its own keeps it', async () => {
  catalogue.sru = 'http://odd.example/cgi/sru?x-database=lamps&version=1.1'
  await asked(good)
  expect(Object.fromEntries(seen.searchParams)).toMatchObject({ 'x-database': 'lamps', version: '1.2', query: 'lamps' })
  manner = { body: good }
  await explainOf(c, catalogue)
  expect(seen.searchParams.get('x-database')).toBe('lamps')
  catalogue.sru = 'http://odd.example/sru'
})

test.each<[string, Manner]>([
  ['nothing there', { body: 'Not found', status: 404, type: 'text/plain' }],
  ['a page of HTML', { body: '<html><body>Welcome<br></body></html>', type: 'text/html' }],
  [
    'a refusal',
    {
      body: '<diagnostics><diagnostic><message>Unsupported operation</message></diagnostic></diagnostics>',
      status: 400,
    },
  ],
  ['a search', { body: good }],
])(
  'a catalogue that answers %s where it should explain itself is asked all the same, and that is said',
  async (name, m) => {
    const own = { ...catalogue, sru: `http://odd.example/${encodeURIComponent(name)}` }
    manner = m
    const known = await explainOf(c, own)
    expect(known.abilities).toEqual({ truncation: true, proximity: true })
    expect(known.names).toEqual({})
    expect(known.assumed).toMatch(/^It does not say what it can do, so it was asked as the query stands\. Odd|odd/)
  },
)

describe('a query that is refused', () => {
  const read = (text: string): Query => {
    const parsed = parseCql(text)
    if (!parsed.ok) throw new Error(parsed.error.message)
    return parsed.query
  }
  const no = (number: number, details: string) =>
    `<diagnostics><diagnostic xmlns="http://www.loc.gov/zing/srw/diagnostic/"><uri>info:srw/diagnostic/1/${number}</uri><details>${details}</details></diagnostic></diagnostics>`
  const explain = (config = '') =>
    `<explainResponse xmlns="http://www.loc.gov/zing/srw/"><record><recordData><explain xmlns="http://explain.z3950.org/dtd/2.0/"><databaseInfo><title>Odd</title></databaseInfo>
    <indexInfo><set name="dc" identifier="info:srw/cql-context-set/1/dc-v1.1"/><index><map><name set="dc">title</name></map></index><index><map><name set="dc">contributor</name></map></index><index><map><name set="dc">creator</name></map></index><index><map><name set="dc">date</name></map></index></indexInfo>
    <schemaInfo><schema name="dublin" identifier="info:srw/schema/1/dc-v1.1"/></schemaInfo><configInfo>${config}</configInfo></explain></recordData></record></explainResponse>`
  const words = [
    ['lamps', 4],
    ['lamp', 9],
    ['lampyrid', 1],
    ['lan', 0],
  ] as const
  const terms = words.map(([w, n]) => `<term><value>${w}</value><numberOfRecords>${n}</numberOfRecords></term>`)
  const dictionary = `<scanResponse xmlns="http://www.loc.gov/zing/srw/"><terms>${terms.join('')}</terms></scanResponse>`
  let asked: URLSearchParams[] = []
  let [scans, explains] = [0, 0]
  /** A catalogue that says no by rules of its own, and counts how often it is asked. */
  const server = (
    name: string,
    rules: [RegExp, string][],
    config = '',
    refuses?: (p: URLSearchParams) => string | undefined,
  ) => {
    asked = []
    scans = explains = 0
    manner = ({ searchParams: p }) => {
      if (p.get('operation') === 'explain') {
        explains++
        return { body: explain(config) }
      }
      if (p.get('operation') === 'scan') {
        scans++
        return { body: dictionary }
      }
      asked.push(p)
      const refused = refuses?.(p) ?? rules.find(([is]) => is.test(p.get('query')!))?.[1]
      return { body: refused ? around(`</records>${refused}<records>`, { count: '0' }) : good }
    }
    return { ...catalogue, sru: `http://odd.example/${name}` }
  }

  test('is asked by the catalogue’s own names of indexes and schemas', async () => {
    const own = server('names', [[/(^|\s)(title|author|year)/, no(16, 'bare')]])
    const page = await askSru(c, own, read('title=lamps and author=lune and year>2000'), 1, 3)
    expect(asked.map(p => p.get('query'))).toEqual(['dc.title = lamps and dc.creator = lune and dc.date > 2000'])
    expect(asked[0]!.get('recordSchema')).toBe('dublin')
    expect(page).toMatchObject({ changes: [], count: 3 })
  })
  test('is asked for no more at once than its explain says it gives', async () => {
    const own = server('at-once', [], '<setting type="maximumRecords">20</setting>')
    await askSru(c, own, read('lamps'), 1, 50)
    expect(asked.at(-1)!.get('maximumRecords')).toBe('20')
  })
  test('is asked again in the nearest form, narrowed here and remembered', async () => {
    const own = server('refusals', [
      [/within/, no(19, 'within')],
      [/[<>]/, no(22, 'dc.date >=')],
      [/lamp\*/, no(28, '*')],
    ])
    const query = read('title=lamp* and year within "2000 2002"')
    const page = await askSru(c, own, query, 1, 3)
    expect(printCql(page.asked)).toBe('dc.title = lamp')
    expect(printCql({ root: page.sift! })).toBe('title = lamp* and year within "2000 2002"')
    expect(page.changes.join(' ')).toMatch(/cannot truncate.*does not know “within” for year: that is looked at here/)
    const before = asked.length
    await askSru(c, own, query, 1, 3)
    expect(asked.length).toBe(before + 1)
  })
  test('is asked for the endings that its own dictionary has', async () => {
    const own = server('endings', [[/\*/, no(28, '*')]], '<supports type="scan"/>')
    const page = await askSru(c, own, read('lamp*'), 1, 3)
    expect(printCql(page.asked)).toBe('lamp or lamps or lampyrid')
    expect(page.changes).toEqual(['It cannot truncate: "lamp*" is asked as lamp, lamps, lampyrid.'])
  })
  test('its explain and its dictionary are asked once, however many counts wait for them at once', async () => {
    const own = server('together', [[/\*/, no(28, '*')]], '<supports type="maskingCharacter"/><supports type="scan"/>')
    await Promise.all(['lamp*', 'lamp* and owl', 'title=lamp*'].map(q => askSru(c, own, read(q), 1, 3)))
    expect([explains, scans, asked.length]).toEqual([1, 1, 3])
  })
  test('who leaves waits no longer, and the others get their answer', async () => {
    const own = server('left', [])
    const leaving = new AbortController()
    const left = explainOf(c, own, leaving.signal)
    const staying = explainOf(c, own)
    leaving.abort()
    await expect(left).rejects.toThrow(/abort/i)
    expect((await staying).title).toBe('Odd')
    expect(explains).toBe(1)
  })
  test('is asked in another version, in smaller pages, in whatever schema there is', async () => {
    const own = server('versions', [], '', p =>
      p.get('version') !== '1.1'
        ? no(5, '1.1')
        : Number(p.get('maximumRecords')) > 20
          ? no(6, 'maximumRecords')
          : p.has('recordSchema')
            ? no(66, p.get('recordSchema')!)
            : undefined,
    )
    expect(await askSru(c, own, read('lamps'), 1, 50)).toMatchObject({ count: 3 })
    expect(Object.fromEntries(asked.at(-1)!)).toMatchObject({ version: '1.1', maximumRecords: '13' })
    expect(asked.at(-1)!.has('recordSchema')).toBe(false)
  })
  test('and that no form helps is said in the catalogue’s words, after not many tries', async () => {
    const own = server('never', [[/./, no(16, 'whatever')]])
    await expect(askSru(c, own, read('title=lamps and year>2000'), 1, 3)).rejects.toThrow('Unsupported index: whatever')
    expect(asked.length).toBeLessThan(5)
    const busy = server('busy', [[/./, no(2, 'come back')]])
    await expect(askSru(c, busy, read('lamps'), 1, 3)).rejects.toThrow('come back')
    expect(asked.length).toBe(1)
  })
})
