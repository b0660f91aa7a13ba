import type { Query } from '../../core/query/cql'
import type { Context } from '../base/context'
import * as sru from '../connect/sru-client'
import type { CatalogueSetting, Known, Searched, Suits } from '../connect/sru-client'
import { explainRepository, isRepository, searchRepository } from './repositories'

/** Catalogues, whether they are searched where they are or taken in and looked through here. */

/** What a catalogue can do. */
export const explainOf = (c: Context, catalogue: CatalogueSetting, signal?: AbortSignal): Promise<Known> =>
  isRepository(catalogue) ? explainRepository(c, catalogue) : sru.explainOf(c, sruOf(catalogue), signal)

/** Brings a query into the form that a catalogue understands, as far as that is known by now. @throws OutsideError */
export const suitTo = async (
  c: Context,
  catalogue: CatalogueSetting,
  query: Query,
  signal?: AbortSignal,
): Promise<Suits> =>
  isRepository(catalogue)
    ? { query, asked: query, changes: [], known: await explainRepository(c, catalogue) }
    : sru.suitTo(c, sruOf(catalogue), query, signal)

/** One page of a search. @throws OutsideError */
export const search = (
  c: Context,
  catalogue: CatalogueSetting,
  query: Query,
  start: number,
  most: number,
  signal?: AbortSignal,
): Promise<Searched> =>
  isRepository(catalogue)
    ? searchRepository(c, catalogue, query, start, most, signal)
    : sru.askSru(c, sruOf(catalogue), query, start, most, signal)

/** The same as one that is searched by SRU; settings see to it that each is the one or the other. */
export function sruOf(catalogue: CatalogueSetting): sru.SruSetting {
  if (!catalogue.sru) throw new Error(`${catalogue.id} is not searched by SRU`)
  return catalogue as sru.SruSetting
}
