import { expect, test } from '@jest/globals'
import { readFileSync } from 'node:fs'
import { readOaiFormats, readOaiIdentity, readOaiPage, readOaiSets } from './oai'
import { offersOf, readRecord, schemaFor } from './records'

// written by a general toolkit for repositories, not by us
const foreign = (name: string) => readFileSync(new URL(`./foreign/oai-${name}.xml`, import.meta.url), 'utf8')
const around = (inside: string) => `<OAI-PMH xmlns="http://www.openarchives.org/OAI/2.0/">${inside}</OAI-PMH>`

test('a page of records: living ones as they came, those taken back by name, and the mark of the next', () => {
  const page = readOaiPage(foreign('records'))
  expect(page.records.map(r => [r.identifier, r.stamp, r.deleted])).toEqual([
    ['oai:wells.example:1', '2026-09-01T10:00:00Z', false],
    ['oai:wells.example:2', '2026-09-02T10:00:00Z', true],
    ['oai:wells.example:3', '2026-09-03T10:00:00Z', false],
  ])
  expect(page).toMatchObject({ token: 'tok/1?&x', size: 7, unread: [], errors: [] })
  const { item } = readRecord('dc', page.records[2]!.raw)
  expect(item).toMatchObject({
    title: 'Waters & laws: a « café » view',
    author: [{ family: 'Quist' }, { family: 'Holt' }],
  })
})

test('what a repository says of itself, of its forms and of its sets', () => {
  expect(readOaiIdentity(foreign('identify'))).toEqual({ name: 'Wells & Waters', seconds: true, deletes: 'transient' })
  const formats = readOaiFormats(foreign('formats'))
  expect(schemaFor(formats)).toBe('marcxml')
  expect(offersOf('dc', formats).map(f => f.name)).toEqual(['oai_dc'])
  expect(readOaiSets(foreign('sets'))).toEqual([{ spec: 'art:wells', name: 'Articles on wells' }])
})

test('errors are told by their codes, a repository without sets has none', () => {
  expect(readOaiPage(foreign('error')).errors).toEqual([{ code: 'badResumptionToken', said: 'Token expired' }])
  expect(readOaiSets(around('<error code="noSetHierarchy"/>'))).toEqual([])
})

test('a record without a name or without metadata is counted in its place, and shifts no other', () => {
  const record = (inside: string) => `<record>${inside}</record>`
  const header = (id: string) =>
    `<header>${id && `<identifier>${id}</identifier>`}<datestamp>2026-01-01</datestamp></header>`
  const good = '<metadata><dc xmlns="x"><title>Wells</title></dc></metadata>'
  const page = readOaiPage(
    around(
      `<ListRecords>${record(header('') + good)}${record(header('a'))}${record(header('b') + good)}<resumptionToken completeListSize="3"/></ListRecords>`,
    ),
  )
  expect(page.unread).toEqual([
    { place: 1, why: 'It has no identifier.' },
    { place: 2, why: 'a has no metadata.' },
  ])
  expect(page.records.map(r => r.identifier)).toEqual(['b'])
  expect(page.token).toBeUndefined()
})

test.each(['<html><body>Sign in</body></html>', '{"a":1}', around('<ListRecords><record>')])(
  'what is no answer of a repository is said: %s',
  text => expect(() => readOaiPage(text)).toThrow(),
)
