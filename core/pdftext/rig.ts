import type { DrawnPage, Run } from './page'

/** A run of five points a letter, as a test places it. */
export const run = (text: string, x: number, y: number, more: Partial<Run> = {}): Run => ({
  ...{ text, x, y, size: 10, font: 'body' },
  width: (text.length * 5 * (more.size ?? 10)) / 10,
  ...more,
})
export const page = (runs: readonly Run[]): DrawnPage => ({ width: 600, height: 800, runs })

const PROSE =
  'the lamps of the harbour were lit at dusk and moths came to them from the fen while the keeper wrote in his book '
/** Lines of running text, filled to 400 points. */
export const prose = (lines: number, x: number, y: number, step = 12): Run[] =>
  Array.from({ length: lines }, (_, i) =>
    run(PROSE.repeat(2).slice(i * 3, i * 3 + 80), x, y + i * step, { width: 400 }),
  )
