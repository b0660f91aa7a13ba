import { isUtf8 } from 'node:buffer'
import iconv from 'iconv-lite'

export type Charset = 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252'

/**
 * Bytes of a file as text, by its mark or else by what they are: UTF-8 where they can be it, UTF-16 where every other
 * byte of a Western text is empty, and what is neither as most old files are written, Windows-1252.
 */
export function decodeText(bytes: Buffer): { text: string; charset: Charset } {
  const charset = charsetOf(bytes)
  // the runtime's own decoder takes Windows-1252 for Latin-1: quotes and dashes would be controls
  return { text: iconv.decode(bytes, charset), charset }
}

/** Bytes that are looked at. */
const LOOKED_AT = 4096

function charsetOf(bytes: Buffer): Charset {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le'
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be'
  const some = bytes.subarray(0, LOOKED_AT)
  const empty = [0, 0]
  some.forEach((b, i) => b === 0 && empty[i % 2]!++)
  if (empty[0]! + empty[1]! > some.length / 5) return empty[1]! > empty[0]! ? 'utf-16le' : 'utf-16be'
  return isUtf8(bytes) ? 'utf-8' : 'windows-1252'
}

/**
 * XML as text: by its mark, else by what the server said of it, else by its own declaration, else as UTF-8.
 * @param contentType of the answer, such as `text/xml; charset=iso-8859-1`
 */
export function decodeXml(bytes: Buffer, contentType = ''): string {
  const told = charsetOf(bytes)
  if (told.startsWith('utf-16')) return iconv.decode(bytes, told)
  if (bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf) return iconv.decode(bytes, 'utf-8')
  const declared = /^\s*<\?xml[^>]{0,200}?encoding\s*=\s*["']([\w.:-]{1,40})["']/.exec(
    bytes.subarray(0, 400).toString('latin1'),
  )
  const said = /charset\s*=\s*"?([\w.:-]{1,40})/i.exec(contentType)
  for (const name of [said?.[1], declared?.[1]])
    // what is called UTF-8 and is not is what old systems send under that name
    if (name && iconv.encodingExists(name) && !(/^utf-?8$/i.test(name) && !isUtf8(bytes)))
      return iconv.decode(bytes, name)
  return iconv.decode(bytes, isUtf8(bytes) ? 'utf-8' : 'windows-1252')
}
