const SMALL = 256
const small = new Float64Array(SMALL)
for (let i = 1; i < SMALL; i++) small[i] = small[i - 1]! + Math.log(i)

/** ln n!: of small numbers by their sum, of others by Stirling's series to the fifth power, exact to 15 places. */
export function lnFactorial(n: number): number {
  if (n < SMALL) return small[n]!
  const n2 = n * n
  return n * Math.log(n) - n + 0.5 * Math.log(2 * Math.PI * n) + (1 - (1 / 30 - 1 / (105 * n2)) / n2) / (12 * n)
}

const lnChoose = (n: number, k: number): number =>
  k < 0 || k > n ? -Infinity : lnFactorial(n) - lnFactorial(k) - lnFactorial(n - k)

/** P(X = x) where n works are drawn without return from N, of which K are wanted. */
const exactly = (x: number, N: number, K: number, n: number): number =>
  Math.exp(lnChoose(K, x) + lnChoose(N - K, n - x) - lnChoose(N, n))

/** P(X ≤ k) where n works are drawn without return from N, of which K are wanted (hypergeometric). */
export function atMost(k: number, N: number, K: number, n: number): number {
  let sum = 0
  for (let x = Math.max(0, n - (N - K)); x <= Math.min(k, K, n); x++) sum += exactly(x, N, K, n)
  return Math.min(1, sum)
}

/** P(X ≥ k) of the same, summed from that end, so that small chances keep their places. */
export function atLeast(k: number, N: number, K: number, n: number): number {
  let sum = 0
  for (let x = Math.max(k, 0, n - (N - K)); x <= Math.min(K, n); x++) sum += exactly(x, N, K, n)
  return Math.min(1, sum)
}
