import type { Vocabulary } from '../../core/formats/skos'
import { firstLetters } from '../../core/bib/clean'
import type { Context } from '../base/context'
import { Problem } from '../base/problem'
import { ChildFailed, runChild } from '../child/run'
import { OutsideError, requireSuccess } from '../connect/http'
import { readBlob } from '../db/blobs'
import { deskDay } from '../db/desk-day'
import { change } from '../db/revision'
import { inTransaction } from '../db/transaction'
import type { JobRow } from '../jobs/jobs-model'
import type { JobHandle } from '../jobs/queue'
import { replaceConcepts, type VocabularyRow } from './vocabularies-model'

/** Bytes of a vocabulary that is fetched at most. */
const LARGEST = 150_000_000

/** A vocabulary whose reading was given up says so; what was read before stands. */
export const vocabularyGivenUp = (c: Context, job: JobRow, why: string): Promise<void> => refuse(c, job, why)

async function refuse(c: Context, { inquiryId, payload }: JobRow, why: string): Promise<void> {
  const id = Number(payload.vocabularyId)
  const row = await c.db.vocabularies.findByPk(id, { raw: true })
  if (!row) return
  const had = row.concepts > 0
  const said = had ? `${why} What was read before stands.` : why
  await change(c, inquiryId!, t =>
    c.db.vocabularies.update({ state: had ? 'read' : 'refused', said }, { where: { id }, transaction: t }),
  )
}

/** Fetches a vocabulary where it has an address, reads it, and puts it in the place of what was read before. */
export async function runVocabulary(
  c: Context,
  { job, signal, progress }: JobHandle,
): Promise<Record<string, unknown>> {
  const id = Number(job.payload.vocabularyId)
  const row = await c.db.vocabularies.findByPk(id, { raw: true })
  if (!row) throw new Problem(404, 'gone', 'The vocabulary was taken out.')
  try {
    const bytes = await bytesOf(c, row, signal, progress)
    await progress({ step: 'reading' })
    const read = await runChild('vocabulary', bytes, { seconds: 300, signal })
    await keep(c, job.inquiryId!, row, read, n => progress({ step: 'storing', done: n, of: read.concepts.length }))
    return { concepts: read.concepts.length }
  } catch (e) {
    if (!(e instanceof ChildFailed || e instanceof OutsideError)) throw e
    const why = e.message.replace(/^Error: /, '')
    await refuse(c, job, why)
    return { refused: why }
  }
}

async function bytesOf(
  c: Context,
  row: VocabularyRow,
  signal: AbortSignal,
  progress: JobHandle['progress'],
): Promise<Buffer> {
  const from = c.settings.outside.vocabularies.find(v => v.id === row.site)
  if (!from) return readBlob(c.db, row.hash!)
  await progress({ step: 'fetching' })
  const headers = { accept: 'text/turtle, application/rdf+xml, application/n-triples;q=0.9' }
  return requireSuccess(await c.outside(from.address, { maxBytes: LARGEST, headers, signal })).body
}

async function keep(
  c: Context,
  inquiryId: number,
  row: VocabularyRow,
  { name, concepts, left }: Vocabulary,
  told: (n: number) => Promise<void>,
): Promise<void> {
  const today = await deskDay(c.db)
  const languages = new Map<string, number>()
  for (const { language } of concepts.flatMap(k => k.labels))
    if (language) languages.set(language, (languages.get(language) ?? 0) + 1)
  // not within a change of the inquiry: storing many words would hold up whoever decides there
  await inTransaction(c.db.sequelize, async transaction => {
    // taken out while it was read: nothing is kept
    const found = await c.db.vocabularies.findByPk(row.id, { transaction, lock: transaction.LOCK.UPDATE, raw: true })
    if (!found) return
    await replaceConcepts(c.db, row.id, concepts, transaction, told)
    await c.db.vocabularies.update(
      {
        ...{ state: 'read', said: null, deskDay: today, at: new Date() },
        name: name === undefined ? null : firstLetters(name, 255),
        concepts: concepts.length,
        labels: concepts.reduce((n, k) => n + k.labels.length, 0),
        languages: [...languages].sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1)).map(([l]) => l),
        unshown: left,
      },
      { where: { id: row.id }, transaction },
    )
  })
  await change(c, inquiryId, () => Promise.resolve())
}
