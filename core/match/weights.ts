/**
 * What was seen of two records, in log-odds (natural): set by hand from what a logistic regression gave over pairs of
 * bibliographies that others keep, then measured there and on made-up worlds (`bench/joins.ts`, `bench/match.ts`).
 */

/** That two records which met in a block describe one work, before anything is compared. */
export const PRIOR = -1.1
/** From here a pair is joined; from `ASK` it is put to the student. */
export const SAME = 2
export const ASK = 0

/** What any bibliography shows. */
const SHOWN = {
  'title: same': 1.6,
  'title: words, same': 0.3,
  'title: near': 0.2,
  'title: words, near': 0.5,
  'title: short': -0.3,
  'title: words, short': 0.3,
  'title: most words': -0.3,
  'title: many words': -0.6,
  'title: other': -2.2,
  'author: all': 1,
  'author: fewer': 0.3,
  'author: first': -0.5,
  'author: other order': 0,
  'author: slip': 1,
  'author: some': -0.7,
  'author: initials': -1,
  'author: other': -4,
  'year: same': 1,
  'year: next': -0.4,
  'year: two': -2,
  'year: apart': -3.5,
  'year: far': -4,
  'container: same': 0.2,
  'container: part': -0.5,
  'container: other': -1.7,
  'pages: same': 0.9,
  'pages: other': -3.4,
  'volume: same': 0.7,
  'volume: other': -3.5,
  'issue: same': 1,
  'issue: other': -3,
  'publisher: same': 0.5,
  'publisher: other': -2,
  'edition: same': 0.6,
  'edition: one': -1.5,
  'edition: other': -3,
  'kind: other': -3,
}

/** What a bibliography cannot show: it has each work once, and no manuscripts. */
const APART = {
  'author: others too': 0.4,
  'DOI: same': 10,
  'DOI: other': -12,
  'ISBN: same': 6,
  'ISBN: other': -3,
  'manuscript: years near': 0.5,
  'manuscript: years apart': -1,
  'manuscript: years far': -3,
  'mark: other': -12,
  'numbers: other': -5,
  'issue: other, one page': -1,
  'abstract: same': 5,
}

/** What a sign adds to the log-odds that two records of one block describe one work. */
export const WEIGHTS = { ...SHOWN, ...APART }
