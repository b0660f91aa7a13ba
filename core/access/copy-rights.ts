import { sayIso } from './coverage'

export const RIGHT_KINDS = ['open', 'licence', 'loan', 'own', 'passed on'] as const
export type RightKind = (typeof RIGHT_KINDS)[number]

/** By whose right a copy is here, and for whom. A copy may be here by several. */
export interface CopyRight {
  kind: RightKind
  /** Whose right it is, by the id of their account; null where it is everybody's. */
  holder: number | null
  /** Who gives it: where an open copy lies and under what, a library, a name of a file, who passed it on. */
  from: string
  /** ISO date of the last day on which it opens; null where it has no end. */
  until: string | null
  /** The terms on which a library lent it, as they were when it came. */
  terms?: string | null
  /** Who passed it on, by the id of their account, where that is known. */
  by?: number | null
}

/** Why a copy may be passed on to the other members, as whoever brought it says. */
export const PASSED_ON = ['it is openly licensed', 'it is my own work', 'its owner allows it'] as const
export type PassedOn = (typeof PASSED_ON)[number]

/** What can be done with a copy by whoever asks, and why. */
export interface Opening {
  /** Whether it may be opened and read. */
  opens: boolean
  /** Whether every member may, and it may go to others. */
  shared: boolean
  /** One sentence that says by whose right. */
  said: string
  /** The terms on which it was lent to whoever asks; null where there are none. */
  terms: string | null
  /** Whether whoever asks may pass it on to the others; whether they did. */
  mayPassOn: boolean
  passedOn: boolean
}

interface Asker {
  user: number
  /** ISO date of today. */
  day: string
  /** What a member is called; undefined for who is none any more. */
  nameOf: (user: number) => string | undefined
}

const lasts = (r: CopyRight, day: string): boolean => r.until === null || r.until >= day

/** Whether a copy opens for a member. */
export const opensFor = (rights: readonly CopyRight[], user: number, day: string): boolean =>
  rights.some(r => (r.holder === null || r.holder === user) && lasts(r, day))

/** Whether a copy is everybody's to read and to be passed on. */
export const isShared = (rights: readonly CopyRight[]): boolean => rights.some(r => r.holder === null)

const ends = (r: CopyRight): string => (r.until ? `, until ${sayIso(r.until)}` : '')
const MINE: Record<Exclude<RightKind, 'open' | 'passed on'>, (r: CopyRight) => string> = {
  licence: r => `By the licence of ${r.from}, for you alone${ends(r)}.`,
  loan: r => `A scan from ${r.from}, for you alone${ends(r)}.`,
  own: () => 'Your own file, for you alone.',
}
const THEIRS: Record<Exclude<RightKind, 'open' | 'passed on'>, (r: CopyRight, name: string) => string> = {
  licence: (r, name) =>
    `${name} has it by the licence of ${r.from}, for themselves alone. Fetch it by your own access.`,
  loan: (r, name) => `${name} asked ${r.from} for it, for themselves alone. Ask for it yourself.`,
  own: (_, name) => `${name} brought it, and has not passed it on. Fetch it by your own access.`,
}

/** What can be done with a copy by a member: by what is everybody's first, then by their own right. */
export function openingOf(rights: readonly CopyRight[], { user, day, nameOf }: Asker): Opening {
  const shared = rights.find(r => r.holder === null)
  const mine = rights.filter(r => r.holder === user)
  const valid = mine.find(r => lasts(r, day))
  // what another passed on is not taken from all by who has it too
  const passedOn = shared?.kind === 'passed on' && (shared.by ?? user) === user
  const told = {
    opens: Boolean(shared ?? valid),
    shared: shared !== undefined,
    // what a library lent is not the student's to pass on
    mayPassOn: mine.some(r => r.kind !== 'loan') && (!shared || passedOn),
    passedOn,
    terms: mine.find(r => r.terms)?.terms ?? null,
  }
  const say = (said: string): Opening => ({ ...told, said })
  if (shared) return say(shared.kind === 'open' ? `Open to everybody: ${shared.from}.` : `Passed on: ${shared.from}.`)
  if (valid) return say(MINE[valid.kind as keyof typeof MINE](valid))
  const over = mine[0]
  if (over)
    return say(
      `${over.kind === 'loan' ? 'Its loan' : 'Its licence'} from ${over.from} ended on ${sayIso(over.until!)}: it opens no more. What you noted stays. Ask for it again, or drop it.`,
    )
  for (const r of rights) {
    const name = nameOf(r.holder!)
    if (name) return say(THEIRS[r.kind as keyof typeof THEIRS](r, name))
  }
  return say('Who had the right to it is no member any more. Fetch it by your own access.')
}

const CC =
  /creative\s?commons\.org\s?\/\s?(?:licen[cs]es\s?\/\s?(by(?:-n[cd]|-sa){0,2})\s?\/\s?(\d\.\d)|(publicdomain\s?\/\s?zero))/gi
const NAMED =
  /Creative Commons[\s:,]{1,3}(?:CC[\s-])?(?:\(?CC\)? )?(Attribution(?:[\s-]{1,3}(?:Non[\s-]?Commercial|No[\s-]?Deriv(?:ative)?s?|Share[\s-]?Alike)){0,2}|Zero|BY(?:-NC|-ND|-SA){0,2})\b(?:[\s(,-]{0,4}(?:CC BY[A-Z-]{0,6}\)?)?[\s,]{0,2}(\d\.\d))?/gi
/** What is licensed is another's picture, and not the text. */
const OF_A_PART =
  /\b(?:fig(?:ure|\.)?s?|photo(?:graph)?s?|images?|pictures?|maps?|tables?|illustrations?|logos?|icons?|cover|data ?sets?|software|Abb(?:ildung|\.)|Fotos?|Bild(?:er)?|imagen|imágenes|figura|foto(?:graf[ií]a)?s?)\b/i
/** A sentence that says under what its own text is: a text about licences names them too. */
const OF_THE_TEXT = new RegExp(
  [
    '^\\s*(?:©|\\(c\\)|copyright\\b|licen[cs]e\\b|lizenz\\b|open[\\s-]access\\b|(?:licen[cs]ed|published|distributed|(?:made )?available|released) under\\b)',
    '\\bth(?:is|e) (?:open[\\s-]access )?(?:article|work|paper|chapter|book|publication|text|document|report|thesis|contribution)\\s(?:is|was|has been|may be)\\b.{0,140}\\bunder\\b',
    '\\ban open[\\s-]access (?:article|chapter|book|paper)\\b.{0,100}\\bunder\\b',
    '\\bcopy of (?:this|the) licen[cs]e\\b',
    '\\bdies(?:er|es|e) (?:artikel|beitrag|aufsatz|werk|buch|text)\\b.{0,140}\\b(?:unter|gemäß)\\b',
    '\\bcet(?:te)? (?:article|ouvrage|texte|œuvre)\\b.{0,140}\\b(?:sous|selon)\\b',
    '\\best[ea] (?:artículo|obra|artigo|texto)\\b.{0,140}\\b(?:bajo|sob)\\b',
  ].join('|'),
  'is',
)
/** Where a sentence before it ends. */
const SENTENCE_END = /[.!?]["”)]?\s+(?=[\p{Lu}©(])/gu

const SHORT: readonly (readonly [RegExp, string])[] = [
  [/non[\s-]?commercial/i, 'NC'],
  [/no[\s-]?deriv/i, 'ND'],
  [/share[\s-]?alike/i, 'SA'],
]
const shortOf = (named: string): string => {
  if (/^zero/i.test(named)) return 'CC0'
  const parts = /^by/i.test(named)
    ? named.toUpperCase().split('-').slice(1)
    : SHORT.flatMap(([is, short]) => (is.test(named) ? [short] : []))
  return ['CC BY', ...parts].join('-')
}

const nameIn = (how: RegExp, m: RegExpMatchArray): string =>
  how === CC ? (m[3] ? 'CC0' : `CC ${m[1]!.toUpperCase()} ${m[2]!}`) : [shortOf(m[1]!), m[2]].filter(Boolean).join(' ')

/** An open licence by its short name, from its address or its words: "CC BY 4.0"; undefined of any other. */
export function licenceName(said: string): string | undefined {
  for (const how of [CC, NAMED]) for (const m of said.matchAll(how)) return nameIn(how, m)
  return undefined
}

/** Letters before the name of a licence that say what it is of. */
const BEFORE = 220

/**
 * The open licence that a text says it is under, by its first two pages and its last: "CC BY 4.0". What is said of a
 * picture in it tells nothing of the text, and where it is not said what is licensed, none is taken as given.
 * @param pages the words of the pages
 */
export function licenceSaid(pages: readonly string[]): string | undefined {
  const looked = [...new Set([0, 1, pages.length - 1])].flatMap(i => pages[i] ?? [])
  for (const page of looked)
    for (const how of [CC, NAMED])
      for (const m of page.matchAll(how)) {
        const before = page.slice(Math.max(0, m.index - BEFORE), m.index)
        const end = [...before.matchAll(SENTENCE_END)].at(-1)
        const said = end ? before.slice(end.index + end[0].length) : before
        if (OF_A_PART.test(said) || !OF_THE_TEXT.test(said)) continue
        return nameIn(how, m)
      }
  return undefined
}
