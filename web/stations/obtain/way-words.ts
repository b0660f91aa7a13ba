import { format, parseISO } from 'date-fns'
import { OVER } from '../../../core/access/loan'
import type { Obtainable } from '../../../core/schema/api'
import type { Doing } from '../../../core/access/doing'
import type { Route } from '../../../core/access/routes'
import type { Ended } from '../../../core/access/walk'

/** What a way is called. */
export const wayName = (r: Route): string =>
  r.way === 'open'
    ? r.version === 'version of record'
      ? 'Open copy'
      : `Open ${r.version === 'accepted manuscript' ? 'manuscript' : r.version}`
    : {
        gate: r.hand ? 'By hand' : 'Through the gate',
        shelf: r.partner ? 'Go there' : 'On the shelf',
        loan: r.loan?.kind === 'book' ? 'Borrow it' : 'Ask for a scan',
        author: 'Ask the author',
      }[r.way]

/** Whether its text can be asked for from elsewhere, and was not. */
export const mayAsk = ({ routes, loan }: Pick<Obtainable, 'routes' | 'loan'>): boolean =>
  Boolean(routes?.some(r => r.way === 'loan')) && (!loan || OVER.includes(loan.state))

/** The host where a way through a gate begins: ways of one title differ by it. */
export const beginsAt = ({ way, url }: Route): string | undefined =>
  way === 'gate' && url && URL.canParse(url) ? new URL(url).host : undefined

/** From one day to another, shortly. */
export const spanOf = ({ from, to }: { from: string; to: string }): string =>
  `${format(parseISO(from), from.slice(0, 7) === to.slice(0, 7) ? 'd' : 'd MMM')}–${format(parseISO(to), 'd MMM')}`

/** When it comes, shortly. */
export const whenOf = (r: Route, today: string): string =>
  r.loan ? spanOf(r.loan) : r.expected <= today ? 'today' : format(parseISO(r.expected), 'd MMM')

interface Said {
  /** What the group is called, and what is done there. */
  name: string
  does: string
}
export const DOING_WORDS: Record<Doing, Said> = {
  'waits for you': { name: 'Waits for you', does: 'one step that only you can take' },
  'ask for it': { name: 'Ask for it', does: 'a scan or a book, from elsewhere' },
  'fetch now': { name: 'Fetch now', does: 'today' },
  'pick up': { name: 'It is there', does: 'fetch the scan, pick up the book' },
  'at the shelf': { name: 'At the shelf', does: 'go and take it' },
  'comes later': { name: 'Comes later', does: 'nothing but waiting' },
  'on its way': { name: 'On its way', does: 'asked for' },
  'not sure': { name: 'Not sure', does: 'try it' },
  'not looked for': { name: 'Not looked for', does: 'look for ways first' },
  'no way in time': { name: 'No way in time', does: 'write to the author' },
  'with you': { name: 'With you', does: 'borrowed, to be given back' },
  'in hand': { name: 'In hand', does: 'each proved by its own text' },
}

/** Where a walk ended, in few words: of one way, and of a number of texts; and in which voice it is said. */
export const END_WORDS: Record<Ended, { said: string; many: string; voice: 'vine' | 'amber' | 'rust' | 'slate' }> = {
  taken: { said: 'it came', many: 'came', voice: 'vine' },
  terms: { said: 'asks for its terms', many: 'with terms to read', voice: 'amber' },
  'sign in': { said: 'asks to sign in there', many: 'behind another sign-in', voice: 'amber' },
  'session over': { said: 'the session was over', many: 'behind the gate', voice: 'slate' },
  challenge: { said: 'asks for a human', many: 'that ask for a human', voice: 'amber' },
  later: { said: 'out of service', many: 'out of service', voice: 'slate' },
  embargo: { said: 'not open yet', many: 'not open yet', voice: 'slate' },
  'not paid': { said: 'not licensed', many: 'not licensed', voice: 'rust' },
  'by chapter': { said: 'comes by chapter', many: 'by chapter', voice: 'amber' },
  'by hand': { said: 'goes on by hand', many: 'to go on by hand', voice: 'amber' },
  'wrong file': { said: 'gave another file', many: 'with a wrong file', voice: 'rust' },
  gone: { said: 'dead address', many: 'with a dead address', voice: 'rust' },
  lost: { said: 'no link to the text', many: 'without a link to the text', voice: 'rust' },
}
