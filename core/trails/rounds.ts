/** What a round gave: trails walked, works that came into the pool by it, and those of them that are kept. */
export interface Yield {
  walked: number
  brought: number
  kept: number
}
export interface Forecast {
  about: number
  least: number
  most: number
}

/** A round that is one further back counts half, since a field is eaten up as one goes on. */
const FADES = 0.5
/** What is supposed before anything was walked: so many works in so many trails. */
const SUPPOSED = { works: 0.5, trails: 1 }

/**
 * What the next round will bring, before it is walked: the works of a trail are taken as drawn by Poisson's law with a
 * rate that is itself not known (Gamma), so that the next round's number is negative binomial (Greenwood & Yule 1920);
 * its middle nine tenths. Later rounds count more.
 * @param of what each round gave, oldest first
 * @param walks trails that the next round will walk
 */
export function forecast(of: readonly { walked: number; works: number }[], walks: number): Forecast {
  let [works, trails] = [SUPPOSED.works, SUPPOSED.trails]
  of.forEach((round, i) => {
    const weight = FADES ** (of.length - 1 - i)
    works += weight * round.works
    trails += weight * round.walked
  })
  if (!walks) return { about: 0, least: 0, most: 0 }
  const p = trails / (trails + walks)
  return {
    about: (works / trails) * walks,
    least: quantile(0.05, works, p),
    most: quantile(0.95, works, p),
  }
}

/** The least k with P(X ≤ k) ≥ q of the negative binomial law of size r and chance p. */
function quantile(q: number, r: number, p: number): number {
  let chance = Math.exp(r * Math.log(p))
  let sum = chance
  let k = 0
  while (sum < q && k < 100_000) {
    chance *= ((r + k) / (k + 1)) * (1 - p)
    sum += chance
    k++
  }
  return k
}

/** A trail that can be walked, or was. */
export interface Origin {
  node: number
  /** Neighbours it has, as far as that is known. */
  neighbours: number
  /** Those of them that are in the pool, and kept. */
  pooled: number
  kept: number
  /** Calls that it takes. */
  calls: number
  walked: boolean
}
export interface Pays extends Origin {
  /** The share of its neighbours that are kept; of one that was not walked, what is to be expected. */
  share: number
  /** Works to be kept for a call. */
  perCall: number
}

/**
 * Which trail pays: of trails that were walked the share of their neighbours that is kept, drawn towards the share of
 * all of them (as if twenty neighbours of that kind had been seen), so that a trail of two does not stand above one of
 * fifty; of those not walked what that leads to expect. The next ones to walk first, by works to keep for a call.
 */
export function whichPays(origins: readonly Origin[], weight = 20): Pays[] {
  const walked = origins.filter(o => o.walked)
  const all = walked.reduce((t, o) => t + o.neighbours, 0)
  const mean = all ? walked.reduce((t, o) => t + o.kept, 0) / all : 0.05
  return origins
    .map(o => {
      const share = o.walked ? (o.kept + weight * mean) / (o.neighbours + weight) : mean
      const unseen = o.walked ? o.neighbours - o.pooled : o.neighbours
      return { ...o, share, perCall: (share * Math.max(0, unseen)) / Math.max(1, o.calls) }
    })
    .sort((a, b) => Number(a.walked) - Number(b.walked) || b.perCall - a.perCall || a.node - b.node)
}
