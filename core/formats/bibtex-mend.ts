import { plugins } from '@citation-js/core'
import '@citation-js/plugin-bibtex'
import { readDate } from '../bib/dates'
import type { Item } from '../bib/item'

/** Where each field of an entry stands, and how it is called. */
export interface FieldAt {
  name: string
  from: number
  to: number
}

const ACCENTS: Record<string, string> = {
  '`': '\u0300', "'": '\u0301', '^': '\u0302', '~': '\u0303', '"': '\u0308', '=': '\u0304', '.': '\u0307',
  u: '\u0306', v: '\u030c', H: '\u030b', c: '\u0327', k: '\u0328', r: '\u030a', d: '\u0323', b: '\u0331',
} // prettier-ignore
const LETTERS: Record<string, string> = {
  O: 'Ø', o: 'ø', AA: 'Å', aa: 'å', AE: 'Æ', ae: 'æ', OE: 'Œ', oe: 'œ', L: 'Ł', l: 'ł', ss: 'ß', i: 'i', j: 'j', DH: 'Ð', dh: 'ð', TH: 'Þ', th: 'þ', DJ: 'Đ', dj: 'đ', NG: 'Ŋ', ng: 'ŋ',
} // prettier-ignore

/** Commands for letters as the letters, so that a name that begins with one begins with a capital. */
export function lettersOf(text: string): string {
  return text
    .replace(/\\([`'^~"=.]|[uvHckrdb](?![A-Za-z]))\s{0,2}\{\\?([A-Za-z])\}/g, (_, a: string, l: string) =>
      (l + ACCENTS[a]!).normalize('NFC'),
    ) // prettier-ignore
    .replace(
      /\\([`'^~"=.])\s{0,2}(?:\\([ij])(?![A-Za-z])|([A-Za-z]))/g,
      (_, a: string, i: string | undefined, l: string | undefined) => ((i ?? l)! + ACCENTS[a]!).normalize('NFC'),
    ) // prettier-ignore
    .replace(/\\([uvHckrdb])\s{1,2}([A-Za-z])/g, (_, a: string, l: string) => (l + ACCENTS[a]!).normalize('NFC'))
    .replace(
      /\\(AA|aa|AE|ae|OE|oe|ss|DH|dh|TH|th|DJ|dj|NG|ng|[OolLij])(?![A-Za-z])(?:\{\}|\s(?=\p{Ll}))?/gu,
      (_, l: string) => LETTERS[l]!,
    ) // prettier-ignore
    .replace(/\{(\p{L})\}/gu, '$1')
}

let known: Set<string> | undefined
/** Commands that the parser reads. */
function commands(): Set<string> {
  if (known) return known
  const { constants } = plugins.config.get('@bibtex') as { constants: Record<string, Record<string, unknown>> }
  known = new Set(
    ['argumentCommands', 'commands', 'diacritics', 'formattingCommands', 'mathCommands', 'formatting'].flatMap(k =>
      Object.keys(constants[k] ?? {}).map(c => c.replace(/^\\/, '')),
    ),
  )
  for (const c of Object.keys(LETTERS)) known.add(c)
  return known
}

/** Switches of type and space, which say nothing. */
const SILENT = new Set(
  'rm it bf em sc sl tt sf rmfamily sffamily ttfamily bfseries mdseries itshape slshape scshape upshape normalfont tiny scriptsize footnotesize small normalsize large Large LARGE huge Huge protect relax noindent par hfil hfill break newline linebreak nobreak allowbreak null strut ignorespaces unskip leavevmode'.split(
    ' ',
  ),
)

/** Standard commands for signs that the parser does not know, and the names of programs that are words. */
const SIGNS: Record<string, string> = {
  slash: '/', ldots: '…', dots: '…', S: '§', P: '¶', dag: '†', ddag: '‡', pounds: '£', euro: '€', times: '×', pm: '±', deg: '°', leq: '≤', geq: '≥', infty: '∞', rightarrow: '→', to: '→', LaTeXe: 'LaTeX2e',
} // prettier-ignore

/**
 * What stands in a value with what the parser stumbles over mended: marks for hyphenation and spacing, accents over
 * nothing or over several letters, the file's own commands, and commands that nobody knows: such a one with a value of
 * its own gives way to the value, one alone is read as the word that it is ("\\TeX").
 * @param strange takes the names of those that nobody knows
 */
export function mendText(text: string, macros: ReadonlyMap<string, string>, strange: Set<string>): string {
  let out = text
    .replace(/\\([,;:>!/-]|@)/g, (_, s: string) => (',;:>'.includes(s) ? ' ' : ''))
    .replace(/\\ /g, ' ')
    // an accent stands over the first letter alone; over nothing it is nothing
    .replace(/\\([`'^~"=.])\{([A-Za-z])([A-Za-z]{1,40})\}/g, '\\$1{$2}$3')
    .replace(/\\[`'^~"=.]\{\}/g, '')
  let room = MOST_MEANT
  // a command may stand for text with commands in it
  for (let depth = 0; depth < 3; depth++)
    out = out.replace(
      /\\([A-Za-z]+)(\*?)(\s*)(\{\}|\{)?/g,
      (all, name: string, _star, space: string, brace: string | undefined, at: number, whole: string) => {
        const sign = SIGNS[name]
        if (sign !== undefined) return `${sign}${brace === '{' ? '{' : ''}`
        if (SILENT.has(name) && !macros.has(name)) return brace === '{' ? '{' : ''
        const meant = brace === '{' ? undefined : macros.get(name)
        if (meant !== undefined && (room -= meant.length) > 0) return brace ? meant : `${meant}${space}`
        if (commands().has(name) || name.length < 2) return all
        strange.add(name)
        if (brace === '{') return `${space}{`
        // right behind a letter a name in small letters is a sign of some kind: a dash, a dot
        const word = /^\p{Ll}/u.test(name) && /[\p{L}\p{N}]/u.test(whole[at - 1] ?? '') ? ' ' : name
        return brace ? word : `${word}${space}`
      },
    )
  return out
}

/** What a file's preambles define commands without arguments to be: `\\def\\name{…}`, `\\newcommand{\\name}{…}`. */
export function macrosOf(preambles: readonly string[]): Map<string, string> {
  const macros = new Map<string, string>()
  for (const text of preambles) {
    const heads = text.matchAll(/\\(?:[gx]?def|(?:re|provide)?(?:new)?command\*?)\s*\{?\s*\\([A-Za-z]+)\s*\}?\s*\{/g)
    for (const m of heads) {
      const from = m.index + m[0].length
      let depth = 1
      let to = from
      while (to < text.length && depth > 0 && to - from < LONGEST_MACRO) {
        if (text[to] === '{') depth++
        if (text[to] === '}') depth--
        to++
      }
      const strange = new Set<string>()
      const meant = mendText(text.slice(from, to - 1).trim(), macros, strange)
      // what builds its signs by other commands cannot be read as text
      if (depth === 0 && !strange.size && meant.length <= LONGEST_MACRO) macros.set(m[1]!, meant)
    }
  }
  return macros
}
/** Letters that a command stands for at most, and that all of a value's do. */
const LONGEST_MACRO = 400
const MOST_MEANT = 50_000

const PEOPLE = /^(author|editor|translator|bookauthor)$/

/**
 * An entry with what its parser stumbles over mended: names that begin with a command, "and others", commands that nobody
 * knows, spaces by command, a journal and a book at once.
 * @param fieldsOf tells where the fields of an entry stand
 * @param macros what the file's own commands stand for, by name
 */
export function mendEntry(
  raw: string,
  type: string,
  fieldsOf: (raw: string) => FieldAt[],
  macros: ReadonlyMap<string, string>,
  mended: string[],
): string {
  const fields = fieldsOf(raw)
  const names = new Set(fields.map(f => f.name))
  let out = raw
  // from the last to the first, so that places stay where they are
  for (const { name, from, to } of fields.toReversed()) {
    let text = out.slice(from, to)
    if (type === 'article' && name === 'booktitle' && (names.has('journal') || names.has('journaltitle'))) {
      mended.push('It has a journal and a book: the journal counts, the book is kept in the source only.')
      text = ''
    }
    if (PEOPLE.test(name)) {
      text = lettersOf(text)
      const all = text.replace(/\s+and\s+others(?=\s*[}",])/i, '')
      if (all !== text) mended.push(`More people than are named belong to the field "${name}" (“and others”).`)
      text = all
    }
    // the parser would encode the strokes with the address
    if (/^(url|doi|file|eprint)$/.test(name)) text = text.replace(/\\([_%&#$~])(?:\{\})?/g, '$1')
    else {
      const strange = new Set<string>()
      text = mendText(text, macros, strange)
      for (const c of strange)
        mended.push(`The command “\\${c}” in the field "${name}" is not known and was read as text.`)
    }
    out = out.slice(0, from) + text + out.slice(to)
  }
  return out
}

/** What a style can print for types that BibLaTeX has keys for. */
const GENRES: Record<string, string> = {
  phdthesis: 'PhD thesis', mathesis: 'Master’s thesis', bathesis: 'Bachelor’s thesis', candthesis: 'Candidate thesis', techreport: 'Technical report', resreport: 'Research report', software: 'Computer software', datacd: 'Data CD', audiocd: 'Audio CD',
} // prettier-ignore

/** An item as the parser gives it, with its texts as they must have been meant. */
export function mendParsed(item: Item): Item {
  // a publisher's "and" is part of its name, and a list of places is printed as one
  for (const [field, between] of [
    ['publisher', ' and '],
    ['publisher-place', ', '],
  ] as const)
    if (Array.isArray(item[field])) item[field] = (item[field] as unknown[]).join(between)
  if (item.genre && GENRES[item.genre]) item.genre = GENRES[item.genre]!
  for (const field of ['title', 'container-title', 'publisher', 'collection-title'])
    if (typeof item[field] === 'string') item[field] = item[field].replace(/[ \u00a0]{2,}/g, ' ').trim()
  const whole = /^(?:[ivxlc]+\s*\+\s*)?(\d{1,5})\s*(?:pp?\.?|pages)?$/i.exec(String(item.page ?? ''))
  if (whole && /^(book|thesis|report)$/.test(item.type)) {
    item['number-of-pages'] = String(item.page)
    delete item.page
  }
  const said = item.issued?.literal ?? item.issued?.raw
  if (said && !item.issued?.['date-parts']) {
    const read = readDate(said.replace(/(?<=\d{4})[a-z]$/, ''))
    if (read?.['date-parts']) item.issued = read
  }
  for (const list of [item.author, item.editor])
    list?.forEach(n => {
      if (n.family === 'others' && !n.given) list.splice(list.indexOf(n), 1)
    })
  return item
}
