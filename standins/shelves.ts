import { addDays } from '../core/bib/dates'
import { el, toMarcXml, type Entry } from './records'
import type { Form } from './catalogues'
import { lot } from './world'

const draw = (e: Entry, what: string, below: number): number => Math.floor(lot(e.id, what, below))
/** Loans of the made-up world end on one of the days after this one. */
const LENT_FROM = '2026-10-07'
const outUntil = (e: Entry, what: string, day: string): string | undefined => {
  const until = addDays(LENT_FROM, draw(e, what, 24))
  return until >= day ? until : undefined
}

/** One copy on a shelf of the made-up world. */
interface Copy {
  branch: string
  room: string
  call: string
  /** ISO date until which it is out. */
  until?: string
  waiting?: number
  stays?: boolean
  run?: string
  note?: string
}

/** The copies of a work as they stand on a day: some have two, of those that are lent some are waited for. */
function copiesOf(e: Entry, day: string): Copy[] {
  const { journal, work } = e
  if (journal) {
    const { branch, call, from, to, gaps, microfilm } = journal.print!
    const at = { branch, call, stays: true }
    const film = microfilm ? [{ ...at, room: 'Microfilm', run: microfilm }] : []
    return [{ ...at, room: 'Bound journals', run: `${from}-${to ?? ''}`, ...(gaps ? { note: gaps } : {}) }, ...film]
  }
  const { shelf } = work
  if (!shelf || shelf.ebook) return []
  const at = { branch: shelf.branch, room: `Floor ${1 + draw(e, 'floor', 4)}`, call: shelf.call }
  const until = shelf.loanUntil && shelf.loanUntil >= day ? { until: shelf.loanUntil } : {}
  const first = { ...at, ...until, ...(shelf.loanUntil && draw(e, 'wait', 3) === 0 ? { waiting: 1 } : {}) }
  if (draw(e, 'second', 4)) return [first]
  const second = draw(e, 'lent', 2) ? outUntil(e, 'back', day) : undefined
  return [first, { ...at, ...(second ? { until: second } : {}) }]
}

/** What stands where, by ISO 20775. */
const toIso20775 = (e: Entry, day: string): string => {
  const copies = copiesOf(e, day)
  const holding = (branch: string) =>
    `<holding><institutionIdentifier><value>XX-HAL</value><typeOrSource><text>ISIL</text></typeOrSource></institutionIdentifier>` +
    `${el('physicalLocation', branch)}<holdingSimple>${copies
      .filter(x => x.branch === branch)
      .map(
        x =>
          `<copyInformation>${el('sublocation', x.room)}${el('shelfLocator', x.call)}${el('note', x.note)}${
            x.run ? `<enumerationAndChronology>${el('text', x.run)}</enumerationAndChronology>` : ''
          }<availabilityInformation><status>${el('availabilityStatus', x.until ? 2 : 1)}${el('availableFor', x.stays ? 5 : 1)}${el(
            'dateTimeAvailable',
            x.until && `${x.until}T00:00:00`,
          )}</status>${el('reservationQueueLength', x.until && x.waiting)}</availabilityInformation></copyInformation>`,
      )
      .join('')}</holdingSimple></holding>`
  return `<holdings xmlns="info:ofi/fmt:xml:xsd:iso20775">${[...new Set(copies.map(x => x.branch))].map(holding).join('')}</holdings>`
}

/** Of the town library two of three: its record, and where it stands, by the OPAC syntax of Z39.50. */
function toOpac(e: Entry, day: string): string {
  const has = !e.journal && draw(e, 'town', 3) > 0
  const until = draw(e, 'town lent', 3) ? undefined : outUntil(e, 'town back', day)
  return `<opacRecord><bibliographicRecord>${toMarcXml(e, '')}</bibliographicRecord><holdings>${
    has
      ? `<holding><localLocation>Market Square</localLocation><shelvingLocation>Adult lending</shelvingLocation>${el(
          'callNumber',
          `NW ${10 + draw(e, 'class', 80)}/${1 + draw(e, 'no', 9)}`,
        )}<circulations><circulation><availableNow value="${until ? 0 : 1}"/>${el('availabilityDate', until?.replaceAll('-', ''))}<onHold value="0"/></circulation></circulations></holding>`
      : ''
  }</holdings></opacRecord>`
}

export const HILL_SHELVES: Record<string, Form> = {
  isohold: {
    identifier: 'info:ofi/fmt:xml:xsd:iso20775',
    title: 'Holdings, ISO 20775',
    render: toIso20775,
  },
}
export const TOWN_SHELVES: Record<string, Form> = {
  opac: { identifier: 'info:srw/schema/1/opac-v1.0', title: 'Records with holdings', render: toOpac },
}
