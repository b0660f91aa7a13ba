/** A DOI in its normal form (lower case, no resolver, no trailing punctuation), or undefined where there is none. */
export function normaliseDoi(text: string | undefined | null): string | undefined {
  if (!text) return undefined
  const s = text.trim()
  const plain = /%2f/i.test(s) ? decoded(s) : s
  // old ones have signs in them that end one in running text: they count where a field is nothing but the DOI
  const old = OLD.exec(plain)?.[1]
  const found =
    old ?? (WEB.test(s) && isAddress(s) ? partsOf(s) : [plain]).flatMap(part => IN_TEXT.exec(part)?.[0] ?? [])[0]
  if (!found) return undefined
  const doi = withoutTail(found)
  return doi.endsWith('/') ? undefined : doi.toLowerCase()
}

const IN_TEXT = /10\.\d{4,9}(?:\.\d+)*\/[^\s"<>]+/

const WEB = /^https?:/i

/** Without its escapes; a stray percent sign is no escape. */
function decoded(text: string): string {
  try {
    return decodeURIComponent(text)
  } catch {
    return text
  }
}

/** Where a DOI may stand in an address: in its path, or in one of its values, since the next is no part of it. */
function partsOf(address: string): string[] {
  const { pathname, searchParams } = new URL(address)
  return [decoded(pathname), ...searchParams.values()]
}

const OLD =
  /^(?:doi:\s{0,3}|https?:\/\/(?:[a-z]+\.)?doi\.[a-z]+\/)?(10\.\d{4,9}(?:\.\d+)*\/[^\s<>]*<\d[^\s<>]*>[^\s<>]*)$/i

/** The address of a DOI at a resolver: signs that mean something in addresses are written by their numbers. */
export const doiAddress = (resolver: string, doi: string): string =>
  resolver + encodeURIComponent(doi).replace(/%(2F|3A|3B|28|29|2C)/g, sign => decodeURIComponent(sign))

const PAIRS = ['()', '[]', '{}']

/** Without the punctuation behind it; a closing bracket belongs to the DOI only where the DOI opened it. */
function withoutTail(doi: string): string {
  const open = PAIRS.map(([o, c]) => count(doi, o!) - count(doi, c!))
  let end = doi.length
  for (; end > 0; end--) {
    const last = doi[end - 1]!
    const closes = PAIRS.findIndex(p => p[1] === last)
    if (closes >= 0 && open.some(n => n !== 0)) open[closes]!++
    else if (!'.,;:\'"'.includes(last)) break
  }
  return doi.slice(0, end)
}

function count(text: string, letter: string): number {
  let n = 0
  for (const c of text) if (c === letter) n++
  return n
}

/** An ISSN as NNNN-NNNX, or undefined where the check digit is wrong (ISO 3297). */
export function normaliseIssn(text: string | undefined | null): string | undefined {
  // what is said beside it stays beside it: "ISSN 1234-5679 (online)"
  const s = (/(?<![\dX-])\d{4}[-–— ]?\d{3}[\dX](?![\dX-])/i.exec(text ?? '')?.[0] ?? '')
    .toUpperCase()
    .replace(/[^0-9X]/g, '')
  if (!s) return undefined
  return issnCheckDigit(s.slice(0, 7)) === s[7] ? `${s.slice(0, 4)}-${s.slice(4)}` : undefined
}

/** The check digit of the seven digits of an ISSN: weights 8 to 2, modulo 11 (ISO 3297). */
export function issnCheckDigit(seven: string): string {
  const sum = [...seven].reduce((t, d, i) => t + Number(d) * (8 - i), 0)
  const check = (11 - (sum % 11)) % 11
  return check === 10 ? 'X' : String(check)
}

/** An ISBN as 13 bare digits, from either length, or undefined where the check digit is wrong (ISO 2108). */
export function normaliseIsbn(text: string | undefined | null): string | undefined {
  for (const [found] of (text ?? '').matchAll(ISBNS)) {
    const isbn = isbnOf(found.toUpperCase().replace(/[^0-9X]/g, ''))
    if (isbn) return isbn
  }
  return undefined
}
/** Thirteen or ten digits with their hyphens; what is said beside them ("pbk.", a volume, a price) is none of it. */
const ISBNS = /(?<![\dX])(?:97[89][-–— ]?)?(?:\d[-–— ]?){9}[\dX](?!\d)/gi

function isbnOf(s: string): string | undefined {
  if (/^\d{13}$/.test(s)) return isbn13CheckDigit(s.slice(0, 12)) === s[12] ? s : undefined
  if (!/^\d{9}[\dX]$/.test(s)) return undefined
  const sum = [...s].reduce((t, d, i) => t + (d === 'X' ? 10 : Number(d)) * (10 - i), 0)
  if (sum % 11 !== 0) return undefined
  const twelve = `978${s.slice(0, 9)}`
  return twelve + isbn13CheckDigit(twelve)
}

export function isbn13CheckDigit(twelve: string): string {
  const sum = [...twelve].reduce((t, d, i) => t + Number(d) * (i % 2 ? 3 : 1), 0)
  return String((10 - (sum % 10)) % 10)
}

/**
 * An identifier of a person as four groups of four (as ISNI and what is made of it write it), or undefined where the check
 * digit is wrong. Its address is as good, and what is said beside it.
 */
export function normaliseAuthorId(text: string | undefined | null): string | undefined {
  for (const [found] of (text ?? '').matchAll(AUTHOR_IDS)) {
    const s = found.toUpperCase().replace(/[^0-9X]/g, '')
    if (authorIdCheckDigit(s.slice(0, 15)) === s[15] && !/^0{15}/.test(s)) return s.replace(/.{4}(?!$)/g, '$&-')
  }
  return undefined
}
const AUTHOR_IDS = /(?<![\dX])(?:\d{4}[-–— ]?){3}\d{3}[\dX](?![\dX])/gi

/** The check digit of fifteen digits: ISO 7064, MOD 11-2. */
export function authorIdCheckDigit(fifteen: string): string {
  const sum = [...fifteen].reduce((t, d) => ((t + Number(d)) * 2) % 11, 0)
  const check = (12 - sum) % 11
  return check === 10 ? 'X' : String(check)
}

/** Whether something is the address of a page, as a browser takes it. */
export const isAddress = (text: string): boolean => URL.canParse(text) && /^https?:$/.test(new URL(text).protocol)
