import { object, string } from 'yup'
import { REACHES } from '../../access/reach'
import { grant, kind, personName } from './core-shapes'
import { endpoint } from './endpoint'
import { begun } from './inquiries'
import { day, flag, list, oneOf, orNull, pair, rowId, shape, text, whole } from './parts'

/** What can be followed besides citations. */
export const FOLLOWS = ['author', 'grant', 'data'] as const
export type Follow = (typeof FOLLOWS)[number]

/** Who can be asked for it, empty where nobody can, and what they said last. */
const followed = shape({
  of: text(),
  /** Under which it is kept: the identifier, the bare number, the DOI; empty where nothing can be asked by. */
  subject: text(),
  last: orNull(
    shape({
      source: text(),
      day: day(),
      /** Works that they have, and those that were read. */
      total: whole(),
      got: whole(),
      /** What was amiss. */
      trouble: orNull(text()),
    }),
  ),
})
/** A work of the pool, or one that is known besides. */
const theirs = shape({
  work: orNull(whole()),
  pointer: orNull(
    shape({
      node: whole(),
      title: text(),
      authors: text(),
      container: text(),
      kind,
      year: orNull(whole()),
      citedBy: orNull(whole()),
      reach: oneOf(REACHES),
    }),
  ),
})

export const followApi = {
  author: endpoint('GET', '/inquiries/:inquiry/author', {
    does: 'Who seems to stand behind a name: works of the pool and of the trails, put together by person.',
    query: object({
      family: string().max(200).required('Say whose works.'),
      given: string().max(200),
      /** The name is that of a body. */
      body: string().oneOf(['yes']),
      /** The work from which it is asked: its person is told first. */
      work: rowId,
    }),
    answer: shape({
      persons: list(
        shape({
          name: personName,
          years: orNull(pair()),
          with: list(shape({ name: personName, times: whole() })),
          words: list(shape({ word: text(), times: whole() })),
          /** What it has in common with the first person. */
          shares: list(text()),
          /** Its given names are others than those of the first. */
          isOther: flag(),
          /** The identifier that sources give them, and how many of the works have it. */
          id: orNull(text()),
          withId: whole(),
          /** The latest first; each of the pool, or a pointer. */
          works: list(theirs),
        }),
      ),
      asked: followed,
    }),
  }),
  grantWorks: endpoint('GET', '/inquiries/:inquiry/grant', {
    does: 'What is known of a grant: works of the pool and around it that name it.',
    query: object({ number: string().max(190).required('Say which grant.'), funder: string().max(300) }),
    answer: shape({
      grant,
      /** The latest first. */
      works: list(theirs),
      asked: followed,
    }),
  }),
  beside: endpoint('GET', '/inquiries/:inquiry/works/:work/beside', {
    does: 'What stands beside a work: who paid for it, the data behind it and where they lie, or the works behind which it stands.',
    answer: shape({
      grants: list(grant),
      licence: orNull(text()),
      data: list(
        shape({
          work: orNull(whole()),
          /** Of data outside the pool. */
          node: orNull(whole()),
          title: orNull(text()),
          year: orNull(whole()),
          doi: orNull(text()),
          address: orNull(text()),
          licence: orNull(text()),
          /** Who says that they belong to it. */
          says: oneOf(['index', 'record', 'data', 'copy']),
        }),
      ),
      /** Of data: the works behind which they stand. */
      dataOf: list(shape({ work: orNull(whole()), title: orNull(text()), doi: text() })),
      /** What its own copy says of its data. */
      said: orNull(shape({ copy: whole(), page: whole(), label: text(), said: text() })),
      asked: followed,
    }),
  }),
  follow: endpoint('POST', '/inquiries/:inquiry/follow', {
    does: 'Asks others for the works of an author by identifier, the works of a grant, or the data behind a work, as a job.',
    status: 202,
    body: object({
      what: string().oneOf(FOLLOWS).required(),
      /** The identifier of the author (ISO 27729). */
      author: string().max(60),
      /** The grant. */
      number: string().max(190),
      funder: string().max(300),
      /** The work whose data are asked for. */
      work: rowId,
    }),
    answer: begun,
  }),
}
