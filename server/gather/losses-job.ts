import { randomInt } from 'node:crypto'
import { reach } from '../../core/access/reach'
import { appraise } from '../../core/appraise/kind'
import { yearOf } from '../../core/bib/dates'
import { foldTitle } from '../../core/bib/fold'
import { normaliseDoi } from '../../core/bib/identifiers'
import type { Facts, Item } from '../../core/bib/item'
import type { Query } from '../../core/query/cql'
import { together, wilson } from '../../core/query/interval'
import { nearness } from '../../core/query/nearest'
import { wordsOf } from '../../core/query/sheet'
import type { LossAccount } from '../../core/schema/api'
import { OutsideError } from '../connect/http'
import { holds } from '../../core/query/holds'
import { explainOf, search } from '../catalogues/catalogue'
import { readRecord } from '../../core/formats/records'
import type { Context } from '../base/context'
import { deskDay } from '../db/desk-day'
import type { JobHandle } from '../jobs/queue'
import { profilesFor } from '../library/holdings'
import { Problem } from '../base/problem'
import { countOf, readCounting, type Counting } from './counts-service'

/** Records looked at to say what a rung takes away. */
const SAMPLE = 60

/** Looks at what a rung takes away. */
export async function runLosses(c: Context, { job, signal }: JobHandle): Promise<Record<string, unknown>> {
  const inquiry = await c.db.inquiries.findByPk(job.inquiryId!, { attributes: ['question'], raw: true })
  if (!inquiry) throw new Problem(404, 'gone', 'The inquiry is gone.')
  const counting = await readCounting(c, job.inquiryId!, job.payload as { query: string; catalogues?: string[] })
  return {
    ...(await lossAccount(
      c,
      counting,
      { question: inquiry.question, inquiryId: job.inquiryId!, userId: job.userId! },
      signal,
    )),
  }
}

interface Sampled {
  item: Item
  facts: Facts
  kind: LossAccount['examples'][number]['kind']
}

/**
 * What a rung takes away: how many, of what kinds, years and languages, five examples nearest the question, and how
 * many the library could still reach. All records where they are few, else a sample from random start positions within
 * what the catalogue's window allows.
 */
async function lossAccount(
  c: Context,
  { query, catalogues }: Counting,
  { question, inquiryId, userId }: { question: string; inquiryId: number; userId: number },
  signal: AbortSignal,
): Promise<LossAccount> {
  const day = await deskDay(c.db)
  const by = { userId, day, role: 'owner' as const }
  const counts = await Promise.all(catalogues.map(x => countOf(c, x, query, by, signal)))
  const total = counts.reduce((n, x) => n + (x.count ?? 0), 0)
  const seen = new Map<string, Sampled>()
  let sampled = 0
  await Promise.all(
    catalogues.map(async (catalogue, i) => {
      const { count, error } = counts[i]!
      if (!count || error) return
      const { abilities } = await explainOf(c, catalogue, signal)
      const reachable = Math.min(count, abilities.window ?? count)
      // each catalogue gives its share of the sample
      const share = total <= SAMPLE ? reachable : Math.max(5, Math.ceil((SAMPLE * count) / total))
      const start = reachable <= share ? 1 : randomInt(1, Math.max(2, reachable - share + 2))
      try {
        const page = await search(c, catalogue, query, start, Math.min(share, 50), signal)
        for (const r of page.records) {
          try {
            const { item, facts } = readRecord(catalogue.schema, r.raw)
            if (page.sift && holds(page.sift, { item, facts }) === false) continue
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
    }),
  )
  signal.throwIfAborted()
  const works = [...seen.values()]
  const profiles = await profilesFor(
    c,
    inquiryId,
    works.map(w => w.item),
  )
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
      .map(({ w }) => {
        const { abstract: _, ...item } = w.item
        return { item, kind: w.kind, within: isWithin(w) }
      }),
  }
}

/** Any word of a question, as a query. */
function anyWord(question: string): Query | undefined {
  const term = wordsOf(question).join(' ')
  return term ? { root: { kind: 'clause', relation: 'any', modifiers: [], term } } : undefined
}
