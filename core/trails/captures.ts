/** How many works escaped both ways of looking, by what each of them caught. */
export interface Escaped {
  least: number
  /** Chapman's estimate. */
  about: number
  most: number
}

/** Works that both ways have to have caught, for an estimate to be worth saying. */
export const BOTH_AT_LEAST = 7

/**
 * Two captures: of the kept works some were met by sweeps, some by trails, some by both. Chapman's (1951) estimator of
 * the whole, less what is seen, with a log-normal interval at 95% of what is not seen (Burnham in Rexstad & Burnham
 * 1991). The two ways favour the same works, so that it is a floor: "probably at least". Undefined where fewer than
 * seven were caught by both: it is not entitled to speak.
 */
export function escaped(sweeps: number, trails: number, both: number): Escaped | undefined {
  if (both < BOTH_AT_LEAST) return undefined
  const seen = sweeps + trails - both
  const whole = ((sweeps + 1) * (trails + 1)) / (both + 1) - 1
  const about = whole - seen
  if (about <= 0) return { least: 0, about: 0, most: 0 }
  const variance = ((sweeps + 1) * (trails + 1) * (sweeps - both) * (trails - both)) / ((both + 1) ** 2 * (both + 2))
  const spread = Math.exp(1.959964 * Math.sqrt(Math.log(1 + variance / about ** 2)))
  return { least: about / spread, about, most: about * spread }
}
