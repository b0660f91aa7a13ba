import { readdirSync, readFileSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { WORLD_FILES, type Venue, type WorldFacts, type WorldWork } from '../core/world/types'

/** The made-up world as it is served, and the day on which it stands. */
export interface ServedWorld {
  works: WorldWork[]
  byId: Map<string, WorldWork>
  /** By DOI in lower case; a preprint's own DOI leads to its work. */
  byDoi: Map<string, WorldWork>
  /** Works that cite a work, in order of time. */
  citing: Map<string, WorldWork[]>
  venues: Map<string, Venue>
  facts: WorldFacts
  /** KBART files of the home library by file name. */
  kbart: Map<string, string>
  /** ISO day; moved by the control page. */
  day: string
  /** Names what was read, so that what is computed from it can be kept beside it. */
  stamp: string
  folder?: string
}

export function serveWorld(
  works: WorldWork[],
  facts: WorldFacts,
  kbart: Map<string, string>,
  day = '2026-10-05',
): ServedWorld {
  const citing = new Map<string, WorldWork[]>()
  for (const w of works)
    for (const r of w.references) {
      const list = citing.get(r)
      if (list) list.push(w)
      else citing.set(r, [w])
    }
  const byDoi = new Map<string, WorldWork>()
  for (const w of works) {
    if (w.item.DOI) byDoi.set(w.item.DOI.toLowerCase(), w)
    for (const d of w.deposits) if (d.doi) byDoi.set(d.doi.toLowerCase(), w)
  }
  return {
    works,
    byId: new Map(works.map(w => [w.id, w])),
    byDoi,
    citing,
    venues: new Map(facts.venues.map(v => [v.code, v])),
    facts,
    kbart,
    day,
    stamp: facts.stamp,
  }
}

/** Reads the made-up world from its folder: works, facts and holdings, nothing else. */
export function readWorld(folder: string): ServedWorld {
  const file = join(folder, WORLD_FILES.works)
  const works = readFileSync(file, 'utf8')
    .split('\n')
    .filter(Boolean)
    .map(l => JSON.parse(l) as WorldWork)
  const kbart = join(folder, WORLD_FILES.kbart)
  const world = serveWorld(
    works,
    JSON.parse(readFileSync(join(folder, WORLD_FILES.facts), 'utf8')) as WorldFacts,
    new Map(readdirSync(kbart).map(name => [name, readFileSync(join(kbart, name), 'utf8')])),
  )
  const { size, mtimeMs } = statSync(file)
  return { ...world, stamp: `${world.stamp}-${size}-${Math.round(mtimeMs)}`, folder }
}

/** Works that cite a work and are published by the day on which the world stands. */
export const citingNow = (world: ServedWorld, id: string): WorldWork[] => {
  const all = world.citing.get(id) ?? []
  let n = all.length
  while (n && all[n - 1]!.date > world.day) n--
  return n === all.length ? all : all.slice(0, n)
}

const speaking = new WeakMap<WorldWork[], Map<string, WorldWork[]>>()
/** Works that are about a work. */
function about(world: ServedWorld, id: string): readonly WorldWork[] {
  let of = speaking.get(world.works)
  if (!of) {
    of = new Map()
    for (const w of world.works) if (w.about) of.set(w.about, [...(of.get(w.about) ?? []), w])
    speaking.set(world.works, of)
  }
  return of.get(id) ?? []
}
/** The data behind a work. */
export const dataBehind = (world: ServedWorld, id: string): WorldWork | undefined =>
  about(world, id).find(w => w.form === 'dataset')
/** Notices that correct a work or take it back. */
export const noticesOf = (world: ServedWorld, id: string): WorldWork[] =>
  about(world, id).filter(w => w.form === 'correction')

/** An even number from 0 to `below` that belongs to a work and a purpose. */
export function lot(work: string, purpose: string, below: number): number {
  let h = 2166136261
  for (const c of work + purpose) h = Math.imul(h ^ c.charCodeAt(0), 16777619)
  h ^= h >>> 15
  return ((Math.imul(h, 0x2c1b3c6d) >>> 0) / 4294967296) * below
}
