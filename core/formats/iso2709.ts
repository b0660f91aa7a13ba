import type { MarcRecord } from './marc'

const [RECORD_END, FIELD_END, SUBFIELD] = [0x1d, 0x1e, 0x1f]

export interface Iso2709 {
  records: { record: MarcRecord; at: number }[]
  refused: { at: number; why: string; excerpt: string }[]
}

/** Whether bytes begin as an exchange file of MARC does: a length and a leader of 24 places. */
export const isIso2709 = (bytes: Uint8Array): boolean =>
  /^\s*\d{5}[a-z]{2}[a-z ].[a ]\d\d\d{5}/i.test(new TextDecoder('latin1').decode(bytes.subarray(0, 40)))

/**
 * Reads an exchange file of MARC 21 (ISO 2709). Where the directory of a record is wrong, as tools write it that count
 * letters for bytes, the marks between its fields are trusted instead.
 * @param older reads what is no UTF-8: the character set of before Unicode (MARC-8), or a local one
 * @returns the records by the byte they begin at; what is none is named
 */
export function readIso2709(bytes: Uint8Array, older: (bytes: Uint8Array) => string): Iso2709 {
  const read: Iso2709 = { records: [], refused: [] }
  for (let from = 0; from < bytes.length;) {
    // line ends and blanks between records
    while (bytes[from] === 0x0a || bytes[from] === 0x0d || bytes[from] === 0x20) from++
    if (from >= bytes.length) break
    const end = bytes.indexOf(RECORD_END, from)
    const to = end < 0 ? bytes.length : end
    const one = bytes.subarray(from, to)
    try {
      read.records.push({ record: readOne(one, older), at: from })
    } catch (e) {
      const excerpt = new TextDecoder().decode(one.subarray(0, 200))
      read.refused.push({ at: from, why: e instanceof Error ? e.message : String(e), excerpt })
    }
    from = to + 1
  }
  return read
}

const latin = new TextDecoder('latin1')

function readOne(bytes: Uint8Array, older: (bytes: Uint8Array) => string): MarcRecord {
  const leader = latin.decode(bytes.subarray(0, 24))
  if (!/^[\d ]{5}/.test(leader) || bytes.length < 26) throw new Error('It has no leader.')
  const base = Number(leader.slice(12, 17))
  const directoryEnd = bytes.indexOf(FIELD_END, 24)
  if (directoryEnd < 0) throw new Error('It has no fields.')
  const directory = latin.decode(bytes.subarray(24, directoryEnd)).match(/.{12}/gs) ?? []
  const decode = decoderOf(bytes, older)
  const record: MarcRecord = { leader, control: [], fields: [] }
  const isTrue =
    base === directoryEnd + 1 &&
    directory.every(d => bytes[base + Number(d.slice(7)) + Number(d.slice(3, 7)) - 1] === FIELD_END)
  let at = directoryEnd + 1
  for (const d of directory) {
    const from = isTrue ? base + Number(d.slice(7)) : at
    const ends = bytes.indexOf(FIELD_END, from)
    const to = isTrue ? from + Number(d.slice(3, 7)) - 1 : ends < 0 ? bytes.length : ends
    at = to + 1
    const tag = d.slice(0, 3)
    // marks are looked for before letters are read: a character set may not know them
    const [first = '', ...subfields] = splitAt(bytes.subarray(from, to), SUBFIELD).map(decode)
    if (tag < '010') record.control.push([tag, first])
    else {
      record.fields.push({
        tag,
        indicators: first.padEnd(2).slice(0, 2),
        subfields: subfields.filter(Boolean).map(s => [s[0]!, s.slice(1)]),
      })
    }
  }
  if (!record.fields.length) throw new Error('It has no fields.')
  return record
}

function splitAt(bytes: Uint8Array, mark: number): Uint8Array[] {
  const parts: Uint8Array[] = []
  let from = 0
  for (let at = bytes.indexOf(mark); at >= 0; at = bytes.indexOf(mark, from)) {
    parts.push(bytes.subarray(from, at))
    from = at + 1
  }
  return [...parts, bytes.subarray(from)]
}

/** What the leader says of its letters is often not true: what is UTF-8 throughout is that, the rest older. */
function decoderOf(bytes: Uint8Array, older: (bytes: Uint8Array) => string): (bytes: Uint8Array) => string {
  const utf8 = new TextDecoder('utf-8', { fatal: true })
  try {
    utf8.decode(bytes)
  } catch {
    return older
  }
  return bytes.includes(0x1b) ? older : b => utf8.decode(b)
}
