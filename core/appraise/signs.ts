/** What the pages of a copy say of their own kind, which no catalogue need know. */
export interface Signs {
  /** The word that stands over the title: "book review", "editorial". */
  label?: string
  /** It was handed in and taken, with a date for each: somebody judged it. */
  refereed?: boolean
  /** It says that it is a draft, or that it must not be cited. */
  draft?: boolean
  /** It says that nobody has refereed it. */
  unrefereed?: boolean
  /** Headings of sections that it has, as one of a few known words. */
  sections?: string[]
}

const LABEL =
  /^(book reviews?|reviews?|review article|editorial|correction|erratum|corrigendum|letters?( to the editors?)?|news|obituary|comment|reply)$/i
const RECEIVED =
  /\b(received|submitted)\b[^.]{0,40}\d{4}[;,. ]{1,3}(?:[^.]{0,60}[;,. ]{1,3})?(accepted|revised|in final form)\b/i
const DRAFT = /\b(draft\b.{0,30}\bnot for (citation|quotation|circulation)|not for citation|do not (cite|quote))\b/i
const UNREFEREED = /\bnot (yet )?(been )?peer.?reviewed\b/i
const SECTION =
  /^(?:\d{1,2}(?:\.\d+)*\.? )?(introduction|methods?|materials and methods|data and methods|results|findings|discussion|conclusions?|search strategy|selection of studies|references|literature cited|bibliography)$/i

/**
 * Reads the signs off the lines of a copy's pages.
 * @param pages the lines of each page, in order, running heads included
 */
export function signsOf(pages: readonly { lines: readonly string[] }[]): Signs {
  const signs: Signs = {}
  const front = (pages[0]?.lines ?? []).map(l => l.trim())
  const label = front.slice(0, 8).find(l => LABEL.test(l))
  if (label) signs.label = label.toLowerCase()
  const first = front.join(' ')
  if (RECEIVED.test(first)) signs.refereed = true
  if (DRAFT.test(first)) signs.draft = true
  if (UNREFEREED.test(first)) signs.unrefereed = true
  const sections = new Set<string>()
  for (const { lines } of pages)
    for (const l of lines) {
      const found = l.length < 40 ? SECTION.exec(l.trim())?.[1] : undefined
      if (found) sections.add(found.toLowerCase())
    }
  if (sections.size) signs.sections = [...sections]
  return signs
}
