/** A page range, read: "345-67" ends at 367. Letters before the number ("S12", "e104") are kept as the prefix. */
export function readPages(page: string | undefined): { prefix: string; first: number; last: number } | undefined {
  const m = /^\s*([A-Za-z]*)(\d+)(?:\s*[-–—]+\s*([A-Za-z]*)(\d+))?/.exec(page ?? '')
  if (!m) return undefined
  const first = Number(m[2])
  let lastText = m[4] ?? m[2]!
  if (lastText.length < m[2]!.length) lastText = m[2]!.slice(0, m[2]!.length - lastText.length) + lastText
  return { prefix: m[1] ?? '', first, last: Number(lastText) }
}

/** Number of pages of a range; undefined where it is not a range, runs backwards or is an article number. */
export function pageCount(page: string | undefined): number | undefined {
  const range = readPages(page)
  if (!range || !/[-–—]/.test(page ?? '') || range.last < range.first) return undefined
  return range.last - range.first + 1
}
