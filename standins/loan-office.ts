import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import express, { Router } from 'express'
import { XMLParser } from 'fast-xml-parser'
import { addDays } from '../core/bib/dates'
import { escapeXml } from '../core/formats/xml'
import type { WorldWork } from '../core/world/types'
import { drawPdf } from './pdf'
import { lot, type ServedWorld } from './world'

/** What goes wrong with the messages of the office, or with what it sends. */
export const OFFICE_FAULTS = [
  'none',
  'lost',
  'doubled',
  'out of order',
  'forged',
  'refuses',
  'wrong scan',
  'asks',
  'hasty',
] as const
export type OfficeFault = (typeof OFFICE_FAULTS)[number]

interface Planned {
  day: string
  reason: string
  status: string
  inside?: string
  info?: string
  delivery?: string
}
interface Case {
  request: string
  answerTo: string
  isScan: boolean
  /** Who is asked first, by the names that were told. */
  from: string[]
  work: WorldWork | undefined
  plan: Planned[]
  /** It stands still until the student answered. */
  waits: boolean
  due?: string
  renewed: boolean
  /** When a scan was put there. */
  scanFrom?: string
  sent: number
}

const HOST = 'loans.halverane.example'
/** Days that a scan lies there. */
const KEEPS = 14
const SUPPLIER = ['ISIL', 'XX-HALILL']

const isWeekend = (day: string): boolean => [0, 6].includes(new Date(`${day}T00:00:00Z`).getUTCDay())
const workDay = (from: string, days: number): string => {
  let at = from
  for (let n = days; n > 0;) {
    at = addDays(at, 1)
    if (!isWeekend(at)) n--
  }
  return at
}

/**
 * The office of the home library that gets scans and books from elsewhere, by ISO 18626: it confirms at once and writes
 * later, as the days of the desk go by, to the address that each request names.
 */
export function loanOffice(world: ServedWorld) {
  const cases = new Map<string, Case>()
  const parser = new XMLParser({ removeNSPrefix: true, ignoreAttributes: true, parseTagValue: false })
  const byTitle = new Map(world.works.map(w => [plain(w.item.title ?? ''), w]))
  let fault: OfficeFault = 'none'
  const kept = world.folder && join(world.folder, 'loan-office.json')
  if (kept && existsSync(kept))
    for (const { work, ...of } of JSON.parse(readFileSync(kept, 'utf8')) as (Omit<Case, 'work'> & { work?: string })[])
      cases.set(of.request, { ...of, work: world.byId.get(work ?? '') })
  /** What was asked for stands when the made-up world begins again. */
  const keep = () => {
    if (kept) writeFileSync(kept, JSON.stringify([...cases.values()].map(of => ({ ...of, work: of.work?.id }))))
  }
  let posting = Promise.resolve()

  const router = Router()
  router.post('/', express.text({ type: () => true, limit: '1mb' }), async (req, res) => {
    let message: Record<string, Record<string, unknown>>
    try {
      message = (parser.parse(String(req.body)) as { ISO18626Message: typeof message }).ISO18626Message
    } catch {
      return void res.status(400).type('text/plain').send('This is no XML.')
    }
    const said = message?.request ?? message?.requestingAgencyMessage
    const header = said?.header as Record<string, string> | undefined
    if (!said || !header) return void res.status(400).type('text/plain').send('This is no ISO 18626.')
    const kind = message.request ? 'requestConfirmation' : 'requestingAgencyMessageConfirmation'
    const id = header.requestingAgencyRequestId ?? ''
    const isKnown = message.request !== undefined || cases.has(id)
    const confirm = () =>
      res.type('application/xml').send(confirmation(kind, id, isKnown ? undefined : 'UnrecognisedDataValue'))
    if (fault !== 'hasty') confirm()
    if (message.request) take(id, said)
    else act(id, String(said.action ?? ''))
    if (fault !== 'hasty') return
    await posting
    confirm()
  })
  router.get('/scan/:id.pdf', async (req, res) => {
    const of = cases.get(req.params.id)
    if (!of?.scanFrom || !of.work)
      return void res.status(404).type('html').send('<title>Not found</title>No such scan.')
    if (addDays(of.scanFrom, KEEPS) < world.day)
      return void res.status(410).type('html').send('<title>Gone</title>This scan was wiped after 14 days.')
    const wrong =
      fault === 'wrong scan' ? world.works.find(w => w.form === of.work!.form && w.id !== of.work!.id) : undefined
    res
      .type('application/pdf')
      .send(Buffer.from(await drawPdf(world, wrong ?? of.work, { version: 'version of record' })))
  })

  /** Takes a request, once. */
  function take(id: string, said: Record<string, unknown>): void {
    if (cases.has(id)) return
    const bib = (said.bibliographicInfo ?? {}) as Record<string, unknown>
    const service = (said.serviceInfo ?? {}) as Record<string, string>
    const info = said.requestingAgencyInfo as
      { address?: { electronicAddress?: { electronicAddressData?: string } } } | undefined
    const numbers = [bib.bibliographicItemId ?? []].flat() as Record<string, string>[]
    const doi = numbers.find(n => n.bibliographicItemIdentifierCode === 'DOI')?.bibliographicItemIdentifier
    const work =
      (doi && world.byDoi.get(doi.toLowerCase())) || byTitle.get(plain(String(bib.titleOfComponent ?? bib.title ?? '')))
    const suppliers = [said.supplierInfo ?? []].flat() as { supplierDescription?: string }[]
    const of: Case = {
      from: suppliers.flatMap(s => s.supplierDescription ?? []),
      ...{ request: id, answerTo: info?.address?.electronicAddress?.electronicAddressData ?? '' },
      ...{ isScan: service.serviceType === 'Copy', work, plan: [], waits: false, renewed: false, sent: 0 },
    }
    cases.set(id, of)
    of.plan.push({ day: world.day, reason: 'RequestResponse', status: 'RequestReceived' })
    const dice = (sides: number, what: string) => lot(work?.id ?? id, what, sides)
    if (!work || fault === 'refuses' || (fault === 'none' && dice(9, 'refused') === 0))
      of.plan.push({
        day: workDay(world.day, 1),
        ...{ reason: 'StatusChange', status: 'Unfilled' },
        info: `<ill:reasonUnfilled>${work ? 'NotAvailableForILL' : 'NotFoundAsCited'}</ill:reasonUnfilled>`,
      })
    else if (fault === 'asks' || (fault === 'none' && dice(6, 'asks') === 0)) {
      of.waits = true
      of.plan.push({
        day: workDay(world.day, 1),
        ...{ reason: 'Notification', status: 'RequestReceived' },
        info: `<ill:note>${of.isScan ? 'The pages are bound so tightly that a line of each is in shadow. Will that do?' : 'Ours is the second printing, without the plates. Will that do?'}</ill:note>`,
      })
    } else supply(of, world.day)
    post()
  }

  /** Plans how a thing is got, from a day on. */
  function supply(of: Case, from: string): void {
    const [near] = of.from
    // who knows where it stands has it sooner
    const [least, most] = of.isScan ? (near ? [2, 3] : [2, 6]) : near ? [3, 4] : [3, 9]
    const days = least + lot(of.request, 'days', most)
    of.plan.push({
      day: workDay(from, 1),
      reason: 'StatusChange',
      status: 'WillSupply',
      ...(near ? { info: `<ill:note>From ${escapeXml(near)}.</ill:note>` } : {}),
      inside: `<ill:expectedDeliveryDate>${workDay(from, days)}T00:00:00Z</ill:expectedDeliveryDate>`,
    })
    const day = workDay(from, days)
    if (of.isScan)
      of.plan.push({
        ...{ day, reason: 'StatusChange', status: 'CopyCompleted' },
        delivery: `<ill:dateSent>${day}T09:00:00Z</ill:dateSent><ill:itemId>http://${HOST}/scan/${of.request}.pdf</ill:itemId><ill:sentVia>URL</ill:sentVia>`,
      })
    else {
      of.due = addDays(day, 28)
      of.plan.push({
        ...{ day, reason: 'StatusChange', status: 'Loaned' },
        inside: `<ill:dueDate>${of.due}T00:00:00Z</ill:dueDate>`,
        info: '<ill:note>It waits at the desk of Hill Branch.</ill:note>',
      })
    }
  }

  function act(id: string, action: string): void {
    const of = cases.get(id)
    if (!of) return
    const { day } = world
    if (action === 'Cancel') {
      of.plan = [{ day, reason: 'CancelResponse', status: 'Cancelled', info: '<ill:answerYesNo>Y</ill:answerYesNo>' }]
    } else if (action === 'Renew') {
      const yes = !of.renewed && of.due !== undefined
      if (yes) of.due = addDays(of.due!, 14)
      of.renewed = true
      of.plan.push({
        ...{ day, reason: 'RenewResponse', status: 'Loaned' },
        info: `<ill:answerYesNo>${yes ? 'Y' : 'N'}</ill:answerYesNo>${yes ? '' : '<ill:note>Another reader waits for it.</ill:note>'}`,
        inside: of.due ? `<ill:dueDate>${of.due}</ill:dueDate>` : '',
      })
    } else if (action === 'ShippedReturn') of.plan.push({ day, reason: 'StatusChange', status: 'LoanCompleted' })
    else if (action === 'Notification' && of.waits) {
      of.waits = false
      supply(of, day)
    }
    post()
  }

  /** Posts what is due, one after the other, each with the moment at which it was written. */
  function post(): void {
    posting = posting.then(async () => {
      const due = [...cases.values()]
        .flatMap(of => of.plan.filter(p => p.day <= world.day).map(p => ({ of, p })))
        .toSorted((a, b) => (a.p.day < b.p.day ? -1 : a.p.day > b.p.day ? 1 : 0))
      for (const { of } of due) of.plan = of.plan.filter(p => p.day > world.day)
      const letters = due.map(({ of, p }) => {
        if (p.status === 'CopyCompleted') of.scanFrom = p.day
        return { to: of.answerTo, xml: written(of, p) }
      })
      keep()
      if (fault === 'out of order') letters.reverse()
      for (const l of letters) {
        if (fault === 'lost') continue
        for (let times = fault === 'doubled' ? 2 : 1; times > 0; times--) await deliver(l.to, l.xml)
      }
    })
  }

  function written(of: Case, p: Planned): string {
    const [type, value] = fault === 'forged' ? ['ISIL', 'XX-SOMEBODY'] : SUPPLIER
    const at = `${p.day}T${String(9 + Math.min(8, of.sent)).padStart(2, '0')}:${String(of.sent++ % 60).padStart(2, '0')}:00Z`
    return `<?xml version="1.0" encoding="UTF-8"?>
<ill:ISO18626Message xmlns:ill="http://illtransactions.org/2013/iso18626" ill:version="1.2"><ill:supplyingAgencyMessage>
<ill:header><ill:supplyingAgencyId><ill:agencyIdType ill:scheme="http://illtransactions.org/scheme">${type}</ill:agencyIdType><ill:agencyIdValue>${value}</ill:agencyIdValue></ill:supplyingAgencyId>
<ill:requestingAgencyId><ill:agencyIdType>ISIL</ill:agencyIdType><ill:agencyIdValue>XX-VINE</ill:agencyIdValue></ill:requestingAgencyId>
<ill:timestamp>${at}</ill:timestamp><ill:requestingAgencyRequestId>${escapeXml(of.request)}</ill:requestingAgencyRequestId></ill:header>
<ill:messageInfo><ill:reasonForMessage>${p.reason}</ill:reasonForMessage>${p.info ?? ''}</ill:messageInfo>
<ill:statusInfo><ill:status>${p.status}</ill:status>${p.inside ?? ''}<ill:lastChange>${at}</ill:lastChange></ill:statusInfo>
${p.delivery ? `<ill:deliveryInfo>${p.delivery}</ill:deliveryInfo>` : ''}
</ill:supplyingAgencyMessage></ill:ISO18626Message>`
  }

  return {
    router,
    newDay: post,
    get fault() {
      return fault
    },
    setFault: (now: OfficeFault) => void (fault = now),
    /** Everything that was posted until now has arrived, or was given up. */
    posted: () => posting,
  }
}
export type LoanOfficeStandIn = ReturnType<typeof loanOffice>

/** Posts a message; a server that is away is asked again a few times. */
async function deliver(to: string, xml: string): Promise<void> {
  if (!/^http:\/\/(127\.0\.0\.1|localhost)[:/]/.test(to)) return
  for (let tries = 0; tries < 5; tries++) {
    try {
      const res = await fetch(to, { method: 'POST', headers: { 'content-type': 'application/xml' }, body: xml })
      if (res.status < 500) return
    } catch {
      // it may be starting
    }
    await new Promise(r => setTimeout(r, 300 * (tries + 1)))
  }
}

const plain = (title: string): string =>
  title
    .toLowerCase()
    .replace(/<[^>]+>/g, '')
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()

const confirmation = (kind: string, id: string, error?: string): string => {
  const now = new Date().toISOString()
  return `<?xml version="1.0"?><ISO18626Message xmlns="http://illtransactions.org/2013/iso18626" version="1.2"><${kind}><confirmationHeader><timestamp>${now}</timestamp><requestingAgencyRequestId>${escapeXml(id)}</requestingAgencyRequestId><timestampReceived>${now}</timestampReceived><messageStatus>${error ? 'ERROR' : 'OK'}</messageStatus></confirmationHeader>${error ? `<errorData><errorType>${error}</errorType><errorValue>requestingAgencyRequestId</errorValue></errorData>` : ''}</${kind}></ISO18626Message>`
}
