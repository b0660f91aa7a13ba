/**
 * Learns what each mark of a record says of its kind, and writes `core/appraise/weights.ts`: a softmax over the kinds
 * (multinomial logistic regression), drawn towards what the marks were first thought to say, on the open half of
 * `bench/kinds/` alone. How strongly it is drawn was chosen by ten folds of that half.
 * npx tsx bench/learn-kinds.ts      FOLDS=1 prints what the folds say
 */
import { writeFileSync } from 'node:fs'
import { format, resolveConfig } from 'prettier'
import { KINDS, SHARPEN, UNKNOWN, type Kind } from '../core/appraise/kind'
import { MARKS, marksOf } from '../core/appraise/marks'
import { judgedRecords, type Judged } from './kinds/read'

type Weights = Record<string, Partial<Record<Kind, number>>>

const TYPES: Record<string, [Kind, number]> = {
  book: ['book', 4],
  chapter: ['chapter', 4],
  thesis: ['thesis', 6],
  report: ['report', 5],
  dataset: ['dataset', 6],
  software: ['dataset', 4],
  'article-magazine': ['magazine', 6],
  'article-newspaper': ['news', 6],
  'paper-conference': ['conference paper', 3],
  'review-book': ['review of a book', 6],
  review: ['review of a book', 3],
  article: ['preprint', 2.5],
  interview: ['image or recording', 2],
  standard: ['report', 4],
  regulation: ['report', 3],
  patent: ['report', 3],
  pamphlet: ['report', 2.5],
  'entry-encyclopedia': ['chapter', 4],
  'entry-dictionary': ['chapter', 4],
  entry: ['chapter', 4],
  classic: ['book', 4],
}
const PICTURES = ['map', 'motion_picture', 'song', 'graphic', 'broadcast', 'figure', 'musical_score', 'performance']
for (const t of PICTURES) TYPES[t] = ['image or recording', 5]

const PLAIN: Weights = {
  'genre review, long': { 'literature review': 3 },
  'genre review, short': { 'review of a book': 3 },
  'genre research article': { 'research article': 4 },
  'genre article': { 'research article': 0.8 },
  'genre article, version': { 'research article': 0.3 },
  'in a journal': { 'research article': 0.5 },
  'in a meeting': { 'conference paper': 5, 'conference abstract': 4 },
  'meeting by letters': { 'conference paper': 3 },
  'among abstracts': { 'conference abstract': 6 },
  'meeting, short': { 'conference abstract': 2.5 },
  'meeting, long': { 'conference paper': 2 },
  'in a magazine': { magazine: 2.5 },
  'in a newspaper': { news: 3 },
  'published by an office': { report: 1.5 },
  'supplement page': { 'conference abstract': 1.5 },
  'title literature, own data': { 'literature review': 3 },
  'pages 1': { 'editorial or letter': 1 },
  'pages 2 to 3': { 'review of a book': 1 },
  'pages 4 to 6': { 'review of a book': 1 },
  'pages 7 to 12': { 'research article': 3, 'literature review': 2 },
  'pages 13 and more': { 'research article': 3, 'literature review': 2 },
  abstract: { 'research article': 0.6, 'literature review': 0.6 },
  'abstract, long': { 'research article': 1, 'literature review': 1 },
  'own data': { 'research article': 2 },
  'own argument': { 'research article': 1.5 },
  results: { 'research article': 0.7 },
  'studies of others': { 'literature review': 3.5 },
  'of a field, 2': { 'literature review': 1.8 },
  'of a field, 3': { 'literature review': 2.7 },
  'of a field, 4': { 'literature review': 3.6 },
  'references 0 to 3': { 'review of a book': 1 },
  'references 8 to 49': { 'research article': 1 },
  'references 50 to 79': { 'literature review': 1.2 },
  'references 80 and more': { 'literature review': 3 },
  'version preprint': { preprint: 3 },
  'copy methods and results': { 'research article': 3 },
  'copy search': { 'literature review': 4 },
  'copy refereed': { 'research article': 1.5 },
  'copy draft': { 'conference paper': 3 },
  'copy unrefereed': { preprint: 5 },
}

const WHOLE = /alone|brackets|price|press and year|taken back/
const SIGN_KINDS: [RegExp, Kind][] = [
  [/correction|taken back/, 'correction'],
  [/book review|brackets|price|press|place and year|author at the end|person first|reviewed by/, 'review of a book'],
  [/literature/, 'literature review'],
  [/number of a talk/, 'conference abstract'],
  [/under way/, 'conference paper'],
  [/picture/, 'image or recording'],
  [/report/, 'report'],
  [/data/, 'dataset'],
  [/./, 'editorial or letter'],
]

/** What a mark was first thought to say, in log-odds. */
function thought(name: string): Partial<Record<Kind, number>> {
  const plain = PLAIN[name]
  if (plain) return plain
  const [, what, of] = /^(genre|type|copy|title) (.*)$/.exec(name)!
  if (what === 'genre') return { [of!]: 5 }
  if (what === 'copy') return { [of!]: 6 }
  if (what === 'type') {
    const [type, another] = of!.split(', ')
    const [kind, weight] = TYPES[type!]!
    return { [kind]: another ? weight / 3 : weight }
  }
  const [sign, place] = of!.split(', ') as [string, string]
  const kind = SIGN_KINDS.find(([is]) => is.test(sign))![1]
  const weight = (): number => {
    if (kind === 'literature review') return place === 'elsewhere' ? 0.8 : 6
    if (kind === 'conference abstract') return place === 'short' ? 5 : 0
    if (kind === 'conference paper') return 1.5
    if (kind === 'image or recording') return 5
    if (kind === 'report' || kind === 'dataset') return place === 'elsewhere' ? 3 : 1
    if (place === 'elsewhere') return 0.5
    if (kind === 'correction') return place === 'long' ? 3 : 8
    if (sign === 'person first') return { short: 4, middling: 2 }[place] ?? 0
    if (sign === 'introduction' || sign === 'notice') return place === 'long' ? 3 : 6
    if (WHOLE.test(sign)) return place === 'long' ? 5 : 7.5
    return { short: 6, middling: 4 }[place] ?? 1
  }
  return { [kind]: weight() }
}

const K = KINDS.length
const place = new Map(MARKS.map((m, i) => [m, i]))
const prior = Float64Array.from(MARKS.flatMap(m => KINDS.map(k => thought(m)[k] ?? 0)))

interface Example {
  marks: number[]
  kind: number
}
const example = ({ kind, item, facts }: Judged): Example => ({
  marks: marksOf(item, facts).map(m => place.get(m.name)!),
  kind: KINDS.indexOf(kind),
})

function shares(w: Float64Array, marks: readonly number[]): number[] {
  const sums = KINDS.map((k, i) => SHARPEN * marks.reduce((n, m) => n + w[m * K + i]!, k === 'unknown' ? UNKNOWN : 0))
  const top = Math.max(...sums)
  const odds = sums.map(s => Math.exp(s - top))
  const total = odds.reduce((a, b) => a + b)
  return odds.map(o => o / total)
}

/** Steps down the gradient of the loss, with the pull towards the prior; the same every time. */
function learn(examples: readonly Example[], pull: number, steps = 1500, rate = 0.05): Float64Array {
  const w = prior.slice()
  for (let step = 0; step < steps; step++) {
    const down = w.map((x, i) => pull * (x - prior[i]!))
    for (const { marks, kind } of examples) {
      const p = shares(w, marks)
      for (const m of marks) for (let k = 0; k < K; k++) down[m * K + k]! += SHARPEN * (p[k]! - Number(k === kind))
    }
    for (let i = 0; i < w.length; i++) w[i]! -= rate * down[i]!
  }
  return w
}

function folds(examples: readonly Example[], pull: number): string {
  let [right, surelyWrong, loss] = [0, 0, 0]
  for (let f = 0; f < 10; f++) {
    const w = learn(
      examples.filter((_, i) => i % 10 !== f),
      pull,
    )
    for (const [i, e] of examples.entries()) {
      if (i % 10 !== f) continue
      const p = shares(w, e.marks)
      const best = p.indexOf(Math.max(...p))
      if (best === e.kind) right++
      else if (p[best]! > 0.85) surelyWrong++
      loss -= Math.log(Math.max(1e-9, p[e.kind]!))
    }
  }
  const n = examples.length
  return `pull ${pull}: right ${((100 * right) / n).toFixed(1)}%, wrong above 0.85 ${((100 * surelyWrong) / n).toFixed(1)}%, loss ${(loss / n).toFixed(3)}`
}

const examples = judgedRecords('open').map(example)
if (process.env.FOLDS) {
  for (const pull of [0.1, 0.3, 1, 3, 10]) console.log(folds(examples, pull))
} else {
  const w = learn(examples, Number(process.env.PULL ?? 3))
  const weights: Weights = {}
  for (const [m, name] of MARKS.entries()) {
    const kinds = KINDS.flatMap((k, i) => {
      const weight = Math.round(w[m * K + i]! * 100) / 100
      return Math.abs(weight) >= 0.05 ? [[k, weight] as const] : []
    })
    weights[name] = Object.fromEntries(kinds)
  }
  const file = new URL('../core/appraise/weights.ts', import.meta.url)
  const text = `import type { Kind } from './kinds'

/** Log-odds that each mark adds to kinds: learned, written by \`npx tsx bench/learn-kinds.ts\`. */
export const WEIGHTS: Record<string, Partial<Record<Kind, number>>> = ${JSON.stringify(weights)}
`
  writeFileSync(file, await format(text, { ...(await resolveConfig('x.ts')), parser: 'typescript' }))
  console.log(`${examples.length} records, ${MARKS.length} marks`)
}
