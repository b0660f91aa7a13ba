import { array, number, object, string } from 'yup'
import { REACHES } from '../../access/reach'
import { VERDICTS } from '../../appraise/taken-back'
import type { YearOfField } from '../../trails/rate'
import { kind, labelledPlace } from './core-shapes'
import { endpoint } from './endpoint'
import { pooled } from './gather'
import { begun } from './inquiries'
import { day, flag, like, list, moment, oneOf, orNull, pair, real, rowId, shape, text, uuid, whole } from './parts'

export const SCOPES = ['kept', 'strand', 'work'] as const
export const DIRECTIONS = ['references', 'cited-by'] as const
/** Calls of a round at most, unless another number is given. */
export const BUDGET = 600
/** The most that may be given. */
export const MOST_CALLS = 20_000
/** Pointers brought into the pool at once. */
export const BROUGHT = 500

const scope = {
  /** Of all kept works, of those on a strand, or of one work. */
  scope: string().oneOf(SCOPES).required(),
  /** The strand or the work. */
  of: rowId,
  /** Asks again for trails that were walked before this day. */
  again: string().oneOf(['yes']),
}
const round = shape({
  id: whole(),
  /** Counted from 1; null of a look at one work, and of a run of a standing trail. */
  n: orNull(whole()),
  isStanding: flag(),
  scope: oneOf(SCOPES),
  of: orNull(whole()),
  /** The day of the desk. */
  day: day(),
  job: orNull(whole()),
  /** Trails that belong to it, and those of them that were not walked yet. */
  trails: whole(),
  left: whole(),
  planned: whole(),
  calls: whole(),
  /** Works that were met on its trails; those of them that no round met before. */
  found: whole(),
  fresh: whole(),
})
/** A work outside the pool, by what the citation index says of it. */
const pointer = shape({
  title: text(),
  authors: text(),
  container: text(),
  kind,
  confidence: real(),
  language: orNull(text()),
  doi: orNull(text()),
  references: orNull(whole()),
  perYear: orNull(real()),
  reach: oneOf(REACHES),
})

const said = shape({
  texts: list(
    shape({
      /** The citing work, and the copy that says it. */
      work: whole(),
      copy: whole(),
      version: text(),
      /** The number of the entry in its list of references. */
      entry: whole(),
      places: list(labelledPlace),
    }),
  ),
  /** Works of the pool that cite it, by an index or a list, without a sentence that is known. */
  others: list(shape({ work: whole(), hasCopy: flag() })),
})

export const traceApi = {
  askCitations: endpoint('POST', '/inquiries/:inquiry/citations', {
    does: 'Asks the citation index how often each work of the pool is cited, as a job.',
    status: 202,
    answer: begun,
  }),
  graph: endpoint('GET', '/inquiries/:inquiry/graph', {
    does: 'Who cites whom among the works of the pool and the pointers around them, as the rounds so far found it.',
    answer: shape({
      /** Who is asked for citations; empty where nobody can be. */
      from: text(),
      /** The same as long as nothing of it is another. */
      stamp: text(),
      nodes: list(
        shape({
          id: whole(),
          /** The work of the pool that it is. */
          work: orNull(whole()),
          year: orNull(whole()),
          citedBy: orNull(whole()),
          field: orNull(text()),
          /** The round that met it first. */
          round: orNull(whole()),
          pointer: orNull(pointer),
        }),
      ),
      /** The two ends of each citation, by place among the nodes. */
      citing: list(whole()),
      cited: list(whole()),
      /** Trails that were walked, the latest walk of each. */
      walks: list(
        shape({
          /** The origin, by place among the nodes. */
          node: whole(),
          direction: oneOf(DIRECTIONS),
          round: whole(),
          /** Neighbours that the index has, and those that were read. */
          total: whole(),
          got: whole(),
          /** What was amiss. */
          trouble: orNull(text()),
          day: day(),
        }),
      ),
      rounds: list(round),
      /** How often works of a field and year are cited, as far as that was asked. */
      fields: list(like<YearOfField>()({ field: text(), year: whole(), works: whole(), counts: list(pair()) })),
    }),
  }),
  graphFile: endpoint('GET', '/inquiries/:inquiry/graph.graphml', {
    does: 'The same graph for other programs, in GraphML.',
    answer: ['application/xml'],
  }),
  citationsFile: endpoint('GET', '/inquiries/:inquiry/citations.csv', {
    does: 'Its citations as a table, a line each.',
    answer: ['text/csv'],
  }),
  citedAges: endpoint('GET', '/inquiries/:inquiry/cited-ages', {
    does: 'How old what kept works cite was when they cited it, as far as their trails are walked.',
    answer: shape({
      /** Kept works of which something is told. */
      works: whole(),
      /** Years, and how many citations; below 0 where something is cited before its year. */
      ages: list(pair()),
    }),
  }),
  planRound: endpoint('GET', '/inquiries/:inquiry/rounds/plan', {
    does: 'What a round would ask, before it is walked.',
    query: object(scope),
    answer: shape({
      n: orNull(whole()),
      /** Works whose trails it would walk, and how many trails. */
      origins: whole(),
      trails: whole(),
      /** Calls by what is known of their numbers. */
      calls: whole(),
      /** Further calls at most, to compare works with others of their field and year; they serve later rounds too. */
      comparing: whole(),
      /** Works that the index cannot be asked for. */
      withoutDoi: list(whole()),
      /** Trails that were walked before. */
      walked: whole(),
    }),
  }),
  walkRound: endpoint('POST', '/inquiries/:inquiry/rounds', {
    does: 'Walks a round, as a job: each trail is kept as soon as it is walked.',
    status: 202,
    body: object({ ...scope, most: number().integer().min(1).max(MOST_CALLS) }),
    answer: shape({ job: whole(), round: whole() }),
  }),
  walkOn: endpoint('POST', '/inquiries/:inquiry/rounds/:round/walk', {
    does: 'Walks the trails of a round that were left, as a job.',
    status: 202,
    answer: begun,
  }),
  trailOf: endpoint('GET', '/inquiries/:inquiry/works/:work/trail', {
    does: 'How a work was come upon: from which works’ trails, in which round, back to a work that came otherwise.',
    answer: list(
      shape({
        work: whole(),
        title: text(),
        authors: text(),
        year: orNull(whole()),
        /** Of which trail of the next one it was met; null at the end. */
        direction: orNull(oneOf(DIRECTIONS)),
        round: orNull(whole()),
        day: orNull(day()),
      }),
    ),
  }),
  saidOf: endpoint('GET', '/inquiries/:inquiry/works/:work/said', {
    does: 'What others say of a work: the sentences of stored copies that cite it, and the works known to cite it besides.',
    answer: said,
  }),
  saidOfPointer: endpoint('GET', '/inquiries/:inquiry/nodes/:node/said', {
    does: 'The same of a work outside the pool.',
    answer: said,
  }),
  takenBack: endpoint('GET', '/inquiries/:inquiry/taken-back', {
    does: 'Works of the pool and around it that were taken back or corrected, who says so, and who cites them; the gravest first.',
    answer: list(
      shape({
        work: orNull(whole()),
        /** Of a work outside the pool. */
        node: orNull(whole()),
        title: text(),
        says: oneOf(VERDICTS),
        /** The notice that says so; null where a source calls the work so in its title. */
        by: orNull(shape({ work: orNull(whole()), node: orNull(whole()), title: text() })),
        /** Of a notice that a registration names and that is not known here: its DOI. */
        notice: orNull(text()),
        /** Who has that title or that notice, and since when it is known here. */
        source: text(),
        at: moment(),
        /** Works of the pool that cite it; of what was merely corrected none are told. */
        citing: list(whole()),
      }),
    ),
  }),
  bringPointers: endpoint('POST', '/inquiries/:inquiry/pointers', {
    does: 'Brings pointers into the pool, and decides on them where a choice is given.',
    body: object({
      nodes: array(rowId.required()).min(1, 'Choose at least one work.').max(BROUGHT).required(),
      /** By which the decision can be taken back; its lines have ids of their own. */
      group: uuid,
      choice: string().oneOf(['keep', 'set aside', 'later'] as const),
    }),
    answer: pooled.shape({
      /** Of each of the nodes, the work it is now. */
      works: list(shape({ node: whole(), work: whole() })),
      revision: whole(),
    }),
  }),
}
export type Direction = (typeof DIRECTIONS)[number]
export type Scope = (typeof SCOPES)[number]
