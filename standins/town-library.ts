import { Router } from 'express'
import type { Venue, WorldWork } from '../core/world/types'
import { TOWN, TOWN_CARD } from './gate'
import { requestForm } from './request-form'
import { lot, type ServedWorld } from './world'

/** Whether the town library pays for a journal: some that the home library does not pay for, and a few that it does. */
const pays = (v: Venue): boolean => lot(v.code, 'town', 100) < (v.licences.length ? 10 : 45)

/** Whether a reader of the town library may read a work. */
export const townReads = (world: ServedWorld, w: WorldWork): boolean => {
  const venue = w.venue ? world.venues.get(w.venue) : undefined
  return venue !== undefined && pays(venue) && w.year >= FROM
}
/** What the town library can be searched by. */
export const TOWN_CATALOGUE = { host: 'catalogue.ostermoor.example', title: 'Ostermoor Town Catalogue' }

/** Where it tells what stands on its shelves. */
export const TOWN_SHELF = { host: 'shelf.ostermoor.example', title: 'Ostermoor Shelves' }

/** It pays from this year on. */
const FROM = 1990

const COLUMNS =
  'publication_title print_identifier online_identifier date_first_issue_online title_url title_id coverage_depth publisher_name publication_type access_type'

/** A second library: its profile as a file, and its holdings in one. */
export function townLibrary(world: ServedWorld): Router {
  const router = Router()
  router.get('/profile.json', (_req, res) => {
    res.json({
      name: 'Ostermoor Town Library',
      place: 'Ostermoor',
      catalogues: [{ id: 'town', name: TOWN_CATALOGUE.title, sru: `http://${TOWN_CATALOGUE.host}/sru`, schema: 'dc' }],
      holdings: [{ name: 'Journals for readers', address: 'http://library.ostermoor.example/kbart/journals.tsv' }],
      shelf: { address: `http://${TOWN_SHELF.host}/sru` },
      gate: {
        manner: 'form',
        template: `http://${TOWN.host}/open{?url}`,
        signIn: `http://${TOWN.host}/sign-in`,
        fields: { card: 'reader', password: 'pin' },
        suffix: TOWN.host,
        terms: 'For readers of the town.',
        hint: `In the made-up library the card is ${TOWN_CARD.reader}, its password ${TOWN_CARD.pin}.`,
      },
      office: {
        ...{ manner: 'form', address: 'http://library.ostermoor.example/request' },
        ...{ scan: { low: 3, high: 9 }, book: { low: 5, high: 15 }, pickUp: 'Market Hall' },
        terms: 'A loan costs two crowns, paid when it is picked up.',
      },
      campus: ['192.0.2.0/24'],
      note: 'Cards are free for who lives in Ostermoor.',
    })
  })
  router.use(requestForm())
  router.get('/kbart/journals.tsv', (_req, res) => {
    const lines = world.facts.venues
      .filter(pays)
      .map(v =>
        [
          ...[v.title, v.issnPrint, v.issnOnline, `${Math.max(v.since, FROM)}-01-01`],
          ...[`http://${v.host}/journal/${v.code}`, v.code, 'fulltext', v.imprint, 'serial', 'P'],
        ].join('\t'),
      )
    res
      .type('text/tab-separated-values; charset=utf-8')
      .send(`${[COLUMNS.replaceAll(' ', '\t'), ...lines].join('\n')}\n`)
  })
  return router
}

/** Towns of libraries that are in the directory, and nothing more. */
const OTHERS = [
  ['Korrin Regional Library', 'Korrin', 'http://library.korrin.example/profile.json'],
  ['Marlund Letters Archive', 'Marlund', 'http://archive.marlund.example/library.json'],
  ['Thornavon Institute Library', 'Thornavon', 'http://library.thornavon.example/profile.json'],
  ['Estermark Reading Room', 'Estermark, Old Sheet House', 'http://reading.estermark.example/profile.json'],
] as const

/** The directory of libraries: what each is called, where it is, and where its profile lies. */
export function directory(): Router {
  return Router().get('/libraries.json', (_req, res) => {
    res.json({
      libraries: [
        {
          name: 'Ostermoor Town Library',
          place: 'Ostermoor',
          profile: 'http://library.ostermoor.example/profile.json',
        },
        ...OTHERS.map(([name, place, profile]) => ({ name, place, profile })),
        // directories have entries that nobody keeps any more
        { name: 'Lindmere Branch', profile: 'ask at the desk' },
      ],
    })
  })
}
