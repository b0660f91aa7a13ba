/**
 * Whether two texts differ by no more than slips leave: at most one letter in twenty, one to three in all; two letters
 * that changed places are one slip.
 */
export function nearlyEqual(a: string, b: string): boolean {
  const most = Math.max(1, Math.min(3, Math.floor(Math.max(a.length, b.length) / 20)))
  if (Math.abs(a.length - b.length) > most) return false
  // only what lies between the common beginning and the common end has to be compared
  let start = 0
  while (start < a.length && a[start] === b[start]) start++
  let end = 0
  while (end < Math.min(a.length, b.length) - start && a[a.length - 1 - end] === b[b.length - 1 - end]) end++
  const x = a.slice(start, a.length - end)
  const y = b.slice(start, b.length - end)
  if (Math.max(x.length, y.length) <= most) return true
  return within(x, y, most)
}

/**
 * Whether the distance by letters dropped, added, changed and swapped with the next one (optimal string alignment) is at
 * most `most`: of the table only the band around its diagonal is worked out (Ukkonen 1985), `2 * most + 1` wide, so that
 * it takes as long as the text is.
 */
function within(a: string, b: string, most: number): boolean {
  const width = 2 * most + 1
  const far = most + 1
  // place k of row i stands for the column i - most + k
  let before = new Uint8Array(width + 1).fill(far)
  let row = new Uint8Array(width + 1).fill(far)
  for (let k = most; k < width; k++) row[k] = Math.min(far, k - most)
  for (let i = 1; i <= a.length; i++) {
    const next = new Uint8Array(width + 1).fill(far)
    let least = far
    for (let k = 0; k < width; k++) {
      const j = i - most + k
      if (j < 0 || j > b.length) continue
      // the same column of the row above is one place further on
      const dropped = row[k + 1]! + 1
      const added = k > 0 ? next[k - 1]! + 1 : far
      const changed = j > 0 ? row[k]! + (a[i - 1] === b[j - 1] ? 0 : 1) : far
      const swapped = i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1] ? before[k]! + 1 : far
      next[k] = Math.min(far, dropped, added, changed, swapped)
      least = Math.min(least, next[k]!, before[k]! + 1)
    }
    if (least > most) return false
    before = row
    row = next
  }
  return row[b.length - a.length + most]! <= most
}
