import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { decodeText } from './decode'

const text = 'publication_title\tLünen\nNight Papers\t1998\n'
const swapped = (b: Buffer) => Buffer.from(b).swap16()
test.each<[string, Buffer, string]>([
  ['utf-8', Buffer.from(text), 'utf-8'],
  ['utf-8 with its mark', Buffer.from(`\ufeff${text}`), 'utf-8'],
  ['little-endian with its mark', Buffer.from(`\ufeff${text}`, 'utf16le'), 'utf-16le'],
  ['big-endian with its mark', swapped(Buffer.from(`\ufeff${text}`, 'utf16le')), 'utf-16be'],
  ['little-endian without', Buffer.from(text, 'utf16le'), 'utf-16le'],
  ['big-endian without', swapped(Buffer.from(text, 'utf16le')), 'utf-16be'],
  ['an old Western file', Buffer.from(text, 'latin1'), 'windows-1252'],
  ['nothing', Buffer.alloc(0), 'utf-8'],
])('%s', (_, bytes, charset) => {
  expect(decodeText(bytes)).toEqual({ text: bytes.length ? text : '', charset })
})

test('a dash and quotes of an old file are what they are there, not controls', () =>
  expect(decodeText(Buffer.from([0x93, 0x41, 0x94, 0x20, 0x96, 0x80])).text).toBe('“A” –€'))

test('any text comes back from UTF-8, and any bytes are some text', () => {
  fc.assert(
    fc.property(
      fc.string({ unit: 'grapheme' }).filter(s => !s.includes('\0') && !s.startsWith('\ufeff')),
      s => expect(decodeText(Buffer.from(s)).text).toBe(s),
    ),
  )
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 200 }), b => expect(typeof decodeText(Buffer.from(b)).text).toBe('string')),
  )
})
