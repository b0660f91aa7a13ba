import { XMLBuilder } from 'fast-xml-parser'
import { isAddress, normaliseDoi, normaliseIsbn, normaliseIssn } from '../bib/identifiers'
import { yearOf } from '../bib/dates'
import { plainTitle } from '../bib/clean'
import { authorLine } from '../bib/names'
import type { Item } from '../bib/item'
import { readXml, type Xml } from './xml'

/** A library as loan messages name it: by a scheme (ISIL, say) and its symbol there. */
export interface Agency {
  type: string
  value: string
}

/** What every message says of the request it belongs to. */
export interface IllHeader {
  supplier: Agency
  requester: Agency
  /** The id that the asking side gave the request. */
  request: string
  /** ISO moment at which it was written. */
  at: string
}

/** What is asked for. */
export interface IllRequest extends IllHeader {
  kind: 'scan' | 'book'
  item: Item
  /** ISO date. */
  neededBy: string | null
  anyEdition: boolean
  note: string
  /** Libraries that have it, those to be asked first before others. */
  suppliers: readonly {
    name: string
    /** Where it is known. */
    agency?: Agency
    call: string
    said: string
  }[]
  asker: { name: string; mail: string }
  /** Where answers are to be posted. */
  answerTo: string
  /** The request that this one asks again, after an answer. */
  previous?: string
}

const builder = new XMLBuilder({ ignoreAttributes: false, attributeNamePrefix: '@', suppressEmptyNode: true })
const NAMESPACE = 'http://illtransactions.org/2013/iso18626'

const written = (message: object): string =>
  `<?xml version="1.0" encoding="UTF-8"?>\n${builder.build({
    ISO18626Message: { '@xmlns': NAMESPACE, '@xmlns:ill': NAMESPACE, '@ill:version': '1.2', ...message },
  })}`

/** Elements that say something, in their order. */
const said = (elements: Record<string, unknown>): Record<string, unknown> =>
  Object.fromEntries(Object.entries(elements).filter(([, v]) => v !== undefined && v !== ''))

const agency = ({ type, value }: Agency) => ({ agencyIdType: type, agencyIdValue: value })
const header = (h: IllHeader) => ({
  supplyingAgencyId: agency(h.supplier),
  requestingAgencyId: agency(h.requester),
  timestamp: h.at,
  requestingAgencyRequestId: h.request,
})

const PUBLICATIONS: Record<string, string> = {
  'article-journal': 'Article',
  'article-magazine': 'Article',
  'article-newspaper': 'Newspaper',
  book: 'Book',
  chapter: 'Chapter',
  'entry-encyclopedia': 'Chapter',
  'paper-conference': 'ConferenceProc',
  report: 'Report',
  thesis: 'Thesis',
}
/** Items that are parts of what is held under another title. */
const isPart = (item: Item): boolean => item['container-title'] !== undefined && !['book', 'thesis'].includes(item.type)

/** A request for a loan or a copy (ISO 18626:2021, request). */
export function writeIllRequest(r: IllRequest): string {
  const { item } = r
  const title = plainTitle(item.title)
  const authors = authorLine(item.author, 10)
  const numbers = [
    { code: 'ISBN', value: normaliseIsbn(item.ISBN) },
    { code: 'ISSN', value: normaliseIssn(item.ISSN) },
    { code: 'DOI', value: normaliseDoi(item.DOI) },
  ].filter(n => n.value !== undefined)
  return written({
    request: said({
      header: header(r),
      bibliographicInfo: said({
        ...(isPart(item)
          ? { title: plainTitle(item['container-title']), edition: item.edition }
          : { title, author: authors, edition: item.edition }),
        ...(isPart(item) ? { titleOfComponent: title, authorOfComponent: authors } : {}),
        volume: item.volume,
        issue: item.issue,
        pagesRequested: item.page,
        bibliographicItemId: numbers.length
          ? numbers.map(n => ({ bibliographicItemIdentifier: n.value, bibliographicItemIdentifierCode: n.code }))
          : undefined,
      }),
      publicationInfo: said({
        publisher: item.publisher,
        publicationType: PUBLICATIONS[item.type],
        publicationDate: yearOf(item),
        placeOfPublication: item['publisher-place'],
      }),
      serviceInfo: said({
        requestType: r.previous ? 'Retry' : 'New',
        requestingAgencyPreviousRequestId: r.previous,
        serviceType: r.kind === 'scan' ? 'Copy' : 'Loan',
        preferredFormat: r.kind === 'scan' ? 'PDF' : undefined,
        needBeforeDate: r.neededBy ?? undefined,
        copyrightCompliance: 'Other',
        anyEdition: r.anyEdition ? 'Y' : 'N',
        note: r.note,
      }),
      supplierInfo: r.suppliers.length
        ? r.suppliers.map((s, i) =>
            said({
              sortOrder: i + 1,
              supplierCode: s.agency && agency(s.agency),
              supplierDescription: s.name,
              callNumber: s.call,
              availabilityNote: s.said,
            }),
          )
        : undefined,
      requestingAgencyInfo: {
        address: { electronicAddress: { electronicAddressType: 'Other', electronicAddressData: r.answerTo } },
      },
      patronInfo: { patronId: r.asker.mail, givenName: r.asker.name },
    }),
  })
}

export const ILL_ACTIONS = ['StatusRequest', 'Received', 'Cancel', 'Renew', 'ShippedReturn', 'Notification'] as const
export type IllAction = (typeof ILL_ACTIONS)[number]

/** What the asking side says of a request later on (requestingAgencyMessage). */
export const writeIllAction = (h: IllHeader, action: IllAction, note = ''): string =>
  written({ requestingAgencyMessage: said({ header: header(h), action, note }) })

/** What an office says of a request (supplyingAgencyMessage). */
export interface IllAnswer extends IllHeader {
  /** Why it writes: RequestResponse, StatusChange, RenewResponse, Notification … */
  reason: string
  /** RequestReceived, WillSupply, Loaned, CopyCompleted, Unfilled … */
  status: string
  note: string
  /** What it answers to a wish to renew or to cancel. */
  yes: boolean | null
  /** Why it does not supply, or could later, by the codes of the standard. */
  why: string
  /** ISO dates. */
  expected: string | null
  due: string | null
  /** Where a copy lies, if it is fetched by an address. */
  url: string | null
}

/** What the other side says of having received a message. */
export interface IllConfirmation {
  request: string
  holds: boolean
  /** What was wrong, by the codes of the standard. */
  error: string
}

export type IllMessage = { answer: IllAnswer } | { confirmation: IllConfirmation }

const one = (x: unknown): unknown => (Array.isArray(x) ? (x as unknown[])[0] : x)
const child = (x: unknown, name: string): unknown => {
  const of = one(x)
  return of !== null && typeof of === 'object' ? one((of as Xml)[name]) : undefined
}
const at = (x: unknown, ...names: string[]): unknown => names.reduce(child, x)
const textOf = (x: unknown, ...names: string[]): string => {
  const v = at(x, ...names)
  const t = v !== null && typeof v === 'object' ? child(v, '#text') : v
  return typeof t === 'string' ? t.trim() : ''
}
const agencyOf = (x: unknown): Agency => ({ type: textOf(x, 'agencyIdType'), value: textOf(x, 'agencyIdValue') })
/** A day of a date or a moment, as written there. */
const dayOf = (text: string): string | null => /^\d{4}-\d{2}-\d{2}(?=$|[TZ+-])/.exec(text)?.[0] ?? null
const sameLetters = (a: string, b: string) => a.trim().toLowerCase() === b.trim().toLowerCase()

/** Whether two symbols name one library: letters large or small do not tell them apart. */
export const sameAgency = (a: Agency, b: Agency): boolean =>
  sameLetters(a.type, b.type) && sameLetters(a.value, b.value)

/**
 * Reads a message of an office, or its confirmation, whatever prefixes it writes.
 * @throws Error with a sentence where it is none
 */
export function readIllMessage(text: string): IllMessage {
  const root = at(readXml(text), 'ISO18626Message')
  const message = at(root, 'supplyingAgencyMessage')
  if (message !== undefined) {
    const head = at(message, 'header')
    const request = textOf(head, 'requestingAgencyRequestId')
    if (!request) throw new Error('The message does not say to which request it belongs.')
    const written = textOf(head, 'timestamp')
    if (Number.isNaN(Date.parse(written))) throw new Error(`“${written.slice(0, 40)}” is no moment.`)
    const info = at(message, 'messageInfo')
    const status = textOf(message, 'statusInfo', 'status')
    const reason = textOf(info, 'reasonForMessage')
    if (!status && !reason) throw new Error('The message says neither why it comes nor how the request stands.')
    const yes = textOf(info, 'answerYesNo')
    const item = textOf(message, 'deliveryInfo', 'itemId')
    return {
      answer: {
        supplier: agencyOf(at(head, 'supplyingAgencyId')),
        requester: agencyOf(at(head, 'requestingAgencyId')),
        request,
        at: new Date(written).toISOString(),
        reason,
        status,
        note: textOf(info, 'note') || textOf(message, 'deliveryInfo', 'loanCondition'),
        yes: yes ? /^(?:y|true|1)/i.test(yes) : null,
        why: textOf(info, 'reasonUnfilled') || textOf(info, 'reasonRetry'),
        expected: dayOf(textOf(message, 'statusInfo', 'expectedDeliveryDate')),
        due: dayOf(textOf(message, 'statusInfo', 'dueDate')),
        url: isAddress(item) ? item : null,
      },
    }
  }
  for (const kind of ['requestConfirmation', 'requestingAgencyMessageConfirmation']) {
    const confirmation = at(root, kind)
    if (confirmation === undefined) continue
    const head = at(confirmation, 'confirmationHeader')
    return {
      confirmation: {
        request: textOf(head, 'requestingAgencyRequestId'),
        holds: sameLetters(textOf(head, 'messageStatus'), 'OK'),
        error: [textOf(confirmation, 'errorData', 'errorType'), textOf(confirmation, 'errorData', 'errorValue')]
          .filter(Boolean)
          .join(': '),
      },
    }
  }
  throw new Error('This is no message of a loan office (ISO 18626).')
}

/** Says that a message was received (supplyingAgencyMessageConfirmation). @param error a code of the standard */
export const writeIllConfirmation = (
  { reason, ...h }: IllAnswer,
  received: string,
  error?: { type: string; value: string },
): string =>
  written({
    supplyingAgencyMessageConfirmation: said({
      confirmationHeader: {
        ...header({ ...h, at: received }),
        timestampReceived: received,
        messageStatus: error ? 'ERROR' : 'OK',
      },
      reasonForMessage: reason,
      errorData: error ? { errorType: error.type, errorValue: error.value } : undefined,
    }),
  })
