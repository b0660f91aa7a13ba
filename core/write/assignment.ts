import { en } from 'chrono-node'
import type { Kind } from '../appraise/kinds'
import { longDay } from '../bib/dates'
import { STYLES } from '../cite/styles'
import { LANGUAGE_CODES, sayLanguage } from '../query/languages'
import { ANNOTATION_PARTS, type AnnotationPart } from './annotation-parts'
import type { Stretch } from '../bib/sentences'
import type { BriefRules } from './rules'

/** What the text of an assignment says of a brief: a proposal, with the words that it was read from. */
export interface ReadRule {
  sets: BriefRules & { style?: string; due?: string }
  /** What it asks, in words. */
  said: string
  from: string
}
export interface ReadAssignment {
  rules: ReadRule[]
  /** Sentences that ask for something by a number, or say that it must be, of which nothing was read. */
  unread: string[]
}

/** Letters of a text that are read: an assignment is a page or two. */
const MOST = 30_000
const ONES =
  'zero one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen seventeen eighteen nineteen'.split(
    ' ',
  )
const TENS = 'twenty thirty forty fifty sixty seventy eighty ninety'.split(' ')
const WORDS = new Map<string, number>([
  ...ONES.map((w, i) => [w, i] as const),
  ...TENS.map((w, i) => [w, (i + 2) * 10] as const),
  ...TENS.flatMap((t, i) => ONES.slice(1, 10).map((o, j) => [`${t}-${o}`, (i + 2) * 10 + j + 1] as const)),
  ...[['a dozen', 12] as const, ['dozen', 12] as const, ['hundred', 100] as const, ['a hundred', 100] as const],
])
const SPELLED = [...WORDS.keys()].sort((a, b) => b.length - a.length).join('|')
const N = `(?:\\d{1,3}(?:,\\d{3})+|\\d{1,5}|(?:${SPELLED}))`
const RANGE = `\\b(${N})(?: ?(?:-|–|—|to|or) ?(${N}))?(?: ?\\(\\d{1,4}\\))?`
const valueOf = (word: string): number => WORDS.get(word) ?? Number(word.replaceAll(',', ''))

const NOUN =
  /\b(?:sources?|entries|entry|references|works|items|citations|articles|publications|texts|studies|papers|readings|resources|materials)\b/
const REFEREED = /\b(?:peer[- ]?review(?:ed)?|refereed)\b/
const BOOKS = /\b(?:books?|monographs?|book chapters?|chapters?)\b/
const ONE_JOURNAL =
  /\b(?:from|in|of) (?:the same|any (?:one|single|given)|one|a single) (?:journal|periodical|magazine|publication)\b/
/** Parts of a bibliography, which are its strands here. */
const EACH_PART =
  /\b(?:per|(?:for|on|in|under|to) (?:each|every)(?: of (?:your|the))?) (?:theme|topic|sub-?topic|strand|section|category|heading|sub-?question|argument)s?\b/
const AT_MOST =
  /\b(?:no more than|not more than|at most|at the most|a maximum of|maximum|max\.?|up to|not exceed(?:ing)?|no longer than|fewer than|under)\b/
const AT_LEAST =
  /\b(?:at least|a minimum of|minimum|min\.?|no fewer than|not fewer than|no less than|or more|more than|over)\b/
const ALL = /\b(?:all|every|each|only|exclusively)\b/
const NOT =
  /\b(?:no|not(?! (?:only|just|limited)\b)|nothing|none|never|avoid|exclude|excluding|without|cannot|do not|don't|may not|must not|except)\b/
/** A number that counts pages, marks, weeks and the like counts no works. */
const OTHER_UNIT =
  /^[-\s]*(?:%|percent|per cent|points?|marks?|pages?|hours?|hrs?|minutes?|weeks?|days?|months?|years?|credits?|am\b|pm\b|p\.m\.|a\.m\.|st\b|nd\b|rd\b|th\b|pt\b|sentences?|paragraphs?|lines?|letters?|characters?|groups?|members?|students?|strands?|themes?|cm|inch)/
const MONTHS = '(?:jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec)[a-z]*'
const NAME_BEFORE = new RegExp(
  `\\b(?:week|assignment|section|unit|module|question|part|chapter|page|table|figure|edition|version|room|task|step|no\\.|number|#|${MONTHS}|(?:mon|tues|wednes|thurs|fri|satur|sun)day)\\s*$`,
)
const A_DAY = new RegExp(`^(?:st|nd|rd|th)?(?: of)? ${MONTHS}\\b`)
/** Shares of the whole. */
const SHARES: [RegExp, (m: RegExpExecArray) => number][] = [
  [/\btwo[- ]thirds\b/, () => 2 / 3],
  [/\b(?:a|one)[- ]third\b/, () => 1 / 3],
  [/\bthree[- ]quarters\b/, () => 3 / 4],
  [/\b(?:a|one)[- ]quarter\b/, () => 1 / 4],
  [/\bhalf\b/, () => 1 / 2],
  [
    /\b(\d{1,3}) ?(?:%|per ?cent)(?! of (?:the |your )?(?:final |total |course |overall )?(?:grade|mark|module|course|assessment))/,
    m => Number(m[1]) / 100,
  ],
]
/** The share that a clause speaks of, with the clause without it. */
function shareIn(text: string): { share: number; rest: string } | undefined {
  for (const [pattern, of] of SHARES) {
    const m = pattern.exec(text)
    if (m && of(m) <= 1) return { share: of(m), rest: `${text.slice(0, m.index)} ${text.slice(m.index + m[0].length)}` }
  }
  return undefined
}
/** Kinds that a text may shut out, by what they are called there. */
const SHUT_OUT: [RegExp, Kind[]][] = [
  [/\bnewspapers?\b|\bnews (?:articles?|items?|sites?|stories)\b|\bpress\b/, ['news']],
  [/\bmagazines?\b|\bpopular (?:press|sources?)\b/, ['magazine']],
  [/\bbook reviews?\b|\breviews of books\b/, ['review of a book']],
  [/\btheses\b|\bthesis\b|\bdissertations?\b/, ['thesis']],
  [/\bpreprints?\b/, ['preprint']],
  [/\beditorials?\b|\bletters to the editor\b/, ['editorial or letter']],
  [/\b(?:conference )?abstracts\b/, ['conference abstract']],
  [/\breports\b|\bgr[ae]y literature\b/, ['report']],
  [/\b(?:literature|review) (?:reviews|articles)\b/, ['literature review']],
]
const PRIMARY = /\b(?:primary|original|first-?hand) (?:\w+ )?(?:sources?|documents?|materials?|texts?|accounts?)\b/
const SHOUTS =
  /\b(?:must|should|need(?:s|ed)? to|require[ds]?|have to|has to|may not|cannot|at least|at most|minimum|maximum)\b/

/** A text in sentences, and these in clauses; a list's items are sentences. */
function clausesOf(text: string): { sentence: string; clauses: string[] }[] {
  const sentences = text
    // "max. 150" and the like end nothing
    .split(/\n+|(?<=[a-z\d)”"’][.!?;])(?<!\b(?:max|min|approx|ca|no|eds?|vol|pp?|incl|resp|e\.g|i\.e)\.)\s+|[;•·▪●]/i)
    .map(s => s.replace(/\s+/g, ' ').trim())
    .filter(Boolean)
  return sentences.map(sentence => ({
    sentence,
    clauses: whole(
      sentence
        .toLowerCase()
        .replaceAll('’', "'")
        .replace(new RegExp(`\\bbetween (${N}) and (${N})\\b`, 'g'), '$1–$2')
        // a comma within a number parts nothing, and "and" parts what has a number of its own
        .split(
          new RegExp(
            `,(?!\\d{3}\\b)\\s*|:\\s+|\\((?!\\d{1,4}\\))|\\s(?:and|with|but|including|of which|of these|of them|of those|whereof)\\s(?=(?:at least |at most |no more than |a minimum of |a maximum of |up to )?(?:${N}|all|half|none)\\b)`,
            'g',
          ),
        )
        .map(c => c.trim())
        .filter(Boolean),
    ),
  }))
}
/** Clauses with what asks for nothing of its own put to the one before it. */
function whole(clauses: readonly string[]): string[] {
  const out: string[] = []
  for (const c of clauses) {
    if (out.length && !ASKS.test(c)) out[out.length - 1] += ` ${c}`
    else out.push(c)
  }
  return out
}
const ASKS = new RegExp(`\\b(?:${N}|half|all|each|every|only|none|nothing|last|past)\\b`)

/** Years back, or the year, from which something counts as recent; with the clause without these words. */
function timeIn(text: string, thisYear: number): { years: number; since: number; rest: string } | undefined {
  const found = (m: RegExpExecArray, years: number) => ({
    ...{ years, since: thisYear - years },
    rest: `${text.slice(0, m.index)} ${text.slice(m.index + m[0].length)}`,
  })
  const last = new RegExp(
    `\\b(?:(?:in|within|from|over|during|of) )?(?:the )?(?:last|past|previous) (?:(${N}) )?(years?|decades?)\\b`,
  ).exec(text)
  if (last) return found(last, (last[1] ? valueOf(last[1]) : 1) * (last[2]!.startsWith('decade') ? 10 : 1))
  const before = /\b(?:no|not|nothing|none|never|avoid|exclude)\b[a-z' ]{0,40}\bbefore ((?:19|20)\d\d)\b/.exec(text)
  if (before) return found(before, thisYear - Number(before[1]))
  const old = new RegExp(
    `\\b(?:no|not|nothing|never|none)[a-z ]{0,24}(?:older|more) than (${N}) years?(?: old| ago)?\\b`,
  ).exec(text)
  if (old) return found(old, valueOf(old[1]!))
  const after = /\b(?:after|later than|newer than|post-?|following) ?((?:19|20)\d\d)\b/.exec(text)
  if (after) return found(after, thisYear - Number(after[1]) - 1)
  const since =
    /\b(?:since|from|no (?:earlier|older) than|not (?:earlier|older) than|not before|nothing before|(?:published |printed |written )?(?:in|from)) ((?:19|20)\d\d)(?: (?:or|and) (?:later|newer|after)| onwards?| on| to (?:now|the present|date)|-present|–present)?\b/.exec(
      text,
    ) ?? /\b((?:19|20)\d\d) (?:or|and) (?:later|newer|after|onwards?)\b/.exec(text)
  return since ? found(since, thisYear - Number(since[1])) : undefined
}

/** Words of an annotation that are asked for. */
function lengthIn(text: string): { from: number | null; to: number | null; about?: number; rest: string } | undefined {
  const m = new RegExp(`${RANGE}[- ]words?\\b`).exec(text)
  if (
    !m ||
    /\b(?:in total|altogether|overall|in all|total|essay|introduction|conclusion|reflection|summary of)\b/.test(text)
  )
    return undefined
  const [a, b] = [valueOf(m[1]!), m[2] ? valueOf(m[2]) : undefined]
  const rest = `${text.slice(0, m.index)} ${text.slice(m.index + m[0].length)}`
  if (a > 1000) return undefined
  if (b) return { from: a, to: b, rest }
  const before = text.slice(Math.max(0, m.index - 40), m.index)
  if (AT_MOST.test(before)) return { from: null, to: a, rest }
  if (AT_LEAST.test(before) || AT_LEAST.test(text.slice(m.index, m.index + m[0].length + 9)))
    return { from: a, to: null, rest }
  // "150 words" and "about 150 words" leave some room: a tenth either way
  return { from: Math.round(a * 0.9), to: Math.round(a * 1.1), about: a, rest }
}

/** The number of works that a clause asks for. */
function countIn(text: string): { least: number; at: Stretch } | undefined {
  for (const m of text.matchAll(new RegExp(RANGE, 'g'))) {
    const end = m.index + m[0].length
    const year = /^(?:19|20)\d\d$/.test(m[1]!)
    if (
      year ||
      OTHER_UNIT.test(text.slice(end)) ||
      A_DAY.test(text.slice(end).trimStart()) ||
      NAME_BEFORE.test(text.slice(0, m.index))
    )
      continue
    const least = valueOf(m[1]!)
    if (least > 0 && least <= 500) return { least, at: { from: m.index, to: end } }
  }
  return undefined
}

/**
 * Reads from the text of an assignment, in English, what it asks of a bibliography, as proposals to be confirmed: each has
 * the words that it stands on. What asks for something and could not be read is named.
 * @param today ISO date, from which "recent" and a due date without a year are counted
 */
export function readAssignment(whole: string, today: string): ReadAssignment {
  const text = whole.slice(0, MOST)
  const thisYear = Number(today.slice(0, 4))
  const rules: ReadRule[] = []
  const unread: string[] = []
  const has = (key: keyof ReadRule['sets']) => rules.some(r => key in r.sets)
  const add = (sets: ReadRule['sets'], said: string, from: string) => {
    // what is said first stands; a rule is not read twice
    if (Object.keys(sets).some(k => has(k as keyof ReadRule['sets']))) return
    rules.push({ sets, said, from })
  }
  /** A number of entries that is only read where none is said plainly. */
  const perhaps: (() => void)[] = []
  /** Parts of an annotation, each with the sentence that asks for it first; they may be asked for in a list. */
  const parts = new Map<AnnotationPart, string>()
  let isOfAnnotations = false
  let opensList: string | undefined
  /** Kept for the end, when the number of entries is known. */
  const later: ((entries: number) => void)[] = []
  for (const { sentence, clauses } of clausesOf(text)) {
    const before = rules.length + later.length + perhaps.length
    for (const clause of clauses) readClause(clause, sentence)
    const low = sentence.toLowerCase()
    readStyle(low, sentence)
    readDue(sentence)
    readLanguages(low, sentence)
    readKinds(low, sentence)
    const isOfParts = readParts(low, sentence)
    const asks = SHOUTS.test(low) || (new RegExp(RANGE).test(low) && NOUN.test(low))
    if (rules.length + later.length + perhaps.length === before && asks && !isOfParts) unread.push(sentence)
  }
  if (parts.size) {
    const asked = ANNOTATION_PARTS.filter(p => parts.has(p))
    add({ parts: asked }, `Annotations with ${asked.join(', ')}`, [...new Set(parts.values())].join(' … '))
  }
  for (const act of perhaps) act()
  const entries = rules.find(r => r.sets.entriesWanted)?.sets.entriesWanted ?? 0
  for (const act of later) act(entries)
  return {
    rules: rules.sort((a, b) => ORDER.indexOf(firstOf(a)) - ORDER.indexOf(firstOf(b))),
    unread: [...new Set(unread)],
  }

  function readClause(clause: string, sentence: string): void {
    // what was understood is taken out, so that no number counts twice
    let rest = clause
    const length = lengthIn(rest)
    if (length) {
      rest = length.rest
      const { from, to, about } = length
      const said = from && to ? `${from} to ${to}` : from ? `${from} or more` : `up to ${to}`
      add(
        { wordsFrom: from, wordsTo: to },
        `Annotations of ${said} words${about ? ` (${about}, a tenth either way)` : ''}`,
        sentence,
      )
    }
    const time = timeIn(rest, thisYear)
    if (time) rest = time.rest
    const isRefereed = REFEREED.test(rest)
    const part = shareIn(rest)
    if (part) rest = part.rest
    const count = countIn(rest)
    const n = count?.least
    if (n !== undefined && AT_MOST.test(rest.replace(/\b(?:no|not) (?:fewer|less) than\b/g, ''))) {
      if (ONE_JOURNAL.test(rest)) add({ journalAtMost: n }, `At most ${n} from one journal`, sentence)
      else if (BOOKS.test(rest)) add({ booksAtMost: n }, `At most ${n} books or chapters`, sentence)
      return
    }
    const recent = (least: number) => {
      if (time)
        add(
          { recentAtLeast: least, recentYears: time.years },
          `At least ${least} from the last ${time.years} years`,
          sentence,
        )
    }
    const refereed = (least: number) =>
      add({ refereedAtLeast: least }, `At least ${least} refereed research articles`, sentence)
    if (n !== undefined && PRIMARY.test(rest)) {
      add({ primaryAtLeast: n }, `At least ${n} primary sources`, sentence)
      return
    }
    if (n !== undefined && EACH_PART.test(rest) && (NOUN.test(rest) || AT_LEAST.test(rest))) {
      add({ perStrand: n }, `At least ${n} on each strand`, sentence)
      return
    }
    if (n !== undefined) {
      if (isRefereed) refereed(n)
      if (time) recent(n)
      // books and the like are a part of the whole, and a share is said of others
      if (
        !NOUN.test(rest) ||
        BOOKS.test(rest) ||
        /\bsecondary\b/.test(rest) ||
        /^ ?of (?!\d)/.test(rest.slice(count!.at.to))
      )
        return
      const wanted = () => add({ entriesWanted: n }, `${n} entries in all`, sentence)
      if (isRefereed || time) perhaps.push(wanted)
      else wanted()
      return
    }
    const of = (entries: number) => Math.ceil(entries * (part?.share ?? 1) - 1e-9)
    if (isRefereed && (part || ALL.test(rest) || SHOUTS.test(clause)))
      later.push(entries => entries && refereed(of(entries)))
    else if (time && part) later.push(entries => entries && recent(of(entries)))
    else if (
      time &&
      (NOUN.test(rest) || /\bpublished|appeared|printed\b/.test(rest) || SHOUTS.test(rest) || NOT.test(clause))
    )
      add({ notBefore: time.since }, `Nothing that appeared before ${time.since}`, sentence)
  }

  function readStyle(low: string, sentence: string): void {
    const isCited =
      /\b(?:style|format(?:ted)?|cit(?:e|es|ed|ation|ations|ing)|referenc(?:e|es|ing)|bibliograph|edition|ed\.)/.test(
        low,
      )
    for (const { id, name } of STYLES) {
      const short = name.replace(/,.*/, '')
      if (!new RegExp(`\\b${short}\\b`, short === short.toUpperCase() ? '' : 'i').test(sentence)) continue
      // a name in capitals is no other thing's; others are towns as well
      if (!isCited && short !== short.toUpperCase()) continue
      if (short === 'Chicago' && /\b(?:notes?|footnotes?)\b/.test(low)) continue
      return add({ style: id }, `Cited in ${name}`, sentence)
    }
  }

  function readDue(sentence: string): void {
    if (!/\b(?:due|submit(?:ted)?|hand(?:ed)? in|deadline|turn(?:ed)? in|submission|by)\b/i.test(sentence)) return
    // a date in figures alone may be meant in two ways
    const day = en
      .parse(sentence, new Date(`${today}T12:00:00Z`), { forwardDate: true })
      .find(d => d.start.isCertain('day') && d.start.isCertain('month') && /[a-z]/i.test(d.text))
    if (!day) return
    const [y, m, d] = (['year', 'month', 'day'] as const).map(p => day.start.get(p)!)
    const due = `${y}-${String(m).padStart(2, '0')}-${String(d).padStart(2, '0')}`
    if (due >= today) add({ due }, `Due on ${longDay(due)}`, sentence)
  }

  function readLanguages(low: string, sentence: string): void {
    const named = LANGUAGE_CODES.filter(c => new RegExp(`\\b${sayLanguage(c).toLowerCase()}\\b`).test(low))
    const list = named.map(c => sayLanguage(c).toLowerCase()).join('|')
    if (
      !named.length ||
      !new RegExp(
        `\\b(?:in (?:either )?(?:${list})|(?:${list})[- ]language|(?:${list}) only|only (?:${list}))\\b`,
      ).test(low)
    )
      return
    if (/\bwrite|written by you|your (?:annotations?|text)\b/.test(low) && !NOUN.test(low)) return
    add({ languages: named }, `Only in ${named.map(sayLanguage).join(' or ')}`, sentence)
  }

  /** @returns whether it asks for some, known before or not */
  function readParts(low: string, sentence: string): boolean {
    // the number of an item is no sentence
    if (!/[a-z]{3}/.test(low)) return false
    const isItem = IN_A_LIST.test(low)
    // an item of a list begins with what is to be done, behind a sentence that spoke of annotations
    isOfAnnotations = ANNOTATION.test(low) || (isOfAnnotations && isItem)
    if (!isOfAnnotations || !(isItem || SHOUTS.test(low) || ASKED.test(low))) return false
    const found = ANNOTATION_PARTS.filter(p => PART_WORDS[p].test(low))
    for (const p of found) if (!parts.has(p)) parts.set(p, sentence)
    if (/:\W*$/.test(low) && !found.length) opensList = sentence
    // what only begins a list was read with its items
    else if (isItem && found.length && unread.at(-1) === opensList) unread.pop()
    return found.length > 0
  }

  function readKinds(low: string, sentence: string): void {
    const no = NOT.exec(low)
    if (!no) return
    const isRefused =
      /\b(?:not (?:be )?(?:acceptable|accepted|allowed|permitted|used|included|count)|cannot be used)\b/.test(low)
    const after = isRefused ? low : low.slice(no.index)
    if (/\bno (?:more|fewer|less|older|later) than\b|\bnot (?:more|before|older)\b/.test(after)) return
    const kinds = SHUT_OUT.flatMap(([words, kinds]) => (words.test(after) ? kinds : []))
    if (kinds.length) add({ kindsOut: kinds }, `Never a ${kinds.join(', ')}`, sentence)
  }
}

/** What an annotation is to do, in the words of assignments. */
const PART_WORDS: Record<AnnotationPart, RegExp> = {
  summary:
    /\b(?:summar(?:y|ies|i[sz]es?|i[sz]ing)|main (?:arguments?|points?|ideas?|findings?)|describe (?:the|its|what)|overview|abstract of)\b/,
  method:
    /(?<!\b(?:strengths|weaknesses|limitations|quality|validity) of (?:the|its|their|any) )\b(?:methods?|methodology|methodological|research design|how the (?:study|research) was)\b/,
  judgement:
    /\b(?:evaluat(?:e|es|ing|ion|ive)|assess(?:es|ing|ment)?|critiqu(?:e|es|ing)|critical(?:ly)?|reliab(?:le|ility)|credib(?:le|ility)|strengths|weaknesses|limitations|quality of|authority|bias)\b/,
  use: /\b(?:relevan(?:t|ce)|useful(?:ness)?|how (?:it|this|you|the (?:source|work|article))(?: \w+)? (?:will|would|can|could|might|fits?|helps?|contributes?|relates? to your|supports?)|your (?:own )?(?:research|topic|question|project|paper|argument|thesis))\b/,
  relation:
    /\b(?:compar(?:e|es|ing|ison)|relat(?:e|es|ion|ionship) (?:it |them |this )?(?:to|with|between) (?:the |your |an)?other|(?:other|each other|one another)(?: (?:sources|entries|works|items))? in your|to (?:the |your )?other (?:sources|entries|works)|in conversation with)\b/,
}
const ANNOTATION =
  /\b(?:annotat(?:ion|ions|e|ed)|(?:each|every) (?:entry|source|item|reference|work|paragraph)|for each)\b/
const IN_A_LIST =
  /^\W*(?:\(?[a-e0-9][.)] *)?(?:summari[sz]e|describe|evaluate|assess|critique|explain|reflect|compare|state|discuss|identify|relate|comment|say)\b/
const ASKED =
  /\b(?:includes?|contains?|summari[sz]es?|evaluates?|describes?|explains?|assess(?:es)?|consists? of|covers?|in which you)\b/

/** In the order in which a brief has them. */
const ORDER = [
  ...([
    'due',
    'style',
    'entriesWanted',
    'refereedAtLeast',
    'recentAtLeast',
    'booksAtMost',
    'journalAtMost',
    'perStrand',
    'primaryAtLeast',
  ] as const),
  ...(['notBefore', 'languages', 'kindsOut', 'wordsFrom', 'parts'] as const),
] as string[]
const firstOf = (r: ReadRule): string => Object.keys(r.sets)[0]!
