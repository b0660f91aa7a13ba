import { describe, expect, test } from '@jest/globals'
import { XMLParser } from 'fast-xml-parser'
import fc from 'fast-check'
import type { Item } from '../bib/item'
import {
  readIllMessage,
  sameAgency,
  writeIllAction,
  writeIllConfirmation,
  writeIllRequest,
  type IllRequest,
} from './ill'

const parser = new XMLParser({
  removeNSPrefix: true,
  parseTagValue: false,
  isArray: name => name === 'bibliographicItemId',
})
const read = (xml: string) =>
  (parser.parse(xml) as { ISO18626Message: Record<string, Record<string, Record<string, unknown>>> }).ISO18626Message
const article: Item = {
  ...{
    id: '1',
    type: 'article-journal',
    title: 'Moths <i>&</i> “lamps”',
    'container-title': 'Night Papers',
    volume: '12',
    issue: 3,
  },
  ...{ page: '12–19', DOI: '10.5555/x.1', ISSN: '9990-0114', author: [{ family: 'Gallivane', given: 'Ada' }] },
  issued: { 'date-parts': [[2021, 3]] },
}
const request = (more: Partial<IllRequest> = {}): string =>
  writeIllRequest({
    ...{
      supplier: { type: 'ISIL', value: 'XX-1' },
      requester: { type: 'ISIL', value: 'XX-2' },
      request: 'r1',
      at: '2026-10-05T10:00:00.000Z',
    },
    ...{
      kind: 'scan',
      item: article,
      neededBy: '2026-10-24',
      anyEdition: false,
      note: '',
      answerTo: 'https://vine.example/a',
    },
    suppliers: [],
    asker: { name: 'Imre', mail: 'imre@desk.example' },
    ...more,
  })

describe('a request', () => {
  test('names those that have it in their order, by sign where that is known, and no others', () => {
    const suppliers = [
      { name: 'Korrin & sons', agency: { type: 'ISIL', value: 'XX-K' }, call: 'K 1', said: 'It is in.' },
      { name: 'Marlund', call: '', said: '' },
    ]
    expect(read(request({ suppliers })).request!.supplierInfo).toEqual([
      {
        ...{ sortOrder: '1', supplierCode: { agencyIdType: 'ISIL', agencyIdValue: 'XX-K' } },
        ...{ supplierDescription: 'Korrin & sons', callNumber: 'K 1', availabilityNote: 'It is in.' },
      },
      { sortOrder: '2', supplierDescription: 'Marlund' },
    ])
    expect(request()).not.toContain('supplierInfo')
  })
  test('of a part names what it stands in, and itself as the component', () => {
    const { bibliographicInfo: bib, serviceInfo: service, header, ...rest } = read(request()).request!
    expect(bib).toMatchObject({
      title: 'Night Papers',
      titleOfComponent: 'Moths & “lamps”',
      authorOfComponent: 'Gallivane',
      volume: '12',
      issue: '3',
      pagesRequested: '12–19',
    })
    expect(bib!.bibliographicItemId).toEqual([
      { bibliographicItemIdentifier: '9990-0114', bibliographicItemIdentifierCode: 'ISSN' },
      { bibliographicItemIdentifier: '10.5555/x.1', bibliographicItemIdentifierCode: 'DOI' },
    ])
    expect(service).toEqual({
      requestType: 'New',
      serviceType: 'Copy',
      preferredFormat: 'PDF',
      needBeforeDate: '2026-10-24',
      copyrightCompliance: 'Other',
      anyEdition: 'N',
    })
    expect(header).toMatchObject({
      requestingAgencyRequestId: 'r1',
      supplyingAgencyId: { agencyIdType: 'ISIL', agencyIdValue: 'XX-1' },
    })
    expect(rest.publicationInfo).toEqual({ publicationType: 'Article', publicationDate: '2021' })
  })
  test('of a book names it alone, and asked again which request it was', () => {
    const again = read(
      request({
        kind: 'book',
        item: { id: '2', type: 'book', title: 'A Companion', ISBN: '9780000000002' },
        previous: 'r0',
        neededBy: null,
        anyEdition: true,
      }),
    ).request!
    expect(again.bibliographicInfo).toMatchObject({ title: 'A Companion' })
    expect(again.serviceInfo).toEqual({
      requestType: 'Retry',
      requestingAgencyPreviousRequestId: 'r0',
      serviceType: 'Loan',
      copyrightCompliance: 'Other',
      anyEdition: 'Y',
    })
  })
  test('whatever stands in a description, what is written is well-formed and says it', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 60 }), fc.string({ maxLength: 40 }), (volume, note) => {
        const xml = request({ item: { ...article, volume }, note })
        expect(() => parser.parse(xml, true)).not.toThrow()
      }),
    )
  })
})

describe('a message of an office', () => {
  const message = (inside: string, around = (s: string) => s) =>
    around(`<ISO18626Message xmlns="http://illtransactions.org/2013/iso18626"><supplyingAgencyMessage>
      <header><supplyingAgencyId><agencyIdType>ISIL</agencyIdType><agencyIdValue>XX-1</agencyIdValue></supplyingAgencyId>
      <requestingAgencyId><agencyIdType>ISIL</agencyIdType><agencyIdValue>XX-2</agencyIdValue></requestingAgencyId>
      <timestamp>2026-10-06T10:00:00+02:00</timestamp><requestingAgencyRequestId>r1</requestingAgencyRequestId></header>${inside}
      </supplyingAgencyMessage></ISO18626Message>`)
  const status =
    '<messageInfo><reasonForMessage>StatusChange</reasonForMessage></messageInfo><statusInfo><status>Loaned</status><dueDate>2026-11-09T00:00:00+01:00</dueDate></statusInfo>'
  test('is read, its moment in UTC, its days as they are written', () => {
    expect(readIllMessage(message(status))).toMatchObject({
      answer: {
        request: 'r1',
        at: '2026-10-06T08:00:00.000Z',
        status: 'Loaned',
        due: '2026-11-09',
        yes: null,
        url: null,
      },
    })
  })
  test('is read whatever prefix, scheme and order it has', () => {
    const odd = `<?xml version="1.0"?><m:ISO18626Message xmlns:m="http://illtransactions.org/2013/iso18626" m:version="1.2"><m:supplyingAgencyMessage>
      <m:deliveryInfo><m:itemId m:scheme="x">https://loans.example/a.pdf?x=1&amp;y=2</m:itemId></m:deliveryInfo>
      <m:statusInfo><m:status>CopyCompleted</m:status></m:statusInfo><m:messageInfo><m:note><![CDATA[Fetch it <soon>]]></m:note><m:answerYesNo>Y</m:answerYesNo></m:messageInfo>
      <m:header><m:requestingAgencyRequestId> r1 </m:requestingAgencyRequestId><m:timestamp>2026-10-06T08:00:00Z</m:timestamp></m:header>
      </m:supplyingAgencyMessage></m:ISO18626Message>`
    expect(readIllMessage(odd)).toMatchObject({
      answer: {
        request: 'r1',
        status: 'CopyCompleted',
        note: 'Fetch it <soon>',
        yes: true,
        url: 'https://loans.example/a.pdf?x=1&y=2',
      },
    })
  })
  test.each([
    ['<html>Please sign in</html>', /no message of a loan office/],
    ['<ISO18626Message/>', /no message of a loan office/],
    ['{"a":1}', /XML/],
    ['<ISO18626Message><supplyingAgencyMessage/></ISO18626Message>', /to which request/],
    [message(status).replace('2026-10-06T10:00:00+02:00', 'yesterday'), /“yesterday” is no moment/],
    [message(''), /neither why it comes/],
    ['<!DOCTYPE x [<!ENTITY a "b">]><ISO18626Message/>', /entities/],
  ])('what is none is refused with why: %#', (xml, why) => {
    expect(() => readIllMessage(xml)).toThrow(why)
  })
  test('a place that is no address of a page is none', () => {
    const at = (itemId: string) =>
      readIllMessage(message(`${status}<deliveryInfo><itemId>${itemId}</itemId></deliveryInfo>`))
    expect(at('javascript:alert(1)')).toMatchObject({ answer: { url: null } })
    expect(at('Shelf 12')).toMatchObject({ answer: { url: null } })
  })
})

test('confirmations say whether a message was taken, and an error by its code', () => {
  const holds =
    '<ISO18626Message><requestConfirmation><confirmationHeader><requestingAgencyRequestId>r1</requestingAgencyRequestId><messageStatus>ok</messageStatus></confirmationHeader></requestConfirmation></ISO18626Message>'
  expect(readIllMessage(holds)).toEqual({ confirmation: { request: 'r1', holds: true, error: '' } })
  const wrong =
    '<ISO18626Message><requestingAgencyMessageConfirmation><confirmationHeader><messageStatus>ERROR</messageStatus></confirmationHeader><errorData><errorType>BadlyFormedMessage</errorType><errorValue>header</errorValue></errorData></requestingAgencyMessageConfirmation></ISO18626Message>'
  expect(readIllMessage(wrong)).toEqual({
    confirmation: { request: '', holds: false, error: 'BadlyFormedMessage: header' },
  })
})

test('what is said later on, and that it was heard, is written by the standard', () => {
  const h = {
    supplier: { type: 'ISIL', value: 'XX-1' },
    requester: { type: 'ISIL', value: 'XX-2' },
    request: 'r1',
    at: '2026-10-07T10:00:00.000Z',
  }
  expect(read(writeIllAction(h, 'Notification', 'Yes & soon')).requestingAgencyMessage).toMatchObject({
    action: 'Notification',
    note: 'Yes & soon',
  })
  const answer = {
    ...h,
    reason: 'StatusChange',
    status: 'Loaned',
    note: '',
    yes: null,
    why: '',
    expected: null,
    due: null,
    url: null,
  }
  const error = { type: 'UnrecognisedDataValue', value: 'supplyingAgencyId' }
  expect(
    read(writeIllConfirmation(answer, '2026-10-07T10:00:01.000Z', error)).supplyingAgencyMessageConfirmation,
  ).toMatchObject({
    confirmationHeader: { messageStatus: 'ERROR', requestingAgencyRequestId: 'r1' },
    errorData: { errorType: 'UnrecognisedDataValue' },
  })
  expect(sameAgency({ type: 'isil', value: 'xx-1 ' }, { type: 'ISIL', value: 'XX-1' })).toBe(true)
})
