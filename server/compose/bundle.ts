import { plainTitle } from '../../core/bib/clean'
import type { Item } from '../../core/bib/item'
import { entriesIn, writingOf, type Paper } from '../../core/paper/bibliography'
import { openingsOf } from '../copies/copy-rights'
import { copyNames, fileName } from '../../core/paper/names'
import type { Context } from '../base/context'
import { Problem } from '../base/problem'
import { partsOfBlob } from '../db/blobs'
import type { Member } from '../sessions/member'
import { zipStream, type Zipped } from '../documents/zip'
import { methodsOf } from './methods-service'
import { citationsIn, documentIn, nameOf, requireEntries, type MadeFile, type State } from './files'
import { canMakePdf } from './pdf'

const METHODS = 'methods.md'

/**
 * All of a bibliography as one archive, sent while it is made: the document, its citations, the proved copies of its works
 * under names that sort as the list prints, the methods of its search, and what all of these are.
 * @throws Problem 422 where there is no entry
 */
export async function bundleOf(
  c: Context,
  member: Pick<Member, 'inquiryId' | 'userId' | 'day'>,
  { paper, layout }: State,
): Promise<MadeFile> {
  requireEntries(paper)
  const writing = writingOf(paper, layout)
  const name = nameOf(paper)
  const documents: Zipped[] = [
    { name: `${name}.docx`, body: await documentIn('docx', writing) },
    { name: `${name}.md`, body: await documentIn('markdown', writing) },
    { name: 'citations.bib', body: citationsIn('bibtex', paper) },
    { name: 'citations.json', body: citationsIn('csl', paper) },
    { name: METHODS, body: await documentIn('markdown', await methodsOf(c, member)) },
  ]
  // a document that cannot be made does not cost the others theirs
  const missing: string[] = []
  if (canMakePdf())
    try {
      documents.unshift({ name: `${name}.pdf`, body: await documentIn('pdf', writing) })
    } catch (e) {
      if (!(e instanceof Problem)) throw e
      missing.push(e.message)
    }
  const { copies, without } = await copiesOf(c, member, paper, layout.names)
  const readme = readmeOf(paper, documents, copies, without, missing)
  const files = [{ name: 'README.txt', body: readme }, ...documents, ...copies]
  return { name: `${fileName(name)}.zip`, type: 'application/zip', body: zipStream(files, 'SHA256SUMS.txt') }
}

/**
 * The proved copies of the works of a list that whoever asks may open, a version of record before others, and the works
 * that have none; a work whose copy is another's to open says so.
 */
export async function copiesOf(
  c: Context,
  member: Pick<Member, 'inquiryId' | 'userId' | 'day'>,
  paper: Paper,
  pattern: string,
) {
  const { inquiryId } = member
  const entries = entriesIn(paper)
  const rows = await c.db.copies.findAll({
    where: { inquiryId, workId: entries.map(e => e.work), outcome: 'proved' },
    attributes: ['id', 'workId', 'hash', 'version'],
    order: [['id', 'DESC']],
    raw: true,
  })
  const openingOf = await openingsOf(
    c,
    member,
    rows.map(r => r.id),
  )
  const had: {
    item: Item
    place: number
    hash: string
    title: string
    version: string
    work: number
    shared: boolean
  }[] = []
  const without: string[] = []
  entries.forEach(({ work, item, title }, i) => {
    const all = rows.filter(r => r.workId === work)
    const of = all.filter(r => openingOf(r.id).opens)
    const best = of.find(r => r.version === 'version of record') ?? of[0]
    if (best)
      had.push({
        item,
        place: i + 1,
        hash: best.hash,
        title,
        version: best.version,
        work,
        shared: openingOf(best.id).shared,
      })
    else without.push(all[0] ? `${title} (${openingOf(all[0].id).said})` : title)
  })
  const names = copyNames(had, pattern)
  const copies = had.map(({ hash, title, version, work, shared }, i) => ({
    work,
    hash,
    name: `copies/${names[i]!}.pdf`,
    body: () => partsOfBlob(c.db, hash),
    title: plainTitle(title),
    version,
    shared,
  }))
  return { copies, without }
}

function readmeOf(
  paper: Paper,
  documents: readonly Zipped[],
  copies: readonly { name: string; title: string; version: string }[],
  without: readonly string[],
  missing: readonly string[],
): string {
  const n = entriesIn(paper).length
  const what: Record<string, string> = {
    pdf: 'the bibliography as it prints',
    docx: 'the bibliography for a word processor',
    md: 'the bibliography with its annotations as Markdown',
    bib: 'its citations for LaTeX',
    json: 'its citations as CSL-JSON, without loss',
  }
  return [
    paper.title,
    paper.question,
    [paper.author, paper.course].filter(Boolean).join(', '),
    '',
    `${n} ${n === 1 ? 'entry' : 'entries'} in ${paper.styleName}, as of ${paper.day}.`,
    '',
    ...documents.map(
      d =>
        `${d.name}: ${d.name === METHODS ? 'how the works were searched for and chosen' : what[d.name.split('.').at(-1)!]}`,
    ),
    'SHA256SUMS.txt: checksums of all files; sha256sum --check SHA256SUMS.txt compares them',
    ...missing.map(m => `Not here: ${m}`),
    '',
    ...(copies.length
      ? [
          'Copies, each proved by its own text. They are for your own work: what their licences allow beyond it differs.',
          ...copies.map(x => `${x.name}: ${x.title} (${x.version})`),
        ]
      : ['No work of the list has a proved copy.']),
    ...(copies.length && without.length ? ['', 'Without a copy:', ...without] : []),
    '',
  ].join('\n')
}
