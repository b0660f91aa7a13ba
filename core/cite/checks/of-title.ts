import { plainTitle } from '../../bib/clean'
import { foldTitle } from '../../bib/fold'
import type { Manner } from '../manner'
import { listed, type Checked, type Findings } from './finding'
import { capitalAfterColon, isInCapitals, isShouting, sentenceCase, WordUse } from './title-case'

/** A title: what clings to it from a catalogue, its words against the copy and the records, its capitals by the style. */
export function checkTitle(of: Checked, manner: Manner, findings: Findings): void {
  const title = plainTitle(of.item.title, '').replace(/\s+/g, ' ').trim()
  if (!title) {
    const other = of.records.find(r => r.item.title)
    findings.add('missing', {
      field: 'title',
      what: 'It has no title',
      why: other ? `${other.source} has one.` : 'No record has one.',
      mend: other ? { value: { record: other.id }, called: 'Put it in' } : null,
    })
    return
  }
  const bare = withoutRemains(title)
  if (bare !== title)
    findings.add('remains', {
      field: 'title',
      what: 'The title has remains of a catalogue',
      why: 'What stands behind it there is no part of it.',
      ours: title,
      theirs: bare,
      mend: { value: { text: bare }, called: 'Leave it out' },
    })
  if (!of.chosen.includes('title')) againstCopy(of, bare, findings)
  capitals(of, bare, manner, findings)
}

/** A full stop, the names behind a slash, the sort of thing in brackets: as catalogue cards have them. */
function withoutRemains(title: string): string {
  return title
    .replace(/\s+\/\s+(?=\p{Lu}[\p{L}. -]{2,}|by |ed\. |edited ).*$/u, '')
    .replace(
      /\s*\[(?:electronic resource|microform|text|computer file|internet resource|online|article|book review)\]/giu,
      '',
    )
    .replace(/(?<=\p{Ll}{2}|\))\s*[.;:/]+$/u, '')
    .trim()
}

const wordsOf = (title: string): string[] => foldTitle(title).split(' ')

/** Words that differ from those of another title of nearly the same words; undefined where it is another title. */
export function wordsApart(ours: string, theirs: string): { ours: string; theirs: string }[] | undefined {
  const [a, b] = [wordsOf(ours), wordsOf(theirs)]
  if (a.length !== b.length || a.length < 3) return undefined
  const apart = a.flatMap((w, i) => (w === b[i] ? [] : [{ ours: w, theirs: b[i]! }]))
  return apart.length && apart.length <= Math.max(1, Math.floor(a.length / 5)) ? apart : undefined
}

function againstCopy(of: Checked, title: string, findings: Findings): void {
  const { copy, records } = of
  const printed = copy && !copy.isScan ? copy.front.title?.replace(/\s+/g, ' ').trim() : undefined
  if (printed && foldTitle(printed) !== foldTitle(title)) {
    const seen = { copy: copy!.id, page: 1 }
    const apart = wordsApart(title, printed)
    if (apart) {
      const now = respelled(title, printed)
      findings.add('title by the copy', {
        field: 'title',
        what:
          apart.length === 1
            ? 'A word of the title is another one in the copy'
            : 'Words of the title are others in the copy',
        why: 'Its first page has it so.',
        ours: apart.map(x => x.ours).join(' … '),
        theirs: apart.map(x => x.theirs).join(' … '),
        mend: now ? { value: { text: now }, called: 'As in the copy' } : null,
        seen,
      })
      return
    }
    const rest = goesOn(title, printed)
    if (rest)
      findings.add('subtitle', {
        field: 'title',
        what: 'The title goes on in the copy',
        why: 'Its first page has a subtitle.',
        theirs: rest,
        mend: { value: { text: `${title}: ${rest}` }, called: 'Put it in' },
        seen,
      })
    return
  }
  if (printed) return
  const others = records.filter(r => r.item.title && wordsApart(title, plainTitle(r.item.title)))
  const same = records.filter(r => foldTitle(r.item.title ?? '') === foldTitle(title))
  const alike = others.filter(r => foldTitle(r.item.title!) === foldTitle(others[0]!.item.title!))
  if (alike.length < 1 || alike.length < same.length) return
  const apart = wordsApart(title, plainTitle(alike[0]!.item.title))!
  findings.add('title by records', {
    field: 'title',
    what: 'A word of the title is another one elsewhere',
    why: `${listed(alike.map(r => r.source))} ${alike.length === 1 ? 'has' : 'have'} it so.`,
    ours: apart.map(x => x.ours).join(' … '),
    theirs: apart.map(x => x.theirs).join(' … '),
    mend: { value: { record: alike[0]!.id }, called: 'As it is there' },
  })
}

/** A title with the words of another in the places of those that differ; undefined where these are all capitals. */
function respelled(title: string, printed: string): string | undefined {
  const split = (t: string) => [...t.matchAll(/[\p{L}\p{N}\p{M}’']+/gu)]
  const [ours, theirs] = [split(title), split(printed)]
  if (ours.length !== theirs.length || isShouting(printed)) return undefined
  let out = ''
  let at = 0
  ours.forEach((m, i) => {
    const other = theirs[i]![0]
    const isSame = foldTitle(m[0]) === foldTitle(other) || m[0].toLowerCase() === other.toLowerCase()
    const put = isSame ? m[0] : /^\p{Ll}/u.test(m[0]) ? other.toLowerCase() : other
    out += title.slice(at, m.index) + put
    at = m.index + m[0].length
  })
  return out + title.slice(at)
}

/** What a title has behind a colon or a full stop that ours has not. */
function goesOn(title: string, printed: string): string | undefined {
  if (title.includes(': ') || isShouting(printed)) return undefined
  const m = /^(.+?)\s*[:.?!—–]\s+(.{8,})$/u.exec(printed)
  return m && foldTitle(m[1]!) === foldTitle(title) ? m[2]! : undefined
}

/** Whether the capitals of a title can only be judged by words of its own text. */
export const needsWords = (title: string | undefined, manner: Manner): boolean => {
  const t = plainTitle(title, '')
  return isShouting(t) || (!manner.capitals && isInCapitals(t))
}

function capitals(of: Checked, title: string, manner: Manner, findings: Findings): void {
  if (needsWords(title, manner)) {
    // titles of books keep what capitals they have in most styles
    if (!isShouting(title) && of.item.type === 'book' && !of.words) return
    const isSmall = (t: string) => foldTitle(t) === foldTitle(title) && !isShouting(t) && !isInCapitals(t)
    const record = of.records.find(r => isSmall(plainTitle(r.item.title, '')))
    const now = record ? undefined : sentenceCase(title, new WordUse(of.words))
    const why = `${manner.name} ${manner.capitals ? 'sets capitals itself' : 'prints a title as it is given, in small letters'}.`
    if (record)
      findings.add('capitals', {
        field: 'title',
        what: isShouting(title) ? 'The title is written in capitals' : 'Each word of the title has a capital',
        why: `${why} ${record.source} has it so.`,
        ours: title,
        theirs: plainTitle(record.item.title),
        mend: { value: { record: record.id }, called: 'In small letters' },
      })
    else if (now)
      findings.add('capitals', {
        field: 'title',
        what: isShouting(title) ? 'The title is written in capitals' : 'Each word of the title has a capital',
        why: `${why} Its own text writes ${quoted(now.small)} small${now.kept.length ? ` and ${quoted(now.kept)} with a capital` : ''}.`,
        ours: title,
        theirs: now.title,
        mend: { value: { text: now.title }, called: 'In small letters' },
      })
    return
  }
  const colon = manner.afterColon ? capitalAfterColon(title) : undefined
  if (colon)
    findings.add('capital after the colon', {
      field: 'title',
      what: 'Capital after the colon',
      why: `${manner.name} asks for one: “${colon.word}” begins the subtitle.`,
      ours: title,
      theirs: colon.title,
      mend: { value: { text: colon.title }, called: 'Mend it' },
    })
}
const quoted = (words: readonly string[]): string =>
  [...new Set(words)]
    .slice(0, 3)
    .map(w => `“${w}”`)
    .join(', ')
