/**
 * What others wrote, read by us and by a reader that is none of ours: the .bib files of a folder, entry by entry, beside
 * what the document converter of the same machine makes of them; and the MODS that a converter of bibliographies makes
 * of them, read back by us. Fields that agree, ours alone, theirs alone, other.
 * npx tsx bench/foreign.ts FOLDER      (needs pandoc and bib2xml; SHOW=field prints what differs)
 */
import { execFileSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import Ajv from 'ajv'
import { CSL_ITEM } from '../core/bib/csl-data'
import { foldTitle } from '../core/bib/fold'
import type { Item } from '../core/bib/item'
import { familyName } from '../core/bib/names'
import { normaliseDoi } from '../core/bib/identifiers'
import { yearOf } from '../core/bib/dates'
import { readPages } from '../core/bib/pages'
import { readBibliography } from '../core/formats/read-file'
import { decodeText } from '../server/base/decode'
import { bibFiles } from './bibliographies'

const folder = process.argv[2]
if (!folder) throw new Error('Give a folder with .bib files.')
const show = process.env.SHOW
const fits = new Ajv({ allowUnionTypes: true, strict: false }).compile(CSL_ITEM)

const words = (text: unknown): string => foldTitle(String(text ?? ''))
/** What two readers should agree on, in a form that forgives how it is printed. */
const fields: Record<string, (item: Item) => string> = {
  title: i => words(i.title),
  'first author': i => (i.author?.[0] ? words(familyName(i.author[0])) : ''),
  'number of authors': i => String(i.author?.length ?? ''),
  year: i => String(yearOf(i) ?? ''),
  container: i => words(i['container-title']),
  volume: i => words(i.volume),
  // the converter puts the number in all beside that of the issue
  issue: i => words(i.issue).split(' ')[0]!,
  // a book’s pages are its pages in all to us
  'first page': i =>
    readPages(i.page ?? String(i['number-of-pages'] ?? ''))?.first.toString() ?? words(i.page ?? i['number-of-pages']),
  publisher: i => words(i.publisher),
  DOI: i => normaliseDoi(i.DOI) ?? '',
  ISBN: i => words(i.ISBN),
}
type Agreement = Record<'same' | 'ours' | 'theirs' | 'other', number>
const tally = () => new Map(Object.keys(fields).map(f => [f, { same: 0, ours: 0, theirs: 0, other: 0 } as Agreement]))

function compareItems(table: Map<string, Agreement>, ours: Item, theirs: Item, where: string) {
  for (const [name, of] of Object.entries(fields)) {
    const [x, y] = [of(ours), of(theirs)]
    if (!x && !y) continue
    const how = x === y ? 'same' : !y ? 'ours' : !x ? 'theirs' : 'other'
    table.get(name)![how]++
    if (show === name && how !== 'same') console.log(`${how} ${where}\n   ${x}\n   ${y}`)
  }
}

function print(table: Map<string, Agreement>) {
  for (const [name, a] of table) {
    const all = a.same + a.ours + a.theirs + a.other
    const share = (n: number) => `${((100 * n) / (all || 1)).toFixed(1)}%`.padStart(6)
    console.log(
      `  ${name.padEnd(18)} ${String(all).padStart(6)}  same ${share(a.same)}  ours alone ${share(a.ours)}  theirs alone ${share(a.theirs)}  other ${share(a.other)}`,
    )
  }
}

/** What another program makes of a file; nothing where it gives up. */
function other(program: string, args: string[]): string {
  try {
    return execFileSync(program, args, {
      encoding: 'utf8',
      maxBuffer: 1 << 29,
      stdio: ['ignore', 'pipe', 'ignore'],
      timeout: 120_000,
    })
  } catch {
    return ''
  }
}

const counts = { files: 0, entries: 0, refused: 0, unfit: 0, commands: 0, undefined: 0, givenUp: 0 }
const byConverter = tally()
const byMods = tally()
for (const file of bibFiles(folder)) {
  const path = join(folder, file)
  const read = readBibliography(decodeText(readFileSync(path)).text)
  if (!read) continue
  counts.files++
  counts.entries += read.entries.length
  counts.refused += read.refused.length
  for (const { item } of read.entries) {
    if (!fits(item)) counts.unfit++
    const { title, author, publisher, 'container-title': container } = item
    const text = JSON.stringify([title, author, publisher, container])
    if (/\\\\[A-Za-z-]/.test(text)) counts.commands++
    if (text.includes('undefined')) counts.undefined++
  }
  const ours = new Map(read.entries.map(e => [String(e.item['citation-key'] ?? e.item.id), e.item]))
  const converted = other('pandoc', ['-f', 'biblatex', '-t', 'csljson', path])
  if (!converted) counts.givenUp++
  for (const theirs of (converted ? JSON.parse(converted) : []) as Item[]) {
    const mine = ours.get(String(theirs.id))
    if (mine) compareItems(byConverter, mine, theirs, `${file} ${theirs.id}`)
  }
  const mods = readBibliography(other('bib2xml', ['-i', 'utf8', path]))
  for (const { item: theirs, raw } of mods?.entries ?? []) {
    const mine = ours.get(/<mods[^>]* ID="([^"]+)"/.exec(raw)?.[1] ?? '')
    if (mine) compareItems(byMods, mine, theirs, `${file} ${theirs.id}`)
  }
}
console.log(counts)
console.log('BibTeX, beside the document converter:')
print(byConverter)
console.log('BibTeX, beside the MODS that a converter made of it:')
print(byMods)
