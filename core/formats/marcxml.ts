import type { ReadRecord } from '../bib/item'
import { readMarc, type MarcRecord } from './marc'
import { all, escapeXml, first, readXml, textOf, type Xml } from './xml'

/**
 * Reads one bibliographic record of MARC 21 in XML.
 * @throws Error where it is not well-formed XML or no MARC record
 */
export function readMarcXml(xml: string): ReadRecord {
  const [record] = marcIn(readXml(xml))
  if (!record) throw new Error('The record is not MARC 21 in XML.')
  return readMarc(record)
}

/**
 * The records of MARC 21 in a document: by itself, in a collection (one of holdings may follow that of the book), or beside
 * what stands on shelves (OPAC).
 */
export function marcIn(root: Xml): MarcRecord[] {
  const within = [root, first(root, 'collection'), first(root, 'opacRecord', 'bibliographicRecord')]
  return within
    .flatMap(x => all(x, 'record'))
    .filter(record => 'leader' in record || 'datafield' in record)
    .map(record => {
      // its first five places are blank in many files, and blanks at the ends of an element were taken off
      const leader = textOf(first(record, 'leader')) ?? ''
      return {
        leader: leader.endsWith('4500') ? leader.padStart(24) : leader,
        control: all(record, 'controlfield').map(c => [String(c['@tag']), textOf(c) ?? '']),
        fields: all(record, 'datafield').map(f => ({
          tag: String(f['@tag']),
          indicators: String(f['@ind1'] ?? ' ').padEnd(1) + String(f['@ind2'] ?? ' ').padEnd(1),
          subfields: all(f, 'subfield').map(s => [String(s['@code']), textOf(s) ?? '']),
        })),
      }
    })
}

/** The record in XML, without its namespace: it is kept so where it came in a form that is no text. */
export function writeMarcXml(record: MarcRecord): string {
  const control = record.control.map(([tag, v]) => `  <controlfield tag="${tag}">${escapeXml(v)}</controlfield>\n`)
  const fields = record.fields.map(
    f =>
      `  <datafield tag="${f.tag}" ind1="${f.indicators[0]}" ind2="${f.indicators[1]}">${f.subfields
        .map(([c, v]) => `<subfield code="${escapeXml(c)}">${escapeXml(v)}</subfield>`)
        .join('')}</datafield>\n`,
  )
  return `<record>\n  <leader>${escapeXml(record.leader)}</leader>\n${control.join('')}${fields.join('')}</record>`
}
