import { Router, type Response } from 'express'
import { fold } from '../core/bib/fold'
import { familyName, nameKey } from '../core/bib/names'
import type { WorldWork } from '../core/world/types'
import { genreFor, licenceOf, signed } from './records'
import { citingNow, lot, type ServedWorld } from './world'

/**
 * Citation links both ways, paged, each neighbour as CSL-JSON with what is known of it; works of an author and of a
 * grant, data behind a study, and counts of citations by field and year. It knows what is published by the day on
 * which the world stands, and has not linked every reference.
 */
export function citationIndex(world: ServedWorld): Router {
  const router = Router()
  const known = (w: WorldWork | undefined): w is WorldWork => w !== undefined && w.date <= world.day
  const face = (w: WorldWork) => {
    const { abstract: _abstract, ...item } = w.item
    const grant = world.facts.grants.find(g => g.id === w.grant)
    return {
      item: { ...item, ...(item.author ? { author: signed(w) } : {}) },
      ...(grant ? { grants: [{ id: grant.id, funder: grant.funder, title: grant.title }] } : {}),
      ...(licenceOf(w) ? { licence: licenceOf(w) } : {}),
      citedBy: citingNow(world, w.id).length,
      references: w.references.length,
      genre: genreFor(w),
      refereedVenue: w.refereedVenue,
      ...(w.venue ? { field: world.venues.get(w.venue)!.field } : {}),
    }
  }
  const references = (w: WorldWork): WorldWork[] =>
    [...w.references]
      .sort((a, b) => lot(a + w.id, 'linked', 1) - lot(b + w.id, 'linked', 1))
      .slice(w.unlinked)
      .sort()
      .map(id => world.byId.get(id)!)
  const paged = (res: Response, query: Record<string, unknown>, list: WorldWork[], more: object = {}) => {
    const offset = Math.max(0, Math.floor(Number(query.offset ?? 0)) || 0)
    const limit = Math.min(100, Math.max(1, Math.floor(Number(query.limit ?? 50)) || 50))
    res.json({
      total: list.length,
      ...more,
      items: list.slice(offset, offset + limit).map(face),
      ...(offset + limit < list.length ? { next: offset + limit } : {}),
    })
  }
  const missing = (res: Response, said: string) => void res.status(404).json({ error: said })
  const find = (doi: unknown): WorldWork | undefined => {
    const w = world.byDoi.get(String(doi).toLowerCase())
    return known(w) ? w : undefined
  }

  router.get('/works/:doi/:what', (req, res) => {
    const w = find(req.params.doi)
    if (!w) return missing(res, 'This work is not in the index.')
    switch (req.params.what) {
      case 'references':
        return paged(res, req.query, references(w), { unlinked: w.unlinked })
      case 'cited-by':
        return paged(res, req.query, citingNow(world, w.id))
      case 'data':
        return paged(
          res,
          req.query,
          world.works.filter(x => x.form === 'dataset' && x.about === w.id && known(x)),
        )
      default:
        return missing(res, 'references, cited-by or data')
    }
  })
  router.get('/works/:doi', (req, res) => {
    const w = find(req.params.doi)
    if (!w) return missing(res, 'This work is not in the index.')
    res.json(face(w))
  })
  /** Authors are told apart by family name and initial alone, as such indexes do. */
  router.get('/authors', (req, res) => {
    const name = fold(String(req.query.name ?? '')).trim()
    if (name.length < 2) return void res.status(400).json({ error: 'name needs two letters' })
    const found = [...byAuthor(world)].filter(([k]) => k.startsWith(name)).slice(0, 50)
    res.json({ items: found.map(([id, a]) => ({ id, name: a.name, works: a.works.length })) })
  })
  router.get('/authors/:id/works', (req, res) => {
    const a = byAuthor(world).get(String(req.params.id))
    if (!a) return missing(res, 'There is no such author.')
    paged(res, req.query, a.works.filter(known), { name: a.name })
  })
  router.get('/people/:id/works', (req, res) => {
    const of = byPerson(world).get(String(req.params.id))
    if (!of) return missing(res, 'There is no such person.')
    paged(res, req.query, of.filter(known))
  })
  router.get('/grants/:id', (req, res) => {
    const g = world.facts.grants.find(x => x.id === req.params.id)
    if (!g) return missing(res, 'There is no such grant.')
    paged(res, req.query, (byGrant(world).get(g.id) ?? []).filter(known), { grant: g })
  })
  /** For one field and year: how many works have how many citations by now. */
  router.get('/counts', (req, res) => {
    const year = Number(req.query.year)
    const field = String(req.query.field ?? '')
    const fields = [...new Set(world.facts.venues.map(v => v.field))]
    if (!fields.includes(field) || !Number.isInteger(year))
      return void res.status(400).json({ error: 'field and year', fields })
    const counts = new Map<number, number>()
    for (const w of world.works) {
      if (w.year !== year || !w.venue || !known(w) || world.venues.get(w.venue)!.field !== field) continue
      const n = citingNow(world, w.id).length
      counts.set(n, (counts.get(n) ?? 0) + 1)
    }
    res.json({
      field,
      year,
      day: world.day,
      works: [...counts.values()].reduce((a, b) => a + b, 0),
      counts: [...counts].sort((a, b) => a[0] - b[0]),
    })
  })
  return router
}

const grants = new WeakMap<WorldWork[], Map<string, WorldWork[]>>()
function byGrant(world: ServedWorld): Map<string, WorldWork[]> {
  let map = grants.get(world.works)
  if (!map) {
    map = new Map()
    for (const w of world.works) if (w.grant) map.set(w.grant, [...(map.get(w.grant) ?? []), w])
    grants.set(world.works, map)
  }
  return map
}

const people = new WeakMap<WorldWork[], Map<string, WorldWork[]>>()
function byPerson(world: ServedWorld): Map<string, WorldWork[]> {
  let map = people.get(world.works)
  if (!map) {
    map = new Map()
    for (const w of world.works)
      for (const id of Object.values(w.authorIds ?? {})) map.set(id, [...(map.get(id) ?? []), w])
    people.set(world.works, map)
  }
  return map
}

const authors = new WeakMap<WorldWork[], Map<string, { name: string; works: WorldWork[] }>>()
function byAuthor(world: ServedWorld) {
  let map = authors.get(world.works)
  if (!map) {
    map = new Map()
    for (const w of world.works)
      for (const n of w.item.author ?? []) {
        const key = nameKey(n)
        const have = map.get(key)
        if (have) have.works.push(w)
        else map.set(key, { name: [familyName(n), n.given].filter(Boolean).join(', '), works: [w] })
      }
    authors.set(world.works, map)
  }
  return map
}
