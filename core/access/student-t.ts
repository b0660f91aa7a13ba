/**
 * The distribution function of Student's t for a whole number of degrees of freedom, by its finite sums (Abramowitz and
 * Stegun, Handbook of Mathematical Functions, 26.7.3 and 26.7.4).
 * Right to some fourteen digits: two values nearer to each other may stand the wrong way round.
 * @param degrees a whole number from 1
 */
export function studentT(t: number, degrees: number): number {
  const angle = Math.atan(t / Math.sqrt(degrees))
  const [sin, cos2] = [Math.sin(angle), Math.cos(angle) ** 2]
  const isOdd = degrees % 2 === 1
  // 1 + c²/2 + 1·3 c⁴/(2·4) …, or of odd degrees c (1 + 2 c²/3 + 2·4 c⁴/(3·5) …)
  let term = 1
  let sum = degrees === 1 ? 0 : 1
  for (let i = isOdd ? 3 : 2; i <= degrees - 2; i += 2) sum += term *= (cos2 * (i - 1)) / i
  const within = isOdd ? (2 / Math.PI) * (angle + sin * Math.cos(angle) * sum) : sin * sum
  // the last digit of a sum may lie beyond what is certain
  return Math.min(1, (1 + within) / 2)
}
