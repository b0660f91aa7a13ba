import type { Form } from '../core/world/types'

/** Forms that other works cite. */
export const CITABLE = new Set<Form>([
  'research article',
  'literature review',
  'conference paper',
  'book',
  'chapter',
  'thesis',
  'report',
  'dataset',
])
/** How often each form is made, and since when. */
export const BY_FORM: readonly [Form, number, number][] = [
  // form, share, first year
  ['research article', 59, 1889],
  ['literature review', 5, 1920],
  ['review of a book', 6.5, 1889],
  ['conference paper', 4, 1950],
  ['conference abstract', 2.5, 1960],
  ['book', 4, 1889],
  ['chapter', 4, 1920],
  ['thesis', 2, 1930],
  ['report', 3, 1930],
  ['editorial or letter', 3, 1889],
  ['correction', 0.9, 1950],
  ['magazine', 4, 1920],
  ['news', 2, 1900],
  ['dataset', 0.7, 2008],
  ['image or recording', 0.6, 1900],
]
