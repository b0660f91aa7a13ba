import { describe, expect, test } from '@jest/globals'
import { readFileSync } from 'node:fs'
import { isIso2709, readIso2709 } from './iso2709'
import { readMarcFile } from './library-files'
import { readBibliography } from './read-file'

// written by toolkits of others: an exchange file and a collection of MODS
const foreign = (name: string) => readFileSync(new URL(`./foreign/${name}`, import.meta.url))
const asLatin = (b: Uint8Array) => new TextDecoder('latin1').decode(b)

describe('exchange files of MARC', () => {
  const bytes = foreign('exchange-utf8.mrc')
  test('are told by their leader and read by their bytes', () => {
    expect(isIso2709(bytes)).toBe(true)
    expect(isIso2709(Buffer.from('@article{a, title={B}}'))).toBe(false)
    const file = readMarcFile(bytes, asLatin)
    expect(file.refused).toEqual([])
    expect(file.entries.map(e => [e.line, e.item.title, e.item.type])).toEqual([
      [1, 'Nächte in sechs Städten: eine Łódź-Geschichte', 'book'],
      [2, 'On dusk', 'article-journal'],
    ])
  })
  test('what is kept of a record reads as the same record', () => {
    for (const e of readMarcFile(bytes, asLatin).entries) {
      const again = readBibliography(e.raw)!.entries[0]!
      expect(again.item).toEqual(e.item)
      expect(again.raw).toBe(e.raw)
    }
  })
  test('a directory that counts letters for bytes costs nothing; what is no record is named', () => {
    const wrong = Buffer.from(bytes.toString('utf8').replace('0046000', '0044000'))
    expect(readMarcFile(wrong, asLatin).entries[0]!.item.author![0]).toEqual({ family: 'Müller-Ørskov', given: 'Zoë' })
    const cut = Buffer.concat([bytes.subarray(0, 200), Buffer.from('\u001dnonsense\u001d'), bytes])
    const { records, refused } = readIso2709(cut, asLatin)
    expect(records.length + refused.length).toBe(4)
    expect(refused.map(r => r.why)).toContain('It has no leader.')
  })
})

describe('files of XML', () => {
  test('a collection of another program', () => {
    const file = readBibliography(foreign('collection.mods.xml').toString('utf8'))!
    expect(file.format).toBe('MODS')
    expect(file.refused).toEqual([])
    expect(file.entries.map(e => [e.item.type, e.item.title, e.line])).toEqual([
      ['article-journal', 'On Dusk: A Study of LED Lamps', 3],
      ['chapter', 'On wicks', 51],
      ['thesis', 'Moths', 96],
      ['report', 'Lamps in 2014', 121],
      ['paper-conference', 'Glow', 142],
      ['book', 'Glow', 172],
    ])
  })
  test('records within what carries them: an answer of a harvest, a bare list', () => {
    const harvest = `<?xml version="1.0"?><OAI-PMH><ListRecords><record><header><identifier>1</identifier></header><metadata>
      <oai_dc:dc><dc:title>Lamps</dc:title><dc:creator>Lune, Mara</dc:creator></oai_dc:dc></metadata></record></ListRecords></OAI-PMH>`
    expect(readBibliography(harvest)).toMatchObject({
      format: 'Dublin Core',
      entries: [{ item: { title: 'Lamps' }, line: 2 }],
    })
    const bare = '<list><entry><dc:title>Lamps</dc:title></entry><entry><dc:title>Moths</dc:title></entry></list>'
    expect(readBibliography(bare)!.entries.map(e => e.item.title)).toEqual(['Lamps', 'Moths'])
  })
  test('what comes before a fault is kept, what has no title is named, what is something else is none', () => {
    const file = readBibliography(
      '<modsCollection><mods><titleInfo><title>Lamps</title></titleInfo></mods>\n<mods></mods>\n<mods><titleInfo></mods>',
    )!
    expect(file.entries.map(e => e.item.title)).toEqual(['Lamps'])
    expect(file.refused.map(r => r.line)).toEqual([2, 3])
    expect(file.refused[1]!.why).toContain('what comes after it was not read')
    expect(readBibliography('<html><body>Hello</body></html>')).toBeUndefined()
    expect(
      readBibliography('<!DOCTYPE x [<!ENTITY a "b">]><mods><titleInfo><title>&a;</title></titleInfo></mods>'),
    ).toBeUndefined()
  })
})
