import { addDays } from '../bib/dates'
import { sayIso } from './coverage'
import { inOrder, type Route } from './routes'

/** Letters to the author of a text. */
export interface AskedAuthor {
  /** ISO dates on which the student wrote, the first first. */
  wrote: readonly string[]
  /** They said that they cannot send it. */
  declined: boolean
}

export const AUTHOR_STANDS = ['waiting', 'write again', 'no answer', 'declined'] as const
export type AuthorStand = (typeof AUTHOR_STANDS)[number]

/** Days after which a letter is followed by another, and letters at most. */
export const PATIENCE = 7
export const MOST_LETTERS = 2

/**
 * How it stands with the author.
 * @param today ISO date of the desk
 * @returns and until which ISO date an answer is waited for
 */
export function standOfAuthor({ wrote, declined }: AskedAuthor, today: string): { is: AuthorStand; until: string } {
  const until = addDays(wrote.at(-1)!, PATIENCE)
  if (declined) return { is: 'declined', until }
  if (today < until) return { is: 'waiting', until }
  return { is: wrote.length < MOST_LETTERS ? 'write again' : 'no answer', until }
}

/** Ways with that by the author as it stands: one who said no, or nothing to two letters, is no way any more. */
export function withAuthor(routes: readonly Route[], asked: AskedAuthor | undefined, today: string): Route[] {
  if (!asked) return [...routes]
  const { is } = standOfAuthor(asked, today)
  const days = asked.wrote.map(sayIso).join(' and on ')
  const shut = is === 'declined' || is === 'no answer'
  const evidence = {
    waiting: `You wrote on ${days}.`,
    'write again': `You wrote on ${days}; a week went by without an answer.`,
    'no answer': `You wrote on ${days}, and nothing came.`,
    declined: `You wrote on ${days}; they cannot send it.`,
  }[is]
  return inOrder(
    routes.map(r =>
      r.way === 'author'
        ? { ...r, evidence, ...(shut ? { likely: 0, asks: 'another way' } : { asks: 'patience' }) }
        : r,
    ),
  )
}
