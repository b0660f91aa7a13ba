import type { Facts, Item } from '../bib/item'
import { prepare } from './prepare'

/** What tests of matching share: records made of a few fields. */
export const TITLE = 'Moth visits to flowers under street lighting in northern harbour towns'
export const item = (more: Partial<Item> = {}): Item => ({ id: 'x', type: 'article-journal', title: TITLE, ...more })
export const made = (more: Partial<Item> = {}, facts: Facts = {}, id = 1) => prepare({ id, item: item(more), facts })
export const by = (...names: [string, string?][]) =>
  names.map(([family, given]) => ({ family, ...(given ? { given } : {}) }))
export const year = (y: number) => ({ issued: { 'date-parts': [[y]] } })
