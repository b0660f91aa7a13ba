import { mayRead } from '../core/world/licence'
import type { Form, Venue, WorldWork } from '../core/world/types'
import { lexicons, old } from './lexicons'
import { SUBJECTS } from './subjects'

/** The day on which the demo begins; the world goes on for some months after it. */
const FIRST_DAY = '2026-10-05'

/** What is true of a work, whatever catalogues say. For tests and benchmarks only. */
export interface Label {
  id: string
  kind: Form
  /** Whether a careful reader could tell the kind from a full description. */
  decidable: boolean
  /** Whether the item itself was refereed, not its venue alone. */
  refereed: boolean
  subject: string
  /** Whether it answers the demo's question. */
  relevant: boolean
  /** Its theme within the subject, and whether works of that theme build on it, whatever its fame. */
  theme: string
  landmark: boolean
  /** Works of another record that it belongs with. */
  linked: { as: 'reviews' | 'corrects' | 'retracts' | 'grew from' | 'part of' | 'translates'; id: string }[]
  /** Lawful ways that really lead to its text on the demo's first day. */
  routes: { gate: boolean; open: boolean; print: boolean }
}

/** What is true of a work, by how it was made; other works are named by their ids. */
export function labelOf(
  w: WorldWork,
  made: {
    subject: number
    theme: string
    landmark: boolean
    venue: Venue | undefined
    target: string | undefined
    origin: string | undefined
    translated: string | undefined
  },
): Label {
  const { subject, theme, landmark, venue: v, target, origin, translated } = made
  const { form } = w
  const linked: Label['linked'] = []
  if (target !== undefined)
    linked.push({
      as:
        form === 'review of a book'
          ? 'reviews'
          : form === 'correction'
            ? w.item.title!.startsWith('Retraction')
              ? 'retracts'
              : 'corrects'
            : 'part of',
      id: target,
    })
  if (origin !== undefined) linked.push({ as: 'grew from', id: origin })
  if (translated !== undefined) linked.push({ as: 'translates', id: translated })
  const inTown =
    lexicons[0]!.places.some(list => list.includes(w.text.story.place)) || old.places.includes(w.text.story.place)
  return {
    id: w.id,
    kind: form,
    decidable: decidable(w),
    refereed: Boolean(v?.refereed) && ['research article', 'literature review', 'conference paper'].includes(form),
    subject: SUBJECTS[subject]!.name,
    theme,
    landmark,
    relevant:
      subject === 0 &&
      inTown &&
      ['research article', 'literature review', 'conference paper', 'chapter', 'thesis', 'report', 'book'].includes(
        form,
      ),
    linked,
    routes: {
      gate: Boolean(v) && w.host !== undefined && mayRead(v!, w.date, FIRST_DAY),
      open:
        (v?.openFrom !== undefined && w.year >= v.openFrom) ||
        w.deposits.some(d => !d.dead && d.from <= FIRST_DAY && (d.embargoUntil ?? '') <= FIRST_DAY),
      print: Boolean(w.shelf) || (v?.print !== undefined && w.year >= v.print.from && w.year <= (v.print.to ?? 9999)),
    },
  }
}

/** A careful reader tells most kinds by their marks; a bare short piece in a journal could be several things. */
function decidable(w: WorldWork): boolean {
  const title = w.item.title ?? ''
  switch (w.form) {
    case 'research article':
    case 'literature review':
      return Boolean(w.item.abstract) || w.pages > 6
    case 'review of a book':
      return /^(Review of|Book review)|, by /.test(title)
    case 'editorial or letter':
      return /Editorial|In this issue|reply|comment|From the editors|Response|call for|A word/.test(title)
    case 'conference paper':
      return Boolean(w.item.abstract)
    default:
      return true
  }
}
