import { addDays } from '../core/bib/dates'
import type { Random } from '../core/world/random'
import type { Deposit, Description, Venue, WorldWork } from '../core/world/types'

const IN_JOURNALS = new Set([
  'research article',
  'literature review',
  'review of a book',
  'editorial or letter',
  'correction',
])
const LIFE = new Set(['Ecology', 'Entomology'])

/** In which catalogues a work is described, from which day, and how carelessly. */
export function catalogue(r: Random, w: WorldWork, field: string, v: Venue | undefined): Record<string, Description> {
  const out: Record<string, Description> = {}
  const after = (least: number, most: number) => addDays(w.date, r.int(least, most))
  const slip = r.chance(0.03) ? { slip: r.int(3, 24) } : {}
  const inJournal = IN_JOURNALS.has(w.form)
  if (
    (inJournal && r.chance(0.58)) ||
    (w.form === 'magazine' && r.chance(0.9)) ||
    (w.form === 'news' && r.chance(0.8)) ||
    (w.form.startsWith('conference') && r.chance(0.25))
  )
    out.broadleaf = { from: after(2, 20), ...flags(r, { noDoi: 0.08, initials: 0.15, noAbstract: 0.06 }), ...slip }
  if (
    LIFE.has(field) &&
    (inJournal
      ? r.chance(0.82)
      : ['conference paper', 'conference abstract', 'thesis', 'chapter'].includes(w.form) && r.chance(0.6))
  )
    out.lampyr = {
      from: after(24, 75),
      ...flags(r, { noDoi: 0.04, initials: 0.5 }),
      ...(r.chance(0.01) ? { year: w.year + r.pick([-1, 1]) } : {}),
    }
  if (field === 'Health' && inJournal && r.chance(0.88))
    out.vigil = { from: after(3, 30), ...flags(r, { noDoi: 0.06, initials: 0.6 }) }
  const civic =
    ['Planning', 'Optics', 'Humanities'].includes(field) ||
    v?.code === 'lnp' ||
    w.text.lexicon === 0 ||
    w.text.lexicon === 4
  if (
    w.form === 'report'
      ? r.chance(0.8)
      : civic && (['magazine', 'news', 'book'].includes(w.form) || inJournal) && r.chance(0.42)
  )
    out.civic = {
      from: after(5, 60),
      ...flags(r, { noDoi: 0.5, capitals: 0.3, noPages: 0.4, initials: 0.4, noAbstract: 0.3, firstOnly: 0.12 }),
      ...(r.chance(0.03) ? { year: w.year + r.pick([-2, -1, 1]) } : {}),
      ...slip,
    }
  if (v && ['journal', 'bulletin'].includes(v.kind) && v.since < 1995 && v.title.length % 3 !== 0)
    // a wall of four calendar years
    out.vault = { from: `${w.year + 5}-01-01`, noAbstract: true, ...flags(r, { noDoi: 0.3 }) }
  if (w.deposits.length) out.fennmark = { from: w.deposits.map(d => d.from).sort()[0]!, ...flags(r, { noPages: 0.5 }) }
  if (w.shelf) out.shelf = { from: after(20, 90), noAbstract: r.chance(0.7) }
  else if (w.form === 'chapter' && w.about && r.chance(0.2)) out.shelf = { from: after(20, 90), noAbstract: true }
  return out
}

function flags<K extends string>(r: Random, odds: Record<K, number>): Partial<Record<K, true>> {
  const out: Partial<Record<K, true>> = {}
  for (const [k, p] of Object.entries(odds) as [K, number][]) if (r.chance(p)) out[k] = true
  return out
}

/** What the open repository holds of a work: preprints before it, accepted manuscripts after it, theses. */
export function deposits(r: Random, w: WorldWork, v: Venue | undefined): Deposit[] {
  const out: Deposit[] = []
  const dead = () => (r.chance(0.04) ? { dead: true as const } : {})
  if (w.form === 'thesis' && w.year >= 1998 && r.chance(0.7))
    out.push({
      id: `${w.id}-t`,
      version: 'version of record',
      from: addDays(w.date, r.int(10, 200)),
      ...(r.chance(0.2) ? { embargoUntil: `${w.year + r.int(1, 4)}-06-30` } : {}),
      ...dead(),
    })
  if (!['research article', 'literature review', 'conference paper'].includes(w.form) || w.year < 2006) return out
  if (w.year >= 2012 && r.chance(0.16))
    out.push({
      id: `${w.id}-p`,
      version: 'preprint',
      from: addDays(w.date, -r.int(90, 420)),
      doi: `10.5555/fnm.${w.id.slice(1)}`,
      ...dead(),
    })
  if (v?.openFrom !== undefined && w.year >= v.openFrom && r.chance(0.25))
    out.push({ id: `${w.id}-v`, version: 'version of record', from: addDays(w.date, r.int(5, 60)), ...dead() })
  else if (r.chance(w.year >= 2014 ? 0.24 : 0.1))
    out.push({
      id: `${w.id}-a`,
      version: 'accepted manuscript',
      from: addDays(w.date, r.int(5, 120)),
      ...(r.chance(0.55) ? { embargoUntil: addDays(w.date, r.pick([183, 365, 365, 548, 730])) } : {}),
      ...dead(),
    })
  return out
}
