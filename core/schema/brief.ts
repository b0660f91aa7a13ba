import { withoutEnd } from '../bib/clean'
import './setup'
import { aDay } from './day'
import { array, number, object, string, type InferType } from 'yup'
import { KINDS } from '../appraise/kind'
import { ANNOTATION_PARTS } from '../write/annotation-parts'

const count = (most: number) =>
  number()
    .integer('A whole number, please.')
    .min(0, 'Not below zero.')
    .max(most, `At most ${most}.`)
    .nullable()
    .transform((v: unknown, given: unknown) => (given === '' ? null : v))

/** A citation style, by the name of its file or of what was brought. */
export const styleId = string().matches(/^[\w-]{1,80}$/, 'Choose a citation style.')
/** The tag of a language in which citations are written; null for that of the style. */
export const languageTag = string()
  .matches(/^[a-z]{2,3}(-[A-Za-z]{2,4})?$/, 'A language is a tag such as en-GB.')
  .nullable()
  .transform((v: unknown, given: unknown) => (given === '' ? null : v))
  .default(null)

/** The first words of a question, as a name for what asks it. */
export function nameOf(question: string): string {
  const words = withoutEnd(question.trim().replace(/\s+/g, ' '), /[?.!\s]/)
  if (words.length <= LONGEST_NAME) return words
  const cut = words.slice(0, LONGEST_NAME + 1)
  return `${cut.slice(0, Math.max(cut.lastIndexOf(' '), 20))} …`
}
const LONGEST_NAME = 60

/** The brief as the form sends it and the server accepts it: a question is enough to begin with. */
export const briefShape = object({
  /** Where none is given, it is taken from the question. */
  title: string().trim().max(190, 'A name may have 190 letters.').default(''),
  question: string()
    .trim()
    .max(2000, 'A question may have 2,000 letters.')
    .required('Write down the question you want to answer.'),
  due: aDay()
    .nullable()
    .transform((v: unknown, given: unknown) => (given === '' ? null : v))
    .default(null),
  zone: string().max(64).default('UTC'),
  style: styleId.default('apa'),
  language: languageTag,
  entriesWanted: count(500),
  refereedAtLeast: count(500),
  recentAtLeast: count(500),
  recentYears: count(200),
  booksAtMost: count(500),
  journalAtMost: count(500),
  perStrand: count(500),
  primaryAtLeast: count(500),
  primaryKinds: array(string().oneOf(KINDS).required()).max(KINDS.length),
  languages: array(
    string()
      .matches(/^[a-z]{2,3}$/, 'A language is a code of two letters.')
      .required(),
  ).max(30),
  notBefore: count(2100),
  kindsOut: array(string().oneOf(KINDS).required()).max(KINDS.length),
  parts: array(string().oneOf(ANNOTATION_PARTS).required()).max(ANNOTATION_PARTS.length),
  wordsFrom: count(5000),
  wordsTo: count(5000).test('order', 'This is less than the least.', function (to) {
    const from = (this.parent as { wordsFrom?: number | null }).wordsFrom
    return to == null || from == null || to >= from
  }),
})
export type BriefInput = InferType<typeof briefShape>
