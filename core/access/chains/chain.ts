import type { Item } from '../../bib/item'
import type { Ended } from '../walk'

/** What a made-up server answers at one address. */
export interface Shown {
  status?: number
  headers?: Record<string, string>
  /** A page; of a form that was sent, what comes then. */
  html?: string
  /** A PDF: of the work, of another, or of something beside it. */
  pdf?: 'right' | 'wrong'
  text?: string
  to?: string
  /** What it answers when it is asked again. */
  then?: Shown
}

/** Pages between an address and a text, as platforms of many makers and languages have them. */
export interface Chain {
  name: string
  start: string
  /** What is looked for, where it is not the article about moths. */
  item?: Item
  pages: Record<string, Shown>
  /** How it has to end: with the text from this address, or otherwise. */
  ends: { text: string } | { ended: Exclude<Ended, 'taken'>; on?: string }
  /** Hosts whose terms the student accepted. */
  accepted?: string[]
}

/** The article that is walked to. */
export const moths: Item = {
  id: 'moths',
  type: 'article-journal',
  title: 'Moths at the edge of light: flight paths between lamps and gardens',
  author: [
    { family: 'Thorne-Abara', given: 'Ilse' },
    { family: 'Wexcorro', given: 'Tomas' },
  ],
  'container-title': 'Wexmoor Moth Letters',
  ISSN: '9990-4419',
  volume: '52',
  issue: '6',
  page: '611-629',
  issued: { 'date-parts': [[2021, 11]] },
  DOI: '10.5555/wml.2021.0611',
}

/** The same as a poorer record has it. */
export function poorer(...without: string[]): Item {
  return Object.fromEntries(Object.entries(moths).filter(([field]) => !without.includes(field))) as Item
}

export const page = (title: string, body: string, head = ''): Shown => ({
  html: `<!DOCTYPE html><html><head><meta charset="utf-8"><title>${title}</title>${head}</head><body>${body}</body></html>`,
})
