import { fold } from '../bib/fold'
import { beginsAsCaption } from './captions'
import type { Body } from './notes'
import type { Placed } from './placed'

export interface Heading {
  text: string
  /** 1 for the sections of the text, 2 for what is in them, and so on. */
  level: number
  page: number
  /** Place on its page, in points from the top. */
  y: number
  /** Its first line among all lines of the text. */
  at: number
  /** How many lines it has. */
  lines: number
}

const NUMBERED = /^(?:(\d{1,2}(?:\.\d{1,2}){0,4})\.?|([IVX]{1,5})\.|([A-Z])\.|§ ?\d+)\s+(?=\p{Lu}|\p{Lo}|\d)/u
/** Headings that are so called in any text, whatever they look like. */
const KNOWN = new Set(
  `abstract summary introduction background methods method results findings discussion conclusion conclusions references
  bibliography literature acknowledgements acknowledgments appendix zusammenfassung einleitung methoden ergebnisse diskussion
  literatur literaturverzeichnis resume introduction conclusion bibliographie resumen introduccion metodos resultados
  discusion referencias bibliografia riassunto introduzione metodi risultati discussione riferimenti referenser litteratur
  sammanfattning inledning`.split(/\s+/),
)
const LONGEST = 140

/** The headings of a text: lines that stand by themselves in letters of another size or font, or are called as headings are. */
export function headingsOf(lines: readonly Placed[], body: Body): Heading[] {
  const found: { at: number; lines: Placed[] }[] = []
  lines.forEach((l, i) => {
    const last = found.at(-1)
    const goesOn =
      last &&
      last.at + last.lines.length === i &&
      l.font === last.lines[0]!.font &&
      Math.abs(l.size - last.lines[0]!.size) < 0.5 &&
      l.gap < 1.7 &&
      last.lines.length < 3 &&
      isSetApart(l, body) &&
      !NUMBERED.test(l.text)
    if (goesOn) last.lines.push(l)
    else if (isHeading(l, lines[i - 1], lines[i + 1], body)) found.push({ at: i, lines: [l] })
  })
  const begin = firstSection(found.map(f => f.lines[0]!))
  const kept = found.filter((f, k) => k >= begin && textOf(f.lines).length <= LONGEST)
  const styles = [...new Set(kept.filter(f => !NUMBERED.test(textOf(f.lines))).map(f => styleOf(f.lines[0]!)))].sort(
    (a, b) => parseFloat(b) - parseFloat(a),
  )
  return kept.map(f => {
    const text = textOf(f.lines)
    const number = NUMBERED.exec(text)
    const level =
      isKnown(text) && !number?.[1]?.includes('.')
        ? 1
        : number
          ? number[3]
            ? 2
            : (number[1] ?? '1').split('.').length
          : Math.min(4, 1 + styles.indexOf(styleOf(f.lines[0]!)))
    return { text, level, page: f.lines[0]!.page, y: f.lines[0]!.y, at: f.at, lines: f.lines.length }
  })
}

const styleOf = (l: Placed): string => `${(Math.round(l.size * 2) / 2).toFixed(1)}${l.font ?? ''}`
const textOf = (lines: readonly Placed[]): string =>
  lines
    .map(l => l.text.replaceAll('\t', ' '))
    .join(' ')
    .replace(/(\p{L})[-‐] (?=\p{Ll})/gu, '$1')

/** A title and its authors are no headings: the first one that is called as headings are begins the sections. */
function firstSection(lines: readonly Placed[]): number {
  const signs = new Set(lines.map(l => NUMBERED.exec(l.text)?.slice(2).find(Boolean)))
  // names begin with a letter and a full stop too
  const isFirst = (l: Placed) => {
    const [, figures, roman, letter] = NUMBERED.exec(l.text) ?? []
    return figures ?? ((roman === 'I' && signs.has('II')) || (letter === 'A' && signs.has('B')))
  }
  const at = lines.findIndex(l => isKnown(l.text) || isFirst(l))
  return at >= 0 && lines[at]!.page <= 2 ? at : lines.findIndex(l => l.page > 1 || l.y > 250)
}

export const isKnown = (text: string): boolean =>
  KNOWN.has(
    fold(text)
      .replace(/^[\divx.\s§]+(?=\p{L})/u, '')
      .replace(/[^\p{L}]/gu, ''),
  )

const bare = (text: string): string =>
  fold(text)
    .replace(/[^\p{L} ]/gu, '')
    .trim()
export const headsAbstract = (text: string): boolean =>
  /^(?:abstract|summary|zusammenfassung|resume|resumen|riassunto|resumo|sammanfattning)$/u.test(
    bare(text).replace(/^a b s t r a c t$/u, 'abstract'),
  )
export const headsKeywords = (text: string): boolean =>
  /^(?:key ?words|index terms|schlagworter|motscles|mots cles|palabras clave|parole chiave|nyckelord)$/u.test(
    bare(text),
  )

/** Stretches of lines in larger letters or another font than the text, each as one text. */
export function setApart(lines: readonly Placed[], body: Body): string[] {
  const out: Placed[][] = []
  for (const l of lines) {
    if (!isSetApart(l, body)) continue
    const last = out.at(-1)?.at(-1)
    const goesOn =
      last && lines[lines.indexOf(last) + 1] === l && last.font === l.font && Math.abs(last.size - l.size) < 0.6
    if (goesOn) out.at(-1)!.push(l)
    else out.push([l])
  }
  // a hyphen at the end of a line may be the word's own
  return out.map(stretch => stretch.map(l => l.text.replaceAll('\t', ' ')).join(' '))
}

const isSetApart = (l: Placed, body: Body): boolean =>
  l.size > body.size * 1.07 || (l.font !== body.font && l.size > body.size * 0.88)

function isHeading(l: Placed, before: Placed | undefined, after: Placed | undefined, body: Body): boolean {
  const text = l.text.replaceAll('\t', ' ')
  if (text.length > LONGEST || text.length < 2 || beginsAsCaption(text)) return false
  if ((text.match(/\p{L}/gu)?.length ?? 0) < (/\p{Lo}/u.test(text) ? 2 : 3)) return false
  // a formula or a line of a program is no heading
  if (/[=<>{}\\|]|\p{Sm}/u.test(text) || /^[•·–-]\s/u.test(text)) return false
  const standsOff = l.isFirst || l.gap > 1.15 || !before
  if (isKnown(text)) return standsOff && (isSetApart(l, body) || l.gap > 1.3 || l.isFirst)
  if (!standsOff || !isSetApart(l, body)) return false
  if (/[,;]$/.test(text) || (/[.:]$/.test(text) && !NUMBERED.test(text))) return false
  if (!/^(?:\p{Lu}|\p{Lo}|\d|[“"‘«„¿¡(])/u.test(text)) return false
  const isLarge = l.size > body.size * 1.07
  // in the size of the text only what is short and stands above text in another font
  return isLarge || (l.short > l.size * 2 && after !== undefined && after.font !== l.font)
}
