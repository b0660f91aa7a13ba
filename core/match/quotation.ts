/** The first quotation of some length, by the quotes of whatever language. */
export function quotation(text: string): { from: number; to: number; text: string } | undefined {
  const pairs: [string, string][] = [
    ['“', '”'],
    ['„', '“'],
    ['«', '»'],
    ['»', '«'],
    ['‘', '’'],
    ['"', '"'],
    ["'", "'"],
  ]
  let best: { from: number; to: number; text: string } | undefined
  for (const [open, close] of pairs) {
    for (let from = text.indexOf(open); from >= 0 && (!best || from < best.from);) {
      const to = closing(text, from, close)
      if (to && to - from >= 9) best = { from, to: to + 1, text: text.slice(from + 1, to) }
      from = text.indexOf(open, (to ?? from) + 1)
    }
  }
  return best
}

/** Where a quotation ends: an apostrophe closes nothing, so that singles are closed by a mark before or behind. */
function closing(text: string, from: number, close: string): number | undefined {
  let loose: number | undefined
  for (let to = text.indexOf(close, from + 1); to > 0; to = text.indexOf(close, to + 1)) {
    const next = text[to + 1] ?? ''
    if (!'”»'.includes(close) && !/^[.,;:)\s]?$/.test(next)) continue
    // "lamp makers' clusters"
    if (!"’'".includes(close) || next !== ' ' || /[.,?!]/.test(text[to - 1]!)) return to
    loose ??= to
  }
  return loose
}
