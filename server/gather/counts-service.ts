import { fold } from '../../core/bib/fold'
import { printCql, type Query } from '../../core/query/cql'
import { together } from '../../core/query/interval'
import { nearestWords } from '../../core/query/spelling'
import { addYears } from '../../core/query/years'
import type { Answer } from '../../core/schema/api'
import type { Member } from '../sessions/member'
import { OutsideError } from '../connect/http'
import { explainOf, search, sruOf, suitTo } from '../catalogues/catalogue'
import { NotTakenIn } from '../catalogues/repositories'
import { askFacets, scanWords, type CatalogueSetting } from '../connect/sru-client'
import type { Context } from '../base/context'
import { hashOf } from '../base/hash'
import { notFound, Problem } from '../base/problem'
import { spend } from '../connect/budget'
import { cataloguesFor } from '../library/catalogues'
import { keepCount, keptCount } from './gather-model'
import { readQuery } from './sweeps-service'

type Count = Answer<'counts'>['counts'][number]

/** What is to be counted: a query, and the catalogues that are asked; all where none is named. */
export interface Counting {
  query: Query
  catalogues: CatalogueSetting[]
}
export async function readCounting(
  c: Context,
  inquiryId: number,
  given: { query: string; catalogues?: readonly string[] | undefined },
): Promise<Counting> {
  const { query } = readQuery(given.query)
  const { catalogues: wanted } = given
  const all = await cataloguesFor(c, inquiryId)
  return { query, catalogues: all.filter(x => !wanted || wanted.includes(x.id)) }
}

/**
 * What catalogues count for a query. This is the one thing of the outside that a request waits for, since a ladder of
 * counts is of use only while one looks at it: each count is asked once a day, by a request that can be broken off, and
 * within a budget.
 */
export async function countsOf(
  c: Context,
  { query, catalogues }: Counting,
  member: Member,
  gone: AbortSignal,
): Promise<Answer<'counts'>> {
  const counts = await Promise.all(catalogues.map(x => countOf(c, x, query, member, gone)))
  return { counts, ...together(counts.map(x => x.count)) }
}

/** What one catalogue counts for a query, asked once a day; its error where it fails. */
export async function countOf(
  c: Context,
  catalogue: CatalogueSetting,
  query: Query,
  { userId, day, role }: Pick<Member, 'userId' | 'day' | 'role'>,
  signal: AbortSignal,
): Promise<Count> {
  const of = { catalogue: catalogue.id, count: null, changes: [] as string[], error: null }
  try {
    const { asked, changes } = await suitTo(c, catalogue, query, signal)
    if (!asked) return { ...of, changes, error: changes.join(' ') }
    const hash = hashOf(printCql(asked))
    const kept = await keptCount(c, catalogue.id, hash, day)
    if (kept !== undefined) return { ...of, count: kept, changes }
    spend(userId, c.settings.countsMost)
    const answer = await search(c, catalogue, query, 1, 1, signal)
    // what a reader looks at writes nothing
    if (role === 'owner') await keepCount(c, catalogue.id, hashOf(printCql(answer.asked)), day, answer.count)
    return { ...of, count: answer.count, changes: answer.changes }
  } catch (e) {
    if (e instanceof NotTakenIn) return { ...of, changes: [e.message] }
    if (!(e instanceof OutsideError) && !signal.aborted) throw e
    return { ...of, error: e instanceof OutsideError ? e.message : 'stopped' }
  }
}

/** The years of what a query would find, of the catalogues that count by year. */
export async function yearsOf(
  c: Context,
  { query, catalogues }: Counting,
  userId: number,
  gone: AbortSignal,
): Promise<Answer<'years'>> {
  const told: string[] = []
  const lists = await Promise.all(
    catalogues.map(async x => {
      try {
        const { asked, known } = await suitTo(c, x, query, gone)
        if (!known.abilities.facets?.includes('year') || !asked) return []
        spend(userId, c.settings.countsMost)
        const { year = [] } = await askFacets(c, sruOf(x), asked, { year: 400 }, gone)
        told.push(x.id)
        return year
      } catch (e) {
        if (!(e instanceof OutsideError) && !gone.aborted) throw e
        return []
      }
    }),
  )
  return { years: addYears(lists), told }
}

/** What a catalogue holds and can be asked, by its own explain and its own counts. */
export async function aboutCatalogue(
  c: Context,
  id: string,
  { inquiryId, userId }: Pick<Member, 'inquiryId' | 'userId'>,
): Promise<Answer<'catalogue'>> {
  const catalogue = (await cataloguesFor(c, inquiryId)).find(x => x.id === id)
  if (!catalogue) throw notFound()
  try {
    spend(userId, c.settings.countsMost)
    const { title, description, extent, abilities, assumed } = await explainOf(c, catalogue)
    if (assumed) throw new OutsideError(assumed, true)
    const wanted = { year: 400, subject: 8, type: 6 }
    const known = Object.fromEntries(Object.entries(wanted).filter(([index]) => abilities.facets?.includes(index)))
    const all: Query = { root: { kind: 'clause', relation: '=', modifiers: [], term: '*' } }
    const facets = Object.keys(known).length ? await askFacets(c, sruOf(catalogue), all, known) : {}
    const tops = (list: { value: string; count: number }[] = []) =>
      list.map(({ value, count }) => ({ value, n: count }))
    return {
      ...{ title, description, extent, abilities },
      years: addYears([facets.year ?? []]),
      subjects: tops(facets.subject),
      types: tops(facets.type),
    } as Answer<'catalogue'>
  } catch (e) {
    if (!(e instanceof OutsideError)) throw e
    throw new Problem(502, 'outside', e.message)
  }
}

/** The nearest words that the catalogues' own dictionaries have, for a word without a record. */
export async function spellingOf(
  c: Context,
  word: string,
  { inquiryId, userId }: Pick<Member, 'inquiryId' | 'userId'>,
): Promise<Answer<'spelling'>> {
  const catalogues = await cataloguesFor(c, inquiryId)
  const stem = fold(word).replace(/[^\p{L}\p{N}]+/gu, '')
  const scanning = await Promise.all(
    catalogues.map(async catalogue => {
      try {
        if (!(await explainOf(c, catalogue)).abilities.scan) return []
        spend(userId, c.settings.countsMost)
        // most slips of the finger leave the first letters alone
        return await scanWords(c, sruOf(catalogue), stem.slice(0, Math.max(2, Math.min(4, stem.length - 3))))
      } catch (e) {
        if (e instanceof OutsideError) return []
        throw e
      }
    }),
  )
  return nearestWords(word, scanning.flat())
}
