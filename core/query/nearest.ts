import { plainTitle } from '../bib/clean'
import type { Facts, Item } from '../bib/item'
import type { Query } from './cql'
import { IndexBuilder } from './positional-index'
import { scores } from './rank'
import { wordsOf } from './sheet'
import { literally } from './tokens'

const FIELDS = ['title', 'abstract', 'keyword', 'subject', 'journal', 'author']
const names = { '': ['title', 'abstract', 'keyword', 'subject'], ...Object.fromEntries(FIELDS.map(f => [f, [f]])) }

/** How near some descriptions are to the words of a query, by BM25F among themselves; in their order. */
export function nearness(list: readonly { item: Item; facts?: Facts }[], query: Query): Float32Array {
  const index = new IndexBuilder()
  for (const { item, facts } of list)
    index.add({
      title: plainTitle(item.title, ''),
      abstract: item.abstract,
      keyword: facts?.keywords,
      subject: facts?.subjects,
      journal: item['container-title'],
      author: (item.author ?? []).map(a => a.family ?? a.literal ?? ''),
    })
  return scores(query, { index: index.freeze(), names })
}

/** How near some texts are to the words of a question, by BM25F among themselves; in their order. */
export function questionNearness(
  list: readonly { title: string; abstract?: string | undefined; keywords?: readonly string[] | undefined }[],
  question: { title: string; keywords?: readonly string[] | undefined },
): Float32Array {
  const words = wordsOf([question.title, ...(question.keywords ?? [])].join(' '))
  if (!words.length) return new Float32Array(list.length)
  const index = new IndexBuilder()
  for (const { title, abstract, keywords } of list)
    index.add({ title, ...(abstract ? { abstract } : {}), ...(keywords ? { keyword: [...keywords] } : {}) })
  const term = words.map(literally).join(' ')
  return scores(
    { root: { kind: 'clause', relation: 'any', modifiers: [], term } },
    { index: index.freeze(), names: { '': ['title', 'abstract', 'keyword'] } },
  )
}
