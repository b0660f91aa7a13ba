/** How many there are of something. @example some(1200, 'work') // '1,200 works' */
export const some = (n: number, one: string, more = `${one}s`): string =>
  `${n.toLocaleString('en')} ${n === 1 ? one : more}`
