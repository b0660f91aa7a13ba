import { readFileSync } from 'node:fs'
import type { Kind } from '../../core/appraise/kind'
import type { Facts, Item, Version } from '../../core/bib/item'

/** A record as a library might send it, and what a librarian says it is. */
export interface Judged {
  kind: Kind
  item: Item
  facts: Facts
}

const FIELDS = {
  in: 'container-title',
  vol: 'volume',
  no: 'issue',
  page: 'page',
  lang: 'language',
  abs: 'abstract',
  isbn: 'ISBN',
  doi: 'DOI',
  publisher: 'publisher',
} as const

/** The records of a half: `open`, on which weights are set, or `closed`, which counts. */
export const judgedRecords = (half: string): Judged[] =>
  readFileSync(new URL(`./${half}.txt`, import.meta.url), 'utf8')
    .split('\n')
    .filter(l => l && !l.startsWith('#'))
    .map(line => {
      const [kind, type, title, more = ''] = line.split(' | ') as [Kind, string, string, string?]
      const said = Object.fromEntries(
        more
          .split('; ')
          .filter(Boolean)
          .map(p => [p.slice(0, p.indexOf('=')), p.slice(p.indexOf('=') + 1)]),
      )
      const item = { id: 'x', type, title } as Item
      for (const [key, field] of Object.entries(FIELDS)) if (said[key]) item[field] = said[key]
      const facts: Facts = {
        ...(said.genre ? { genre: said.genre } : {}),
        ...(said.n ? { pageCount: Number(said.n) } : {}),
        ...(said.refs ? { referenceCount: Number(said.refs) } : {}),
        ...(said.version ? { version: said.version as Version } : {}),
      }
      return { kind, item, facts }
    })
