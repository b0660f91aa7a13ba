import { randomInt } from 'node:crypto'
import { Router } from 'express'
import { QueryTypes } from 'sequelize'
import { number, object, string } from 'yup'
import { reach } from '../../core/access/reach'
import { appraise } from '../../core/appraise/kind'
import { yearOf } from '../../core/bib/dates'
import { fold, foldTitle } from '../../core/bib/fold'
import { normaliseDoi } from '../../core/bib/identifiers'
import type { Facts, Item } from '../../core/bib/item'
import { checkQuery } from '../../core/query/abilities'
import { printCql, type Query } from '../../core/query/cql'
import { harvest, wordsIn, type Described } from '../../core/query/harvest'
import { together, wilson } from '../../core/query/interval'
import { parseCql } from '../../core/query/parse-cql'
import { wordsOf } from '../../core/query/sheet'
import { nearness } from '../../core/query/nearest'
import { nearestWords } from '../../core/query/spelling'
import { addYears } from '../../core/query/years'
import type { Context } from '../context'
import { inquiryOf, memberOf, type Member } from '../accounts/accounts'
import { OutsideError } from '../connect/http'
import { profilesAtHand } from '../obtain/holdings'
import { check, notFound, Problem } from '../problem'
import { askFacets, askSru, explainOf, readRecord, scanWords, type CatalogueSetting } from './sweep-job'
import { hashOf } from '../hash'

export interface CatalogueCount {
  catalogue: string
  count: number | null
  /** What the catalogue had to be asked instead. */
  changes: string[]
  error: string | null
}

/** Records looked at to say what a rung takes away. */
const SAMPLE = 60
const asked = object({ query: string().max(5000).required(), catalogues: string().max(2000) })

/** Counting before committing: what a query would find, and what a rung would lose. Nothing is stored but the counts. */
export function probeRoutes(c: Context): Router {
  const router = Router({ mergeParams: true })
  const read = (input: unknown): { query: Query; catalogues: CatalogueSetting[] } => {
    const given = check(asked, input)
    const parsed = parseCql(given.query)
    if (!parsed.ok) throw new Problem(422, 'query', parsed.error.message, { ...parsed.error })
    const wanted = given.catalogues ? given.catalogues.split(',') : undefined
    return {
      query: parsed.query,
      catalogues: c.settings.outside.catalogues.filter(x => !wanted || wanted.includes(x.id)),
    }
  }

  router.get('/counts', async (req, res) => {
    const { query, catalogues } = read(req.query)
    const gone = new AbortController()
    res.on('close', () => !res.writableEnded && gone.abort())
    const { day, role } = memberOf(res)
    const keep = role === 'owner'
    const counts = await Promise.all(catalogues.map(x => countOf(c, x, query, day, gone.signal, keep)))
    if (gone.signal.aborted) return
    res.json({ counts, ...together(counts.map(x => x.count)) })
  })

  /** The years of what a query would find, of the catalogues that count by year. */
  router.get('/years', async (req, res) => {
    const { query, catalogues } = read(req.query)
    const gone = new AbortController()
    res.on('close', () => !res.writableEnded && gone.abort())
    const told: string[] = []
    const lists = await Promise.all(
      catalogues.map(async x => {
        try {
          const { abilities } = await explainOf(c, x, gone.signal)
          const checked = checkQuery(query, abilities)
          if (!abilities.facets?.includes('year') || !checked.query) return []
          const { year = [] } = await askFacets(c, x, checked.query, { year: 400 }, gone.signal)
          told.push(x.id)
          return year
        } catch (e) {
          if (!(e instanceof OutsideError) && !gone.signal.aborted) throw e
          return []
        }
      }),
    )
    if (!gone.signal.aborted) res.json({ years: addYears(lists), told })
  })

  /** What a catalogue holds and can be asked, by its own explain and its own counts. */
  router.get('/catalogues/:catalogue', async (req, res) => {
    const catalogue = c.settings.outside.catalogues.find(x => x.id === req.params.catalogue)
    if (!catalogue) throw notFound()
    try {
      const { title, description, extent, abilities } = await explainOf(c, catalogue)
      const wanted = { year: 400, subject: 8, type: 6 }
      const known = Object.fromEntries(Object.entries(wanted).filter(([index]) => abilities.facets?.includes(index)))
      const all: Query = { root: { kind: 'clause', relation: '=', modifiers: [], term: '*' } }
      const facets = Object.keys(known).length ? await askFacets(c, catalogue, all, known) : {}
      const tops = (list: { value: string; count: number }[] = []) =>
        list.map(({ value, count }) => ({ value, n: count }))
      res.json({ title, description, extent, abilities, years: addYears([facets.year ?? []]), subjects: tops(facets.subject), types: tops(facets.type) }) // prettier-ignore
    } catch (e) {
      if (!(e instanceof OutsideError)) throw e
      throw new Problem(502, 'outside', e.message)
    }
  })

  /** The nearest words that the catalogues' own dictionaries have, for a word without a record. */
  router.get('/spelling', async (req, res) => {
    const { word } = check(object({ word: string().trim().max(80).required() }), req.query)
    const stem = fold(word).replace(/[^\p{L}\p{N}]+/gu, '')
    const scanning = await Promise.all(
      c.settings.outside.catalogues.map(async catalogue => {
        try {
          if (!(await explainOf(c, catalogue)).abilities.scan) return []
          // most slips of the finger leave the first letters alone
          return await scanWords(c, catalogue, stem.slice(0, Math.max(2, Math.min(4, stem.length - 3))))
        } catch (e) {
          if (e instanceof OutsideError) return []
          throw e
        }
      }),
    )
    res.json(nearestWords(word, scanning.flat()))
  })

  /** Words that set the kept works of the pool apart from the rest, or all of one work. */
  router.get('/harvest', async (req, res) => {
    const { work } = check(object({ work: number().integer() }), req.query)
    const rows = await c.db.works.findAll({
      where: { inquiryId: inquiryOf(req), successorId: null, ...(work ? { id: work } : {}) },
      attributes: ['item', 'facts', 'state'],
      raw: true,
    })
    const described = (w: (typeof rows)[number]): Described => ({
      title: w.item.title ?? '',
      keywords: w.facts.keywords ?? [],
      subjects: w.facts.subjects ?? [],
    })
    if (work) {
      const words = rows[0] ? [...wordsIn(described(rows[0]))] : []
      return void res.json({
        kept: 1,
        words: words.map(([text, from]) => ({ text, from, wanted: 1, others: 0, z: 0 })),
      })
    }
    const kept = rows.filter(w => w.state === 'kept')
    const rest = rows.filter(w => w.state !== 'kept')
    res.json({ kept: kept.length, words: harvest(kept.map(described), rest.map(described)) })
  })

  router.get('/losses', async (req, res) => {
    const { query, catalogues } = read(req.query)
    const gone = new AbortController()
    res.on('close', () => !res.writableEnded && gone.abort())
    const inquiry = await c.db.inquiries.findByPk(inquiryOf(req), { raw: true })
    const answer = await lossAccount(c, catalogues, query, inquiry!.question, gone.signal, memberOf(res))
    if (!gone.signal.aborted) res.json(answer)
  })
  return router
}

/** What one catalogue counts for a query, asked once a day; its error where it fails. */
async function countOf(
  c: Context,
  catalogue: CatalogueSetting,
  query: Query,
  day: string,
  signal: AbortSignal,
  /** Whether the count is kept for the day: what a reader looks at writes nothing. */
  keep: boolean,
): Promise<CatalogueCount> {
  try {
    const checked = checkQuery(query, (await explainOf(c, catalogue, signal)).abilities)
    if (!checked.query)
      return { catalogue: catalogue.id, count: null, changes: checked.changes, error: checked.changes.join(' ') }
    const hash = hashOf(printCql(checked.query))
    const [kept] = await c.db.sequelize.query<{ count: number }>(
      'SELECT count FROM counts WHERE catalogue = ? AND query_hash = ? AND desk_day = ? AND at > NOW(3) - INTERVAL 1 DAY',
      { type: QueryTypes.SELECT, replacements: [catalogue.id, hash, day] },
    )
    if (kept) return { catalogue: catalogue.id, count: kept.count, changes: checked.changes, error: null }
    const { count } = await askSru(c, catalogue, checked.query, 1, 1, signal)
    if (keep)
      await c.db.sequelize.query(
        'INSERT INTO counts (catalogue, query_hash, desk_day, count) VALUES (?, ?, ?, ?) ON DUPLICATE KEY UPDATE count = VALUES(count), at = NOW(3)',
        { replacements: [catalogue.id, hash, day, count] },
      )
    return { catalogue: catalogue.id, count, changes: checked.changes, error: null }
  } catch (e) {
    if (!(e instanceof OutsideError) && !signal.aborted) throw e
    return {
      catalogue: catalogue.id,
      count: null,
      changes: [],
      error: e instanceof OutsideError ? e.message : 'stopped',
    }
  }
}

interface Sampled {
  item: Item
  facts: Facts
  kind: string
}

/**
 * What a rung takes away: how many, of what kinds, years and languages, five examples nearest the question, and how
 * many the library could still reach. All records where they are few, else a sample from random start positions within
 * what the catalogue's window allows.
 */
async function lossAccount(
  c: Context,
  catalogues: CatalogueSetting[],
  query: Query,
  question: string,
  signal: AbortSignal,
  { day, role }: Member,
) {
  const keep = role === 'owner'
  const counts = await Promise.all(catalogues.map(x => countOf(c, x, query, day, signal, keep)))
  const total = counts.reduce((n, x) => n + (x.count ?? 0), 0)
  const seen = new Map<string, Sampled>()
  let sampled = 0
  await Promise.all(
    catalogues.map(async (catalogue, i) => {
      const { count, error } = counts[i]!
      if (!count || error) return
      const { abilities } = await explainOf(c, catalogue, signal)
      const checked = checkQuery(query, abilities)
      const reachable = Math.min(count, abilities.window ?? count)
      // each catalogue gives its share of the sample
      const share = total <= SAMPLE ? reachable : Math.max(5, Math.ceil((SAMPLE * count) / total))
      const starts = reachable <= share ? [1] : [randomInt(1, Math.max(2, reachable - share + 2))]
      for (const start of starts) {
        try {
          const page = await askSru(c, catalogue, checked.query!, start, Math.min(share, 50), signal)
          for (const r of page.records) {
            try {
              const { item, facts } = readRecord(catalogue, r.raw)
              sampled++
              seen.set(normaliseDoi(item.DOI) ?? `${foldTitle(item.title ?? '')} ${yearOf(item) ?? ''}`, {
                item,
                facts,
                kind: appraise(item, facts).kind,
              })
            } catch {
              // one unreadable record does not cost the account
            }
          }
        } catch (e) {
          if (!(e instanceof OutsideError)) throw e
        }
      }
    }),
  )
  const works = [...seen.values()]
  const { profiles } = await profilesAtHand(c)
  const isWithin = (w: Sampled) => reach(w.item, { profiles, day, facts: w.facts }).reach === 'within reach'
  const within = works.filter(isWithin).length
  const exact = sampled >= total
  const tally = (of: (w: Sampled) => string) => {
    const out = new Map<string, number>()
    for (const w of works) out.set(of(w), (out.get(of(w)) ?? 0) + 1)
    return [...out].map(([value, n]) => ({ value, n })).sort((a, b) => b.n - a.n)
  }
  const asked = anyWord(question)
  const near = asked ? nearness(works, asked) : new Float32Array(works.length)
  return {
    counts,
    ...together(counts.map(x => x.count)),
    looked: works.length,
    exact,
    reach: { of: works.length, within, interval: exact ? null : wilson(within, works.length) },
    kinds: tally(w => w.kind),
    languages: tally(w => w.item.language ?? 'unknown'),
    years: tally(w => String(yearOf(w.item) ?? 'unknown')),
    examples: works
      .map((w, i) => ({ w, near: near[i]! }))
      .sort((a, b) => b.near - a.near)
      .slice(0, 5)
      .map(({ w }) => ({ item: { ...w.item, abstract: undefined }, kind: w.kind, within: isWithin(w) })),
  }
}

/** Any word of a question, as a query. */
function anyWord(question: string): Query | undefined {
  const term = wordsOf(question).join(' ')
  return term ? { root: { kind: 'clause', relation: 'any', modifiers: [], term } } : undefined
}
