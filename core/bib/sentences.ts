/** A part of a text, by places in it. */
export interface Stretch {
  from: number
  to: number
}

const segmenter = new Intl.Segmenter('en', { granularity: 'sentence' })
/** Letters that are cut into sentences at a time: the time it takes grows with their square. */
const PIECE = 2000
/** What ends with a point and no sentence: "p. 147", "et al.". */
const GOES_ON = /(?:^|[\s(])(?:pp?|S|pág|fol|al|cf|ca|No|vs)\.\s*$/
/** Figures that stand raised, in a row. */
const RAISED = /^[⁰¹²³⁴-⁹](?:[⁰¹²³⁴-⁹,⁻–-]{0,40}(?=\s|$))?\s*/u
const SHORTEST = 12

/** The sentences of a text, which lie beside each other and within lines; a line that is very long is cut at a space. */
export function sentencesOf(text: string): Stretch[] {
  const out: Stretch[] = []
  let from = 0
  while (from < text.length) {
    const line = text.indexOf('\n', from)
    let to = line < 0 ? text.length : line + 1
    if (to - from > PIECE) to = text.lastIndexOf(' ', from + PIECE) + 1 || 0
    if (to <= from) to = Math.min(text.length, from + PIECE)
    let isOpen = false
    for (const { index, segment } of segmenter.segment(text.slice(from, to))) {
      const last = out.at(-1)
      const end = from + index + segment.length
      // numbers of notes behind the point belong to what it ends
      const notes = last ? (RAISED.exec(segment)?.[0].length ?? 0) : 0
      if (last && (isOpen || notes === segment.length)) last.to = end
      else {
        if (last && notes) last.to += notes
        out.push({ from: from + index + notes, to: end })
      }
      isOpen = GOES_ON.test(segment.slice(-SHORTEST))
    }
    from = to
  }
  return out
}
