/**
 * Learns what each feature of a record says of its kind, and writes `core/appraise/weights.ts`: a softmax over the kinds
 * (multinomial logistic regression), drawn towards what the features were first thought to say, on the open half of
 * `bench/kinds/` alone. How strongly it is drawn was chosen by ten folds of that half.
 * npx tsx bench/learn-kinds.ts      FOLDS=1 prints what the folds say
 */
import { writeFileSync } from 'node:fs'
import { format, resolveConfig } from 'prettier'
import { exampleOf, folds, learnedWeights } from './kinds/learn'
import { judgedRecords } from './kinds/read'

const records = judgedRecords('open')
if (process.env.FOLDS) for (const pull of [0.1, 0.3, 1, 3, 10]) console.log(folds(records.map(exampleOf), pull))
else {
  const text = `import type { Kind } from './kinds'

/** Log-odds that each feature adds to kinds: learned, written by \`npx tsx bench/learn-kinds.ts\`. */
export const WEIGHTS: Record<string, Partial<Record<Kind, number>>> = ${JSON.stringify(learnedWeights(records))}
`
  const options = { ...(await resolveConfig('x.ts')), parser: 'typescript' }
  writeFileSync(new URL('../core/appraise/weights.ts', import.meta.url), await format(text, options))
  console.log(`${records.length} records`)
}
