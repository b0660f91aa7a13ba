/**
 * Vocabularies of many concepts: read from Turtle and RDF/XML beside the parsers alone, kept in a database, and looked
 * through. npx tsx bench/vocabulary.ts [concepts, 50000]
 */
import { Parser } from 'n3'
import { RdfXmlParser } from 'rdfxml-streaming-parser'
import { readVocabulary, type Vocabulary } from '../core/formats/skos'
import { seeded } from '../core/world/random'
import { inTransaction } from '../server/db/transaction'
import { newInquiry, openDesk } from '../server/test/desk'
import { smallOutside } from '../server/test/small-world'
import { asTurtle, asXml, thesaurus } from '../standins/thesaurus'
import { replaceConcepts } from '../server/vocabularies/vocabularies-model'
import { relatedWords } from '../server/vocabularies/vocabularies-service'
import { ownDatabase } from './database'

const CONCEPTS = Number(process.argv[2] ?? 50_000)
const base = thesaurus()
/** The thesaurus over and over, each time about other kinds of things. */
const words = Array.from({ length: Math.ceil(CONCEPTS / base.length) }, (_, n) =>
  base.map(w => ({
    ...w,
    ...{
      id: `${w.id}-${n}`,
      name: n ? `${w.name} of kind ${n}` : w.name,
      others: w.others.map(o => `${o} ${n || ''}`.trim()),
    },
    ...(w.above ? { above: `${w.above}-${n}` } : {}),
    beside: w.beside.map(b => `${b}-${n}`),
  })),
)
  .flat()
  .slice(0, CONCEPTS)
const clocked = async <T>(of: () => Promise<T> | T): Promise<[T, number]> => {
  const began = performance.now()
  return [await of(), performance.now() - began]
}
const seconds = (ms: number): string => `${(ms / 1000).toFixed(1)} s`
const bare = {
  turtle: (text: string) =>
    new Promise<void>((done, fail) => new Parser().parse(text, (e, q) => (e ? fail(e) : q || done()))),
  xml: (text: string) =>
    new Promise<void>((done, fail) => {
      const parser = new RdfXmlParser()
      parser
        .on('data', () => undefined)
        .on('error', fail)
        .on('end', () => done())
      parser.end(text)
    }),
}
let read: Vocabulary | undefined
for (const [form, text] of [
  ['turtle', await asTurtle(words)],
  // relations from above are sought for each word when it is written: fewer words
  ['xml', asXml(words.slice(0, 10_000))],
] as const) {
  const [, floor] = await clocked(() => bare[form](text))
  const [vocabulary, ms] = await clocked(() => readVocabulary(text))
  console.log(
    `${form}: ${vocabulary.concepts.length} concepts, ${(text.length / 1e6).toFixed(1)} MB: ${seconds(ms)}, the parser alone ${seconds(floor)}`,
  )
  read ??= vocabulary
}

const { port, password, socket, stop } = await ownDatabase()
Object.assign(process.env, { TEST_DB_PORT: String(port), TEST_DB_PASSWORD: password, TEST_DB_SOCKET: socket })
const desk = await openDesk('vocabulary', smallOutside())
const c = desk.context
const inquiry = await newInquiry(desk)
const { id } = await c.db.vocabularies.create({ inquiryId: inquiry, fileName: 'words.ttl', state: 'read' })
const [, kept] = await clocked(() =>
  inTransaction(c.db.sequelize, t => replaceConcepts(c.db, id, read!.concepts, t, () => Promise.resolve())),
)
await c.db.vocabularies.update({ concepts: read!.concepts.length }, { where: { id } })
console.log(`kept in the database: ${seconds(kept)}`)
const r = seeded(7)
const asked = [
  ...Array.from({ length: 200 }, () => r.pick(base).name),
  ...['moth', 'light', 'street lamps', 'a', 'l', 'of', 'kind', 'dim street lamps of towns', 'zyx'],
]
const times: number[] = []
for (const w of asked) times.push((await clocked(() => relatedWords(c, inquiry, w)))[1])
const [, whole] = await clocked(() => c.db.vocabularyConcepts.findAll({ where: { vocabularyId: id }, raw: true }))
times.sort((a, b) => a - b)
console.log(
  `looked up ${times.length} times: median ${times[times.length >> 1]!.toFixed(0)} ms, 95 % ${times[Math.floor(times.length * 0.95)]!.toFixed(0)} ms, the longest ${times.at(-1)!.toFixed(0)} ms; reading all rows once ${whole.toFixed(0)} ms`,
)
await desk.close()
await stop()
