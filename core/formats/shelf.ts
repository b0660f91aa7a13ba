import { daySpan, readDate } from '../bib/dates'
import { said, shelfHoldingsOfMarc, together, type Copy, type ShelfHolding, type State } from './marc-shelf'
import { marcIn } from './marcxml'
import { withoutUndefined } from './terms'
import { all, first, readXml, textOf, type Xml } from './xml'

/**
 * Reads what a record says of shelves, by what it is: MARC 21 in XML, the holdings of ISO 20775, or the OPAC syntax of
 * Z39.50 in XML.
 * @throws Error where it is not well-formed XML
 */
export function readShelfHoldings(xml: string): ShelfHolding[] {
  const root = readXml(xml)
  const opac = first(root, 'opacRecord')
  if (opac) return together(all(first(opac, 'holdings'), 'holding').flatMap(ofOpac))
  const holdings = all(first(root, 'holdings'), 'holding')
  if (holdings.length) return together(holdings.flatMap(ofIso20775))
  return marcIn(root).flatMap(shelfHoldingsOfMarc)
}

/** Status of ISO 20775: 0 not known, 1 can be had, 2 cannot, 3 perhaps. */
const ISO_STATES: Record<string, State> = { '1': 'in', '2': 'out' }
/** What a copy is there for, of ISO 20775: 5 is looking things up on the spot. */
const ON_THE_SPOT = '5'

function ofIso20775(h: Xml): Copy[] {
  const of = textOf(first(h, 'institutionIdentifier', 'value'))
  const branch = textOf(first(h, 'physicalLocation')) ?? of ?? ''
  const simple = first(h, 'holdingSimple')
  const run = all(h, 'summaryHoldings').map(textOf).find(Boolean)
  const sets = first(h, 'holdingStructured')
  const structured = [sets, ...all(sets, 'set')].flatMap(x => all(x, 'component'))
  const copies = [...all(simple, 'copyInformation'), ...structured].map((x): Copy => {
    const status = first(x, 'availabilityInformation', 'status')
    const free = dayOf(textOf(first(status, 'dateTimeAvailable')) ?? textOf(first(status, 'earliestDispatchDate')))
    const state = ISO_STATES[textOf(first(status, 'availabilityStatus')) ?? '']
    return withoutUndefined({
      ...{ of, branch },
      room: textOf(first(x, 'sublocation')),
      call: textOf(first(x, 'shelfLocator')) ?? '',
      note: textOf(first(x, 'note')),
      run: textOf(first(x, 'enumerationAndChronology', 'text')) ?? run,
      state,
      back: state === 'out' ? free : undefined,
      waiting: numberOf(first(x, 'reservationQueueLength') ?? first(x, 'availabilityInformation', 'queueLength')),
      stays: textOf(first(status, 'availableFor')) === ON_THE_SPOT || undefined,
    })
  })
  const summary = first(simple, 'copiesSummary')
  const count = numberOf(first(summary, 'copiesCount'))
  if (copies.length || count === undefined)
    return copies.length ? copies : run ? [withoutUndefined({ of, branch, call: '', run })] : []
  const free = all(summary, 'status').map(s => numberOf(first(s, 'availableCount')))
  return [
    withoutUndefined({
      ...{ of, branch, call: '', copies: count, run },
      free: free.some(n => n !== undefined) ? free.reduce<number>((sum, n) => sum + (n ?? 0), 0) : undefined,
      back: dayOf(textOf(first(summary, 'status', 'earliestDispatchDate'))),
      waiting: numberOf(first(summary, 'reservationQueueLength')),
    }),
  ]
}

function ofOpac(h: Xml): Copy[] {
  const at = withoutUndefined({
    of: textOf(first(h, 'nucCode')),
    branch: textOf(first(h, 'localLocation')) ?? textOf(first(h, 'shelvingLocation')) ?? textOf(first(h, 'nucCode')),
    room: textOf(first(h, 'localLocation')) ? textOf(first(h, 'shelvingLocation')) : undefined,
    call: textOf(first(h, 'callNumber')) ?? '',
    note: textOf(first(h, 'publicNote')),
    run: textOf(first(h, 'enumAndChron')) ?? textOf(first(h, 'volumes', 'volume', 'enumAndChron')),
  })
  const lent = all(first(h, 'circulations'), 'circulation')
  if (!lent.length) return [{ ...at, ...said(at.note) }]
  return lent.map(x => {
    const isIn = flagOf(first(x, 'availableNow'))
    return {
      ...at,
      ...withoutUndefined({
        state: isIn === undefined ? undefined : isIn ? 'in' : 'out',
        back: isIn ? undefined : dayOf(textOf(first(x, 'availabilityDate'))),
        // it is held for one who waits
        waiting: flagOf(first(x, 'onHold')) ? 1 : undefined,
        run: textOf(first(x, 'enumAndChron')) ?? at.run,
      }),
    } as Copy
  })
}

/** Attribute `value` of an element: 1 or true, 0 or false. */
function flagOf(x: unknown): boolean | undefined {
  const value = x ? String((x as Xml)['@value'] ?? textOf(x) ?? '') : ''
  return /^(1|true|yes)$/i.test(value) ? true : /^(0|false|no)$/i.test(value) ? false : undefined
}
const numberOf = (x: unknown): number | undefined => {
  const text = textOf(x) ?? ''
  return /^\d{1,6}$/.test(text) ? Number(text) : undefined
}
/** A day, of a moment too. */
const dayOf = (text: string | undefined): string | undefined => {
  const read = text ? readDate(text.replace(/T.*$/, '')) : undefined
  return read ? daySpan(read)?.to : undefined
}
