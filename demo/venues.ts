import { issnCheckDigit } from '../core/bib/identifiers'
import type { Random } from '../core/world/random'
import type { Licence, Venue } from '../core/world/types'
import { SUBJECTS } from './subjects'

export const TOWNS =
  'Halverane Ostmere Dunmorrow Vellacombe Estermark Brackenholt Moorgrave Aldervane Korrin Lindmere Sarnhold Marlund Thornavon Eskerby Wexmoor'.split(
    ' ',
  )
export const HOSTS = ['tessary.example', 'moorgrave.example', 'quillon.example', 'lanternhill.example'] as const
export const BRANCHES = ['Main Library', 'Science Library', 'Harbour Annex', 'Health Campus']

const houses = (
  'Tessary Journals; Moorgrave Press; Quillon Imprints; Lanternhill Books; Civic Leaf; Ostmere Scholarly; Dunmorrow House; Halverane University Press; ' +
  'Vellacombe & Rune; Estermark Sheets; Brackenholt Academic; Aldervane Publishers; Korrin Print; Lindmere Editions; Sarnhold Society; Marlund Letters; ' +
  'Thornavon Press; Eskerby & Daughters; Wexmoor Imprints; Greyfinch Academic; Slowwater Press; Tallow Street Books; Harbour Light Journals; ' +
  'Seven Elms Press; Copper Birch Scholarly; Three Weirs Imprints; Grey Fell Books; Amber Door Press; Pale Moth Editions; Garden Wall Books; ' +
  'Night Ferry Press; Old Mint Journals; Salt Quay Publishers; Windmill Field Press; Far Acre Papers; Chalk Pit Academic; Reedwater Press; ' +
  'Lantern Stair Imprints; Orchard Row Books; Stone Jetty Press'
).split('; ')
export const IMPRINTS = houses
/** The larger houses sell packages of their own, the small ones share one. */
export const packageOf = (imprint: string): string =>
  houses.indexOf(imprint) < 30 ? `${imprint} Collection` : 'Small Presses Bundle'

const shapes: ((town: string, words: string) => string)[] = [
  (t, w) => `${t} Journal of ${w}`,
  (t, w) => `${w}: ${t} Studies`,
  (t, w) => `Annals of ${w} in ${t}`,
  (t, w) => `${t} Papers in ${w}`,
  (t, w) => `Proceedings of the ${t} Society for ${w}`,
  (t, w) => `${t} Review of ${w}`,
  (t, w) => `Transactions in ${w}, ${t} Series`,
  (t, w) => `${t} Letters on ${w}`,
]

const given: [string, string, number, Venue['kind'], string, Partial<Venue>?][] = [
  ['lnp', 'Landscape and Night Planning', 5, 'journal', 'Tessary Journals', { since: 1998 }],
  ['pub', 'Proceedings in Urban Biology', 0, 'journal', 'Tessary Journals', { since: 1974 }],
  ['enq', 'Entomology in Quarters', 2, 'journal', 'Moorgrave Press', { since: 1889 }],
  ['afb', 'Annals of Flower Biology', 3, 'journal', 'Moorgrave Press', { since: 1962 }],
  ['jdh', 'Journal of Dark Habitats', 0, 'journal', 'Tessary Journals', { since: 2006, openFrom: 2006 }],
  ['cpo', 'Crepuscular Ecology', 1, 'journal', 'Quillon Imprints', { since: 1988 }],
  ['sle', 'Sleep, Shift and Health', 6, 'journal', 'Quillon Imprints', { since: 1983 }],
  ['lpl', 'Letters on Planning', 5, 'journal', 'Lanternhill Books', { since: 1969 }],
  ['gal', 'Gardens and Allotments Research', 4, 'journal', 'Lanternhill Books', { since: 1991 }],
  ['opl', 'Optics of Lamps', 12, 'journal', 'Quillon Imprints', { since: 1977 }],
  ['nwa', 'The Night Warden', 0, 'magazine', 'Civic Leaf', { since: 2001 }],
  ['mut', 'Municipal Talk', 5, 'magazine', 'Civic Leaf', { since: 1995 }],
  ['nlf', 'Dunmorrow Night Forum: Drafts', 0, 'proceedings', 'Dunmorrow House', { since: 2002, refereed: false }],
]

const shortWords: Record<string, string> = {
  journal: 'J.', proceedings: 'Proc.', annals: 'Ann.', transactions: 'Trans.', studies: 'Stud.', papers: 'Pap.', review: 'Rev.', letters: 'Lett.',
  society: 'Soc.', series: 'Ser.', research: 'Res.', biology: 'Biol.', ecology: 'Ecol.', engineering: 'Eng.', entomology: 'Entomol.', lighting: 'Light.',
  planning: 'Plan.', history: 'Hist.', science: 'Sci.', materials: 'Mater.', photometry: 'Photom.', habitats: 'Habit.', municipal: 'Munic.',
  protection: 'Prot.', construction: 'Constr.', occupational: 'Occup.', epidemiology: 'Epidemiol.', exposure: 'Expo.', pollination: 'Pollinat.',
} // prettier-ignore
/** A title shortened in the manner of ISO 4: known words cut, small words left out. */
export const abbreviate = (title: string): string =>
  title
    .split(/[\s:,]+/)
    .filter(w => !/^(of|the|in|and|for|on)$/i.test(w))
    .map(w => shortWords[w.toLowerCase()] ?? w)
    .join(' ')

export function makeVenues(r: Random, size: number): Venue[] {
  const venues: Venue[] = []
  const hostOf = (imprint: string) => HOSTS[Math.max(0, houses.indexOf(imprint)) % HOSTS.length]!
  const issn = (n: number) => {
    const seven = String(9_990_000 + n).padStart(7, '0')
    return `${seven.slice(0, 4)}-${seven.slice(4)}${issnCheckDigit(seven)}`
  }
  const titles = new Set<string>()
  const add = (
    code: string,
    title: string,
    subject: number,
    kind: Venue['kind'],
    imprint: string,
    more: Partial<Venue> = {},
  ) => {
    if (titles.has(title)) return
    titles.add(title)
    const n = venues.length
    const field = SUBJECTS[subject]!.field
    const since = more.since ?? Math.max(1889, Math.round(2008 - 26 * -Math.log(1 - r() * 0.97)))
    // a journal of bats prints no birds
    const near = SUBJECTS[subject]!.narrow
      ? []
      : SUBJECTS.flatMap((s, i) => (i !== subject && s.field === field && !s.narrow ? [i] : []))
    const v: Venue = {
      code,
      title,
      abbreviation: abbreviate(title),
      kind,
      imprint,
      host: hostOf(imprint),
      refereed: kind === 'journal' || (kind === 'proceedings' && r.chance(0.5)),
      field,
      lexicons: [subject, ...r.some(near, kind === 'journal' ? r.int(0, 2) : 3)],
      since,
      issnPrint: issn(n * 3),
      issnOnline: issn(n * 3 + 1),
      issues:
        kind === 'magazine' ? 12 : kind === 'newspaper' ? 52 : kind === 'proceedings' ? 1 : r.pick([2, 4, 4, 6, 12]),
      columns: r.chance(0.6) ? 2 : 1,
      style: r.pick([0, 1, 2] as const),
      articleNumbers: kind === 'journal' && since > 1990 && r.chance(0.25),
      licences: [],
      ...more,
    }
    delete v.print
    if (kind === 'journal' && !more.openFrom && since < 2020 && r.chance(0.14))
      v.openFrom = Math.max(since, r.int(2003, 2022))
    if (kind === 'journal' && since < 1985 && r.chance(0.3) && !more.since) {
      const until = r.int(since + 8, 1998)
      v.former = {
        title: `${r.pick(TOWNS)} Bulletin of ${SUBJECTS[subject]!.venueWords.split('; ')[0]}`,
        until,
        issnPrint: issn(n * 3 + 2),
      }
    }
    if (kind !== 'newspaper' && kind !== 'proceedings' && (since < 2004 ? r.chance(0.5) : r.chance(0.1)))
      v.print = {
        from: since + (r.chance(0.4) ? r.int(1, 12) : 0),
        ...(r.chance(0.6) ? { to: r.int(Math.max(since + 3, 1999), 2016) } : {}),
        call: `${'BCHLNPST'[subject % 8]} ${r.int(10, 89)}.${r.int(1, 9)} ${title.replace(/[^A-Z]/g, '').slice(0, 3)}`,
        branch: r.pick(BRANCHES),
        gaps: r.chance(0.3) ? `lacks v.${r.int(2, 9)} no.${r.int(1, 4)}` : '',
        ...(r.chance(0.15) ? { microfilm: `${since}-${since + r.int(4, 20)}` } : {}),
      }
    if (kind === 'journal') v.licences = licences(r, v)
    venues.push(v)
  }
  for (const [code, title, subject, kind, imprint, more] of given) add(code, title, subject, kind, imprint, more)
  const weights = SUBJECTS.map((s, i) => [i, s.weight] as const)
  const wanted = Math.max(60, Math.min(190, Math.round(size / 126)))
  for (let n = 0; venues.length < wanted; n++) {
    const subject = n < SUBJECTS.length ? n : r.weighted(weights)
    const words = r.pick(SUBJECTS[subject]!.venueWords.split('; '))
    const kind =
      n < SUBJECTS.length
        ? 'journal'
        : r.weighted([
            ['journal', 80],
            ['magazine', 8],
            ['newspaper', 2],
            ['proceedings', 6],
            ['bulletin', 5],
          ] as const)
    const town = r.pick(TOWNS)
    const title =
      kind === 'magazine'
        ? r.pick([
            `${town} Outdoors`,
            `The ${town} Gardener`,
            `${words} Today`,
            `${town} Monthly`,
            `Lamp & Street, ${town}`,
          ])
        : kind === 'newspaper'
          ? r.pick([`${town} Morning Post-Bag`, `The ${town} Ledger-Sheet`])
          : kind === 'proceedings'
            ? `${town} Conference on ${words}`
            : kind === 'bulletin'
              ? `${town} Notes on ${words}`
              : r.pick(shapes)(town, words)
    // every subject has one journal that is older than itself
    add(
      `v${venues.length}`,
      title,
      subject,
      kind,
      r.pick(houses),
      n < SUBJECTS.length ? { since: Math.max(1889, SUBJECTS[subject]!.since - 30) } : {},
    )
  }
  return venues
}

/** What the home library has paid for, as it really is. */
function licences(r: Random, v: Venue): Licence[] {
  const out: Licence[] = []
  if (r.chance(0.62)) {
    const from = Math.max(v.since, r.chance(0.5) ? v.since : r.int(1990, 2008))
    out.push({
      package: packageOf(v.imprint),
      from: `${from}-01-01`,
      ...(r.chance(0.2) ? { to: `${r.int(2012, 2024)}-12-31` } : {}),
    })
  }
  if (r.chance(0.35)) {
    const wall = r.pick(['P1Y', 'P12M', 'P18M', 'P180D', 'P2Y', 'P365D'])
    out.push({
      package: r.pick(['Broadleaf Full Text', 'Broadleaf Full Text Plus', 'Regional Consortium List']),
      from: `${Math.max(v.since, r.int(1985, 2005))}-01-01`,
      wall,
    })
  }
  if (r.chance(0.3) && v.since < 2000)
    out.push({ package: r.pick(['Old Press Vault I', 'Old Press Vault II']), from: `${v.since}-01-01`, wall: 'P4Y' })
  if (r.chance(0.08))
    out.push({ package: 'Trial Titles, Autumn 2026', from: `${Math.max(v.since, 2016)}-01-01`, wall: 'R5Y' })
  return out
}
