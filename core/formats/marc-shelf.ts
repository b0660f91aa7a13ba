import { daySpan, readDate } from '../bib/dates'
import type { MarcField, MarcRecord } from './marc'
import { withoutUndefined } from './terms'

/** What stands on a shelf in one place under one number, as a catalogue tells it. */
export interface ShelfHolding {
  /** The library, in a catalogue of several. */
  of?: string
  /** Part of the library, by its name or its sign. */
  branch: string
  call: string
  /** Floor, room, collection. */
  room?: string
  copies: number
  /** Copies that can be taken; undefined where that is not said. */
  free?: number
  /** ISO date on which the first copy is due back. */
  back?: string
  /** So many wait for it. */
  waiting?: number
  /** It is read there and not lent. */
  stays?: boolean
  /** What of a journal stands there, in the library's words. */
  run?: string
  note?: string
}

/** One copy, or a heap of which one thing is said. */
export type Copy = Partial<ShelfHolding> & { state?: State }
export type State = 'in' | 'out'

/** What fields 852, 866 and 876–878 of a record say, a bibliographic one or one of holdings. */
export function shelfHoldingsOfMarc({ fields }: Pick<MarcRecord, 'fields'>): ShelfHolding[] {
  const tagged = (...tags: string[]) => fields.filter(f => tags.includes(f.tag))
  const places = tagged('852')
  /** Those that belong to a place: by the number that links them, all where there is but one. */
  const linked = (place: MarcField, tags: string[]) => {
    const own = linkOf(place)
    return tagged(...tags).filter(f => places.length === 1 || (own !== undefined && linkOf(f) === own))
  }
  return together(
    places.flatMap((place): Copy[] => {
      const at: Copy = withoutUndefined({
        of: valueOf(place, 'a'),
        branch: valueOf(place, 'b') ?? valueOf(place, 'c') ?? valueOf(place, 'a') ?? '',
        room: valueOf(place, 'b') ? valueOf(place, 'c') : undefined,
        call: valuesOf(place, 'khijm').join(' '),
        note: valueOf(place, 'z'),
      })
      const runs = linked(place, ['866'])
      const items = linked(place, ['876', '877', '878'])
      if (runs.length)
        return runs.map(f => ({
          ...at,
          ...withoutUndefined({ run: valueOf(f, 'a'), note: valueOf(f, 'z') ?? at.note }),
        }))
      if (!items.length) return [{ ...at, ...said(at.note) }]
      return items.map(f => {
        const state = valueOf(f, 'j')
        const known = said(state)
        return {
          ...at,
          ...said(at.note),
          ...withoutUndefined({ room: valueOf(f, 'l') ?? at.room, note: known.state ? at.note : (state ?? at.note) }),
          ...known,
        }
      })
    }),
  )
}
const valuesOf = (f: MarcField, codes: string): string[] =>
  f.subfields.flatMap(([code, value]) => (codes.includes(code) && value.trim() ? [value.trim()] : []))
const valueOf = (f: MarcField, code: string): string | undefined => valuesOf(f, code)[0]
const linkOf = (f: MarcField): string | undefined => valueOf(f, '8')?.split(/[.\\]/)[0]

/** What words of a catalogue say of one copy, in the languages that are spoken here. */
export function said(text: string | undefined): Copy {
  if (!text) return {}
  const back = loanEnd(text)
  if (back) return { state: 'out', back }
  const stays = STAYS.test(text) ? { stays: true } : {}
  // what is not lent is not out for that
  const rest = text.replace(STAYS, ' ')
  if (OUT.test(rest)) return { state: 'out', ...stays }
  return IN.test(rest) ? { state: 'in', ...stays } : stays
}
const OUT =
  /(?<!\p{L})(?:(?<!not )on loan|lent|(?<!not )charged|(?<!not )checked ?out|missing|lost|in transit|on order|not available|unavailable|withdrawn|at (?:the )?bind(?:er|ery)|ausgeliehen|entliehen|vermisst|bestellt|nicht verfügbar|emprunté|prêté|en commande|indisponible|prestado|perdido|no disponible)(?!\p{L})/iu
const IN =
  /(?<!\p{L})(?:available|on (?:the )?shel(?:f|ves)|not charged|not checked ?out|not on loan|verfügbar|vorhanden|disponible|en rayon)(?!\p{L})|^in$/iu
const STAYS =
  /(?<!\p{L})(?:library use only|reading room|not (?:for|to be) l(?:oan|ent)|reference only|non-circulating|präsenz\p{L}*|nicht ausleihbar|lesesaal|consultation sur place|exclu du prêt|consulta en sala|solo consulta)(?!\p{L})/iu

/** The last day of a loan, as a note on a shelf says it. */
export function loanEnd(note: string | undefined): string | undefined {
  const end =
    /(?<!\p{L})(?:loan|lent|due|ausgeliehen|entliehen|prêté|emprunté|prestado)(?!\p{L})\D{0,20}(\d.{5,18}?\d{4}|\d{4}-\d{2}-\d{2})/iu.exec(
      note ?? '',
    )?.[1]
  return end ? daySpan(readDate(end))?.to : undefined
}

/** What stands in one place under one number is told once. */
export function together(copies: readonly Copy[]): ShelfHolding[] {
  const of = new Map<string, ShelfHolding & { known: boolean }>()
  for (const { state, branch = '', call = '', copies: n = 1, ...x } of copies) {
    const free = x.free ?? (state === undefined ? undefined : state === 'in' ? n : 0)
    const key = [x.of ?? '', branch, x.room ?? '', call, x.run ?? ''].join('\u0000')
    const have = of.get(key)
    if (!have) {
      of.set(key, { branch, call, ...x, copies: n, ...(free === undefined ? {} : { free }), known: free !== undefined })
      continue
    }
    have.copies += n
    have.known ||= free !== undefined
    if (have.known) have.free = (have.free ?? 0) + (free ?? 0)
    if (x.waiting) have.waiting = (have.waiting ?? 0) + x.waiting
    if (x.back && (!have.back || x.back < have.back)) have.back = x.back
    // one that is lent is enough
    if (!x.stays) delete have.stays
    have.note ??= x.note
    if (have.note === undefined) delete have.note
  }
  return [...of.values()].map(({ known: _, ...s }) => s)
}
