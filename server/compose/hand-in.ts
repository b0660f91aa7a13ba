import { citationKeys } from '../../core/cite/citation-keys'
import { writeBibtex } from '../../core/formats/bibtex'
import { writeRis } from '../../core/formats/ris'
import type { Context } from '../base/context'
import { Problem } from '../base/problem'
import { exportedItem, printedList } from './compose-service'
import { asDocx, asHtml, asMarkdown, type Printed } from './documents'

interface HandedIn {
  /** Without its ending. */
  name: string
  ending: string
  type: string
  body: string | Buffer
}
type List = Awaited<ReturnType<typeof printedList>>

/** The formats in which a bibliography is handed in, by the name by which they are asked for. */
const FORMATS: Record<string, { ending: string; type: string; write(list: List): string | Promise<Buffer> }> = {
  docx: {
    ending: 'docx',
    type: 'application/vnd.openxmlformats-officedocument.wordprocessingml.document',
    write: list => asDocx(printed(list)),
  },
  html: { ending: 'html', type: 'text/html; charset=utf-8', write: list => asHtml(printed(list)) },
  markdown: { ending: 'md', type: 'text/markdown; charset=utf-8', write: list => asMarkdown(printed(list)) },
  bibtex: {
    ending: 'bib',
    type: 'application/x-bibtex; charset=utf-8',
    write: list => keyed(list, writeBibtex).join('\n'),
  },
  ris: {
    ending: 'ris',
    type: 'application/x-research-info-systems; charset=utf-8',
    write: list => keyed(list, writeRis).join('\r\n'),
  },
  csl: {
    ending: 'json',
    type: 'application/vnd.citationstyles.csl+json; charset=utf-8',
    write: ({ list }) =>
      JSON.stringify(
        list.map(e => exportedItem(e.work.item, e.workId)),
        null,
        2,
      ),
  },
}

/** @throws Problem 422 where there is no entry, or no such format */
export async function handIn(c: Context, inquiryId: number, format: string, style?: string): Promise<HandedIn> {
  const list = await printedList(c, inquiryId, style)
  if (!list.list.length) throw new Problem(422, 'no-entries', 'There is no entry to hand in yet.')
  const how = Object.hasOwn(FORMATS, format) ? FORMATS[format] : undefined
  if (!how) throw new Problem(422, 'invalid', `Formats are ${Object.keys(FORMATS).join(', ')}.`)
  const name = list.inquiry.title.replace(/[^\p{L}\p{N}]+/gu, '-').replace(/^-|-$/g, '') || 'bibliography'
  return { name, ending: how.ending, type: how.type, body: await how.write(list) }
}

const printed = ({ inquiry, bibliography, inOrder }: List): Printed => ({
  title: inquiry.title,
  question: inquiry.question,
  hangingIndent: bibliography.hangingIndent,
  entries: inOrder.map(f => ({ label: f.label, citation: f.citation, annotation: f.entry.annotation })),
})

function keyed({ list }: List, write: typeof writeBibtex): string[] {
  const items = list.map(e => e.work.item)
  const keys = citationKeys(items)
  return items.map((item, i) => write(item, keys[i]!))
}
