import { col, fn, Op } from 'sequelize'
import type { Transaction } from 'sequelize'
import type { Vocabulary } from '../../core/formats/skos'
import { waysTo, type VocabularyConcept } from '../../core/query/vocabulary'
import type { Context, Db } from '../base/context'
import { inParts } from '../db/rows'
import {
  day,
  describeTable,
  json,
  key,
  keyText,
  moment,
  orNull,
  ownId,
  text,
  whole,
  word,
  type RowOf,
  type Table,
} from '../db/table'

export const vocabularies = describeTable('vocabularies', {
  id: ownId(),
  /** The inquiry into which it was brought; those of the settings are everybody's. */
  inquiryId: orNull(whole()),
  /** Which of the settings' it is. */
  site: orNull(word()),
  fileName: orNull(word()),
  /** What it calls itself. */
  name: orNull(word()),
  /** Of the file that was brought; what is fetched is fetched anew. */
  hash: orNull(word()),
  state: word<'waiting' | 'read' | 'refused'>(),
  said: orNull(text()),
  concepts: whole(),
  labels: whole(),
  languages: json<string[]>(),
  /** What stands in it and is not shown. */
  unshown: json<Vocabulary['left']>(),
  deskDay: orNull(day()),
  at: moment(),
})
export type VocabularyRow = RowOf<typeof vocabularies>

export const vocabularyConcepts = describeTable('vocabulary_concepts', {
  vocabularyId: key(),
  /** Its place in the vocabulary, by which others name it. */
  place: key(),
  body: json<VocabularyConcept>(),
})
/** How concepts are found: see `waysTo`. */
export const vocabularyWays = describeTable('vocabulary_ways', { vocabularyId: key(), way: keyText(), place: key() })

declare module '../base/context' {
  interface Db {
    vocabularies: Table<VocabularyRow>
    vocabularyConcepts: Table<RowOf<typeof vocabularyConcepts>>
    vocabularyWays: Table<RowOf<typeof vocabularyWays>>
  }
}

/** Puts concepts in the place of those that were there. */
export async function replaceConcepts(
  db: Db,
  vocabularyId: number,
  concepts: readonly VocabularyConcept[],
  transaction: Transaction,
  toldAfter: (n: number) => Promise<void>,
): Promise<void> {
  await db.vocabularyWays.destroy({ where: { vocabularyId }, transaction })
  await db.vocabularyConcepts.destroy({ where: { vocabularyId }, transaction })
  const rows = concepts.map((body, place) => ({ vocabularyId, place, body }))
  let done = 0
  for (const part of inParts(rows)) {
    await db.vocabularyConcepts.bulkCreate(part, { transaction })
    const ways = part.flatMap(({ place, body: { labels } }) =>
      [...new Set(labels.flatMap(l => waysTo(l.text)))].map(way => ({ vocabularyId, way, place })),
    )
    for (const some of inParts(ways)) await db.vocabularyWays.bulkCreate(some, { transaction })
    await toldAfter((done += part.length))
  }
}

/** Concepts by their places, in no order. */
export const conceptsAt = (c: Context, vocabularyId: number, places: readonly number[]) =>
  c.db.vocabularyConcepts.findAll({ where: { vocabularyId, place: [...new Set(places)] }, raw: true })

/** So many of the shortest ways are looked at: what is exactly the words stands among them. */
const WAYS = 400

/** Places of concepts to which a way begins so. */
export async function placesBeginning(c: Context, vocabularyId: number, beginning: string): Promise<number[]> {
  const rows = await c.db.vocabularyWays.findAll({
    where: { vocabularyId, way: { [Op.startsWith]: beginning } },
    attributes: ['place'],
    order: [fn('LENGTH', col('way')), 'way'],
    limit: WAYS,
    raw: true,
  })
  return [...new Set(rows.map(r => r.place))]
}
