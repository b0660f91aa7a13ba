import { readDublinCore } from './dublin-core'
import { excerptOf, finish } from './entry'
import { readIso2709 } from './iso2709'
import { readMarc } from './marc'
import { readMarcXml, writeMarcXml } from './marcxml'
import { readMods } from './mods'
import type { ReadEntry, ReadFile, RefusedEntry } from './read-file'
import { splitXml, type XmlPart } from './xml'
import type { ReadRecord } from '../bib/item'

const readers: Record<XmlPart['kind'], (xml: string) => ReadRecord> = {
  marc: readMarcXml,
  mods: readMods,
  dc: readDublinCore,
}
const FORMATS = { marc: 'MARC 21', mods: 'MODS', dc: 'Dublin Core' } as const

/**
 * Reads a file of records in XML, by the same readers that catalogues are read with.
 * @returns undefined where it holds no record of a known kind
 */
export function readXmlFile(text: string): ReadFile | undefined {
  const { parts, broken } = splitXml(text)
  if (!parts.length) return undefined
  const entries: ReadEntry[] = []
  const refused: RefusedEntry[] = []
  for (const p of parts) {
    const entry = entryOf(() => readers[p.kind](p.raw), p)
    if ('why' in entry) refused.push(entry)
    else entries.push(entry)
  }
  if (broken)
    refused.push({
      line: broken.line,
      why: `The XML is broken here (${broken.why}); what comes after it was not read.`,
      excerpt: '',
    })
  return { format: FORMATS[parts[0]!.kind], entries, refused }
}

/** Reads an exchange file of MARC 21 (ISO 2709); its records count as lines. */
export function readMarcFile(bytes: Uint8Array, older: (bytes: Uint8Array) => string): ReadFile {
  const { records, refused } = readIso2709(bytes, older)
  const file: ReadFile = { format: 'MARC 21', entries: [], refused: [] }
  const place = new Map(
    [...records, ...refused]
      .map(r => r.at)
      .sort((a, b) => a - b)
      .map((at, i) => [at, i + 1]),
  )
  const lineOf = (at: number): number => place.get(at)!
  for (const { record, at } of records) {
    const entry = entryOf(() => readMarc(record), { raw: writeMarcXml(record), line: lineOf(at) })
    if ('why' in entry) file.refused.push(entry)
    else file.entries.push(entry)
  }
  for (const r of refused) file.refused.push({ line: lineOf(r.at), why: r.why, excerpt: excerptOf(r.excerpt) })
  return file
}

function entryOf(read: () => ReadRecord, at: { raw: string; line: number }): ReadEntry | RefusedEntry {
  try {
    const { item, facts } = read()
    if (!item.title && !item.author) throw new Error('It has neither a title nor an author.')
    const mended: string[] = []
    const done = finish({ ...item, id: item.id || `record-${at.line}` }, mended)
    return { item: done.item, facts: { ...done.facts, ...facts }, raw: at.raw, line: at.line, mended }
  } catch (e) {
    return { line: at.line, why: e instanceof Error ? e.message : String(e), excerpt: excerptOf(at.raw) }
  }
}
