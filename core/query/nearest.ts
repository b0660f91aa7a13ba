import type { Facts, Item } from '../bib/item'
import type { Query } from './cql'
import { IndexBuilder } from './positional-index'
import { scores } from './rank'

const FIELDS = ['title', 'abstract', 'keyword', 'subject', 'journal', 'author']
const names = { '': ['title', 'abstract', 'keyword', 'subject'], ...Object.fromEntries(FIELDS.map(f => [f, [f]])) }

/** How near some descriptions are to the words of a query, by BM25F among themselves; in their order. */
export function nearness(list: readonly { item: Item; facts?: Facts }[], query: Query): Float32Array {
  const index = new IndexBuilder()
  for (const { item, facts } of list)
    index.add({
      title: item.title,
      abstract: item.abstract,
      keyword: facts?.keywords,
      subject: facts?.subjects,
      journal: item['container-title'],
      author: (item.author ?? []).map(a => a.family ?? a.literal ?? ''),
    })
  return scores(query, { index: index.freeze(), names })
}
