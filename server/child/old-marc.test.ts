import { expect, test } from '@jest/globals'
import { readFileSync } from 'node:fs'
import { readMarcFile } from '../../core/formats/library-files'
import { decodeOldMarc } from './old-marc'

test('records from before Unicode: marks before their letter, letters of another script, and what Windows wrote', () => {
  const bytes = readFileSync(new URL('../../core/formats/foreign/exchange-marc8.mrc', import.meta.url))
  const file = readMarcFile(bytes, decodeOldMarc)
  expect(file.entries[0]!.item.author).toEqual([
    { family: 'Müller-Ørskov', given: 'Zoë' },
    { family: 'Достоевская', given: 'Анна' },
  ])
  expect(decodeOldMarc(Buffer.from('M\xfcller', 'latin1'))).toBe('Müller')
})
