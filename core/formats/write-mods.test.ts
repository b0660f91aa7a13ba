import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { Item } from '../bib/item'
import { losses } from './losses'
import { readMods } from './mods'
import { writeMods } from './write-mods'
import { all, readXml } from './xml'

const year = (...parts: number[]) => ({ 'date-parts': [parts] })
const there: Item[] = [
  {
    ...{ id: 'a', type: 'article-journal', title: 'Lamps & towns: a <count>', 'container-title': 'Night Papers' },
    author: [{ family: 'Lune', given: 'Mara' }, { literal: 'Office of Lamps' }],
    ...{ volume: '7', issue: '2', page: '211-224', issued: year(2019, 3, 4), DOI: '10.5555/np.1', ISSN: '1234-5679' },
    ...{ language: 'en', abstract: 'What lamps do.', URL: 'http://a.example/x' },
  },
  {
    ...{ id: 'b', type: 'chapter', title: 'Moths by ear', 'container-title': 'A book of nights', page: '1-20' },
    author: [{ family: 'Okafor', given: 'Ada', suffix: 'Jr.', 'non-dropping-particle': 'van' }],
    ...{ editor: [{ family: 'Sand', given: 'Ivo' }], publisher: 'Moorgrave', 'publisher-place': 'Ostmere' },
    ...{ ISBN: '9789900019961', edition: '2', 'collection-title': 'Night studies', 'collection-number': '4' },
    issued: year(2001),
  },
  { id: 'c', type: 'thesis', title: 'On light', publisher: 'Ostmere', genre: 'PhD thesis', issued: year(1999) },
  { id: 'd', type: 'book', title: 'Towns', editor: [{ family: 'Dorn', given: 'C.' }], ISBN: '9789900019961' },
  { id: 'e', type: 'report', title: 'Counts', author: [{ literal: 'Ostmere Council' }], number: '12' },
  { id: 'f', type: 'paper-conference', title: 'Wings', 'container-title': 'Meeting on Wings', page: 'e14' },
  { id: 'g', type: 'webpage', title: 'Lamp list', 'container-title': 'Lamps online', URL: 'http://b.example/' },
  { id: 'h', type: 'article-newspaper', title: 'Dark streets', 'container-title': 'The Ostmere News', page: '4' },
]

describe('MODS that is written', () => {
  test.each(there)('carries all that is cited of $type', item => {
    expect(losses(item, 'mods')).toEqual({ id: item.id, fields: [] })
    expect(readMods(writeMods([item], ['k'])).item.id).toBe(item.id)
  })

  test('is one collection, each record with its own key', () => {
    const collection = readXml(
      writeMods(
        there,
        there.map(i => `key-${i.id}`),
      ),
    )
    const root = collection.modsCollection as object
    expect(all(root, 'mods').map(m => [m['@ID'], m['@version']])).toEqual(there.map(i => [`key-${i.id}`, '3.8']))
  })

  test('puts what is of the whole with the whole, as the standard has it', () => {
    const xml = writeMods([there[1]!], ['k'])
    const [own, host] = xml.split('<relatedItem type="host">')
    expect(own).toContain('<title>Moths by ear</title>')
    expect(own).not.toMatch(/Sand|9789900019961/)
    expect(host).toMatch(/Sand[\s\S]*edt[\s\S]*<start>1<\/start>[\s\S]*isbn/)
  })

  test('says what it has no element for, and dates that are no days as they are', () => {
    expect(losses({ id: 'a', type: 'book', title: 'T', 'archive-place': 'Ostmere' }, 'mods').fields).toEqual([
      'archive-place',
    ])
    expect(writeMods([{ id: 'a', type: 'book', issued: { raw: 'spring of 1920' } }], ['k'])).toContain(
      '<dateIssued>spring of 1920</dateIssued>',
    )
    const range = writeMods([{ id: 'a', type: 'book', issued: { 'date-parts': [[1920], [1922, 5]] } }], ['k'])
    expect(range).toMatch(/point="start">1920<[\s\S]*point="end">1922-05</)
  })

  test('is well-formed whatever letters stand in an item', () => {
    const any = fc.string({ unit: 'binary', maxLength: 30 })
    fc.assert(
      fc.property(any, any, any, (title, family, page) => {
        const { item } = readMods(
          writeMods([{ id: 'x', type: 'book', title: `T${title}`, author: [{ family: `F${family}` }], page }], ['k']),
        )
        expect(item.title?.startsWith('T')).toBe(true)
      }),
    )
  })
})
