import { Op, type Transaction } from 'sequelize'
import {
  nameOf,
  nearestConcepts,
  wayFrom,
  type ConceptLabel,
  type VocabularyConcept,
} from '../../core/query/vocabulary'
import type { Answer } from '../../core/schema/api'
import type { Context } from '../base/context'
import { notFound, Problem } from '../base/problem'
import { dropOrphans, storeBlob } from '../db/blobs'
import { enqueue } from '../jobs/queue'
import type { Member } from '../sessions/member'
import { conceptsAt, placesBeginning, type VocabularyRow } from './vocabularies-model'

type Told = Answer<'vocabularyConcept'>
type Near = Told['broader'][number]
type Who = Pick<Member, 'inquiryId' | 'userId'>

/** Vocabularies that can be brought into one inquiry. */
const MOST_OWN = 10
/** Concepts of each vocabulary that are told in full for some words, those whose names are near, and near ones of each. */
const [MOST_NAMED, MOST_ELSE, MOST_NEAR] = [3, 20, 200]
/** Words that are looked for one by one where nothing has them all. */
const MOST_TRIES = 6
/** Steps upwards that are told: the deepest of real vocabularies have about fifteen. */
const STEPS_UP = 20

/** Rows of an inquiry's own vocabularies and of everybody's that were asked for once. */
const rowsOf = (c: Context, inquiryId: number): Promise<VocabularyRow[]> =>
  c.db.vocabularies.findAll({
    where: { [Op.or]: [{ inquiryId }, { site: c.settings.outside.vocabularies.map(v => v.id) }] },
    order: ['id'],
    raw: true,
  })

const keyOf = (row: Pick<VocabularyRow, 'site' | 'id'>): string => row.site ?? String(row.id)

/** The vocabularies of an inquiry: those of the settings first, then those that were brought. */
export async function vocabulariesOf(c: Context, inquiryId: number): Promise<Answer<'vocabularies'>> {
  const rows = await rowsOf(c, inquiryId)
  const told = (row: VocabularyRow | undefined, given: { key: string; name: string; from: string }) => ({
    ...given,
    isOwn: Boolean(row && !row.site),
    state: row?.state ?? ('unread' as const),
    said: row?.said ?? null,
    ...{ concepts: row?.concepts ?? 0, labels: row?.labels ?? 0 },
    ...{ languages: row?.languages ?? [], left: row?.unshown ?? [], day: row?.deskDay ?? null },
  })
  return [
    ...c.settings.outside.vocabularies.map(({ id, name, address }) =>
      told(
        rows.find(r => r.site === id),
        { key: id, name, from: address },
      ),
    ),
    ...rows
      .filter(r => !r.site)
      .map(r => told(r, { key: keyOf(r), name: r.name ?? r.fileName ?? '', from: r.fileName ?? '' })),
  ]
}

async function rowFor(c: Context, inquiryId: number, key: string): Promise<VocabularyRow> {
  const row = (await rowsOf(c, inquiryId)).find(r => keyOf(r) === key)
  if (!row) throw notFound()
  return row
}

/** Keeps a file and queues its reading. @throws Problem 422 where there are enough */
export async function takeVocabulary(
  c: Context,
  { inquiryId, userId }: Who,
  { bytes, name }: { bytes: Buffer; name: string },
  transaction: Transaction,
): Promise<{ job: number }> {
  if ((await c.db.vocabularies.count({ where: { inquiryId }, transaction })) >= MOST_OWN)
    throw new Problem(
      422,
      'too-many',
      `An inquiry has ${MOST_OWN} vocabularies of its own at most. Take one out first.`,
    )
  const hash = await storeBlob(c.db, bytes, 'application/octet-stream', transaction)
  const row = await c.db.vocabularies.create({ inquiryId, fileName: name.slice(0, 255), hash }, { transaction })
  const payload = { vocabularyId: row.id, key: keyOf(row) }
  return { job: await enqueue(c, 'vocabulary', inquiryId, userId, payload, transaction) }
}

/** Queues the reading of one; what was read before stands until then. */
export async function readAnew(
  c: Context,
  { inquiryId, userId }: Who,
  key: string,
  transaction: Transaction,
): Promise<{ job: number }> {
  const isOfAll = c.settings.outside.vocabularies.some(v => v.id === key)
  if (isOfAll) await c.db.vocabularies.upsert({ site: key }, { transaction, fields: ['site'] })
  const where = isOfAll ? { site: key } : { id: Number(key) || 0, inquiryId }
  const row = await c.db.vocabularies.findOne({ where, transaction, lock: transaction.LOCK.UPDATE, raw: true })
  if (!row) throw notFound()
  if (row.state === 'refused')
    await c.db.vocabularies.update({ state: 'waiting', said: null }, { where: { id: row.id }, transaction })
  const payload = { vocabularyId: row.id, key }
  const underWay = { kind: 'vocabulary', inquiryId, payload, state: ['queued', 'running'] }
  const before = await c.db.jobs.findOne({ where: underWay, transaction, raw: true })
  return { job: before?.id ?? (await enqueue(c, 'vocabulary', inquiryId, userId, payload, transaction)) }
}

/** Takes one out that was brought into the inquiry, with its file. */
export async function dropVocabulary(
  c: Context,
  inquiryId: number,
  key: string,
  transaction: Transaction,
): Promise<void> {
  const where = { id: Number(key) || 0, inquiryId }
  const row = await c.db.vocabularies.findOne({ where, transaction, raw: true })
  if (!row) throw notFound()
  await c.db.vocabularies.destroy({ where, transaction })
  if (row.hash) await dropOrphans(c.db, [row.hash], transaction)
}

/**
 * Concepts that some words name, vocabulary by vocabulary, and others whose names are near. Where no name is near to all of
 * the words, the last of them that has one is looked for: what the others say of it.
 */
export async function relatedWords(c: Context, inquiryId: number, words: string): Promise<Answer<'relatedWords'>> {
  const rows = (await rowsOf(c, inquiryId)).filter(r => r.concepts)
  for (const some of [words, ...words.split(/\s+/).slice(-MOST_TRIES).reverse()]) {
    const told = await foundFor(c, rows, some)
    if (told.named.length || told.near.length) return { words: some, ...told }
  }
  return { words, named: [], near: [] }
}

async function foundFor(c: Context, rows: readonly VocabularyRow[], words: string) {
  const out: Pick<Answer<'relatedWords'>, 'named' | 'near'> = { named: [], near: [] }
  const beginning = wayFrom(words)
  for (const row of beginning ? rows : []) {
    const there = await conceptsAt(c, row.id, await placesBeginning(c, row.id, beginning!))
    const concepts = there.map(r => ({ ...r.body, place: r.place }))
    const found = nearestConcepts(words, concepts, MOST_NAMED + MOST_ELSE)
    const shown = new Set<number>()
    for (const { concept, by } of found.filter(f => f.same).slice(0, MOST_NAMED)) {
      const { broader, narrower, related, place } = concept
      for (const at of [place, ...broader, ...narrower, ...related]) shown.add(at)
      out.named.push(await tell(c, row, place, concept, ledBy(concept, by)))
    }
    for (const { concept, by } of found)
      if (!shown.has(concept.place))
        out.near.push({
          ...{ vocabulary: keyOf(row), place: concept.place },
          ...{ name: nameOf(concept).text, by: ledBy(concept, by) },
        })
  }
  return out
}

/** The name that led to a concept, where it is another than it is called by. */
const ledBy = (concept: VocabularyConcept, by: ConceptLabel): string | null =>
  by.as === 'hidden' || by.text === nameOf(concept).text ? null : by.text

export async function conceptOf(c: Context, inquiryId: number, key: string, at: string): Promise<Told> {
  const place = /^\d{1,9}$/.test(at) ? Number(at) : -1
  const row = await rowFor(c, inquiryId, key)
  const [found] = await conceptsAt(c, row.id, [place])
  if (!found) throw notFound()
  return tell(c, row, place, found.body, null)
}

async function tell(
  c: Context,
  row: Pick<VocabularyRow, 'id' | 'site'>,
  place: number,
  concept: VocabularyConcept,
  by: string | null,
): Promise<Told> {
  const nearest = {
    broader: concept.broader.slice(0, MOST_NEAR),
    narrower: concept.narrower.slice(0, MOST_NEAR),
    related: concept.related.slice(0, MOST_NEAR),
    instead: (concept.retired ?? []).slice(0, MOST_NEAR),
  }
  const known = new Map(
    (await conceptsAt(c, row.id, Object.values(nearest).flat())).map(r => [r.place, r.body] as const),
  )
  const near = (at: number): Near[] => {
    const of = known.get(at)
    return of ? [{ place: at, name: nameOf(of).text, narrower: of.narrower.length }] : []
  }
  const { text: name } = nameOf(concept)
  // what is only a part of it ("moths: diet") stands behind what is a kind of it
  const isPart = (n: Near): number => Number(n.name.startsWith(name))
  const byName = (a: Near, b: Near): number => isPart(a) - isPart(b) || a.name.localeCompare(b.name, 'en')
  const above: Near[] = []
  const seen = new Set([place])
  for (let at = concept.broader[0]; at !== undefined && !seen.has(at) && above.length < STEPS_UP;) {
    seen.add(at)
    if (!known.has(at)) for (const r of await conceptsAt(c, row.id, [at])) known.set(r.place, r.body)
    above.unshift(...near(at))
    at = known.get(at)?.broader[0]
  }
  return {
    ...{ vocabulary: keyOf(row), place, iri: concept.iri, name, note: concept.note ?? null },
    by,
    names: concept.labels.flatMap(({ text, language, as }) =>
      as === 'hidden' ? [] : [{ text, as, ...(language ? { language } : {}) }],
    ),
    above,
    broader: nearest.broader.flatMap(near).sort(byName),
    narrower: nearest.narrower.flatMap(near).sort(byName),
    related: nearest.related.flatMap(near).sort(byName),
    inAll: {
      broader: concept.broader.length,
      narrower: concept.narrower.length,
      related: concept.related.length,
    },
    retired: concept.retired !== undefined,
    instead: nearest.instead.flatMap(near),
  }
}
