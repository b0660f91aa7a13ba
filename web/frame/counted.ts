/** How many there are of something. @example some(1200, 'work') // '1,200 works' */
export const some = (n: number, one: string, more = `${one}s`): string =>
  `${n.toLocaleString('en')} ${n === 1 ? one : more}`

/** A chance; what may yet fail is never told as sure, nor what may yet come as impossible. @example chance(0.998) // '99%' */
export const chance = (share: number): string =>
  `${share > 0 && share < 1 ? Math.min(99, Math.max(1, Math.round(share * 100))) : Math.round(share * 100)}%`
