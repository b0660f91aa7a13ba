import express, { Router } from 'express'
import { fold } from '../core/bib/fold'
import { familyName } from '../core/bib/names'
import { yearOf } from '../core/bib/dates'
import type { WorldWork } from '../core/world/types'
import { lot, type ServedWorld } from './world'

/** What it lets in with. */
export const REGISTER_KEY = 'lantern-oak-7'
const AT_ONCE = 20

/**
 * A register of works in another shape than the citation index: asked by POST with a key, in pages that follow a mark,
 * names in one text, dates in words. It has two works of five.
 */
export function register(world: ServedWorld): Router {
  const has = world.works.filter(w => lot(w.id, 'register', 1) < 0.4)
  const words = new Map(has.map(w => [w, new Set(wordsOf(w.item.title ?? ''))]))
  const router = Router()
  router.use(express.json())
  router.use((req, res, next) => {
    if (req.headers['x-register-key'] === REGISTER_KEY) return next()
    res.status(401).json({ fault: 'A key is needed.' })
  })
  router.post('/find', (req, res) => {
    const { words: asked = '', who, after, most } = req.body as Record<string, string | undefined>
    const wanted = wordsOf(asked)
    if (!wanted.length) return void res.status(422).json({ fault: 'words is empty' })
    const people = who ? fold(who) : undefined
    const found = has.filter(
      w =>
        w.date <= world.day &&
        wanted.every(x => words.get(w)!.has(x)) &&
        (!people || (w.item.author ?? []).some(n => people.includes(fold(familyName(n))))),
    )
    const from = Math.max(0, Number(/^m(\d+)$/.exec(after ?? '')?.[1] ?? 0))
    const to = from + Math.min(AT_ONCE, Number(most ?? AT_ONCE) || AT_ONCE)
    res.json({
      found: String(found.length),
      entries: found.slice(from, to).map(face),
      ...(to < found.length ? { mark: `m${to}` } : {}),
    })
  })
  return router
}

const wordsOf = (text: string): string[] => fold(text).match(/[\p{L}\p{N}]+/gu) ?? []

function face({ item }: WorldWork) {
  const year = yearOf(item)
  return {
    ti: item.title,
    people: (item.author ?? []).map(n => ({ shown: [familyName(n), n.given].filter(Boolean).join(', ') })),
    when: year === undefined ? 'n.d.' : String(year),
    what: item.type === 'article-journal' ? 'paper' : item.type,
    within: {
      name: item['container-title'] ?? null,
      vol: item.volume ?? null,
      no: item.issue ?? null,
      span: item.page ?? null,
    },
    ids: [
      ...(item.DOI ? [{ kind: 'doi', is: item.DOI.toUpperCase() }] : []),
      ...(item.ISBN ? [{ kind: 'isbn', is: item.ISBN }] : []),
    ],
    house: item.publisher ?? null,
  }
}
