/** The voices of strands by their place, so that a strand has the same colour on every page and in every file. */
export const STRAND_VOICES = ['vine', 'grape', 'slate', 'amber', 'rust', 'grape', 'vine', 'slate'] as const
type Voice = (typeof STRAND_VOICES)[number]
type Colour = [number, number, number]

/** What lies over words, which stay readable through it, and what stands around a figure. */
const COLOURS: Record<Voice | 'none', { over: Colour; around: Colour }> = {
  vine: { over: [190, 226, 205], around: [31, 95, 75] },
  grape: { over: [230, 205, 228], around: [109, 59, 107] },
  slate: { over: [200, 217, 235], around: [68, 96, 124] },
  amber: { over: [255, 221, 150], around: [154, 91, 0] },
  rust: { over: [248, 200, 188], around: [168, 64, 44] },
  none: { over: [255, 242, 160], around: [90, 90, 90] },
}

/**
 * The colour of a mark in a file: red, green, blue, 0 to 255.
 * @param strand its place among the strands of its inquiry by their ids
 */
export function markColour(strand: number | undefined, isFrame: boolean): Colour {
  const voice = strand === undefined ? 'none' : STRAND_VOICES[strand % STRAND_VOICES.length]!
  return COLOURS[voice][isFrame ? 'around' : 'over']
}
