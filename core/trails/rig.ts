/** Citations for tests, each as citing-cited. @example cites('2-0 2-1') // [[2, 0], [2, 1]] */
export const cites = (said: string): [number, number][] =>
  said.split(' ').map(pair => pair.split('-').map(Number) as [number, number])
