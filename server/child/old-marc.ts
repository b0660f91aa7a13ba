import iconv from 'iconv-lite'
import marc8 from 'marc8'

/** Letters of records from before Unicode: MARC-8, or where there are none of it, what Windows wrote. */
export function decodeOldMarc(bytes: Uint8Array): string {
  const text = marc8(bytes, { invalid: 'replace', replace: '\ufffd' })
  return text.includes('\ufffd') ? iconv.decode(Buffer.from(bytes), 'windows-1252') : text
}
