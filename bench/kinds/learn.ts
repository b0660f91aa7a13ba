import { KINDS, SHARPEN, UNKNOWN, type Kind } from '../../core/appraise/kind'
import { KIND_OF_TYPE, FEATURES, featuresOf } from '../../core/appraise/features'
import { TITLE_SIGNS } from '../../core/appraise/titles'
import type { Judged } from './read'

export type Weights = Record<string, Partial<Record<Kind, number>>>

/** What a type is first thought to say for its kind; some are used for anything. */
const TYPE_SAYS: Partial<Record<Kind, number>> = {
  thesis: 6,
  dataset: 6,
  magazine: 6,
  news: 6,
  report: 5,
  'image or recording': 5,
  'conference paper': 3,
  preprint: 2.5,
}
const LOOSELY: Record<string, number> = {
  interview: 2,
  review: 3,
  'review-book': 6,
  software: 4,
  standard: 4,
  patent: 3,
  regulation: 3,
  pamphlet: 2.5,
}

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

const SIGNS = new Map(TITLE_SIGNS.map(s => [s.name, s]))

/** What a feature was first thought to say, in log-odds. */
function thought(name: string): Partial<Record<Kind, number>> {
  const plain = PLAIN[name]
  if (plain) return plain
  const [, what, of] = /^(genre|type|copy|title) (.*)$/.exec(name)!
  if (what === 'genre') return { [of!]: 5 }
  if (what === 'copy') return { [of!]: 6 }
  if (what === 'type') {
    const [type, another] = of!.split(', ')
    const kind = KIND_OF_TYPE[type!]!
    const weight = LOOSELY[type!] ?? TYPE_SAYS[kind] ?? 4
    return { [kind]: another ? weight / 3 : weight }
  }
  const [sign, place] = of!.split(', ') as [string, string]
  const { kind, whole } = SIGNS.get(sign)!
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
    if (whole) return place === 'long' ? 5 : 7.5
    return { short: 6, middling: 4 }[place] ?? 1
  }
  return { [kind]: weight() }
}

const K = KINDS.length
const place = new Map(FEATURES.map((m, i) => [m, i]))
const prior = Float64Array.from(FEATURES.flatMap(m => KINDS.map(k => thought(m)[k] ?? 0)))

export interface Example {
  features: number[]
  kind: number
}
export const exampleOf = ({ kind, item, facts }: Judged): Example => ({
  features: featuresOf(item, facts).map(m => place.get(m.name)!),
  kind: KINDS.indexOf(kind),
})

function shares(w: Float64Array, features: readonly number[]): number[] {
  const sums = KINDS.map(
    (k, i) => SHARPEN * features.reduce((n, m) => n + w[m * K + i]!, k === 'unknown' ? UNKNOWN : 0),
  )
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
    for (const { features, kind } of examples) {
      const p = shares(w, features)
      for (const m of features) for (let k = 0; k < K; k++) down[m * K + k]! += SHARPEN * (p[k]! - Number(k === kind))
    }
    for (let i = 0; i < w.length; i++) w[i]! -= rate * down[i]!
  }
  return w
}

export function folds(examples: readonly Example[], pull: number): string {
  let [right, surelyWrong, loss] = [0, 0, 0]
  for (let f = 0; f < 10; f++) {
    const w = learn(
      examples.filter((_, i) => i % 10 !== f),
      pull,
    )
    for (const [i, e] of examples.entries()) {
      if (i % 10 !== f) continue
      const p = shares(w, e.features)
      const best = p.indexOf(Math.max(...p))
      if (best === e.kind) right++
      else if (p[best]! > 0.85) surelyWrong++
      loss -= Math.log(Math.max(1e-9, p[e.kind]!))
    }
  }
  const n = examples.length
  return `pull ${pull}: right ${((100 * right) / n).toFixed(1)}%, wrong above 0.85 ${((100 * surelyWrong) / n).toFixed(1)}%, loss ${(loss / n).toFixed(3)}`
}

/** Towards the prior; chosen by `folds`: of those with the same share of right ones, the one least often surely wrong. */
export const PULL = 3

/** What each feature says of each kind, in log-odds to two places; nothing where that is next to nothing. */
export function learnedWeights(records: readonly Judged[], pull = PULL): Weights {
  const w = learn(records.map(exampleOf), pull)
  return Object.fromEntries(
    FEATURES.map((name, m) => {
      const kinds = KINDS.map((k, i) => [k, Math.round(w[m * K + i]! * 100) / 100] as const)
      return [name, Object.fromEntries(kinds.filter(([, weight]) => Math.abs(weight) >= 0.05))]
    }),
  )
}
