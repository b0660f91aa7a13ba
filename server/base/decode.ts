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
