import './setup'
import ipaddr from 'ipaddr.js'
import { parseTemplate } from 'url-template'
import { array, number, object, reach, ref, string, type InferType, type StringSchema } from 'yup'
import { isAddress } from '../bib/identifiers'
import { fold } from '../bib/fold'
import { aDay } from './day'
import { catalogueShape } from './catalogue'

export const NO_ADDRESS = 'This is no address: it begins with http:// or https://.'
const address = (most = 500) =>
  string()
    .trim()
    .max(most)
    .test('address', NO_ADDRESS, v => !v || isAddress(v))

/** Where a file lies that was brought by hand: it is here, and is not fetched. */
export const BROUGHT = 'brought:'

const holdingsFile = object({
  /** What it is called; by its address where nothing is said. */
  name: string().trim().max(200).default(''),
  address: string()
    .trim()
    .required('The address of the file.')
    .max(500)
    .test('address', NO_ADDRESS, v => !v || v.startsWith(BROUGHT) || isAddress(v)),
})
  .transform((_, given: unknown) => (typeof given === 'string' ? { address: given } : given))
  .noUnknown()

/** Where a gate begins, without what is filled in. */
export const beforeFields = (template: string): string => template.replace(/\{.*$/s, '')

/** An address led through a gate, by its RFC 6570 template. */
export const byTemplate = (template: string, url: string): string => parseTemplate(template).expand({ url })

/** A host that stands in no template by itself. */
const TRIAL = 'only-a-trial.invalid'

const isTemplate = (v: string): boolean => {
  try {
    return isAddress(beforeFields(v)) && byTemplate(v, `http://${TRIAL}/`).includes(TRIAL)
  } catch {
    return false
  }
}

const host = () =>
  string()
    .trim()
    .lowercase()
    .max(200)
    .matches(/^([a-z0-9-]{1,63}\.)+[a-z0-9-]{1,63}$/, {
      message: 'This is no name of a host: gate.library.example, say.',
      excludeEmptyString: true,
    })

const ofHost = (name: string, suffix: string): boolean => name === suffix || name.endsWith(`.${suffix}`)

export const MANNERS = ['form', 'window'] as const

const gateShape = object({
  /** How one signs in: by a form that takes card and password, or on pages of its own in one's own window. */
  manner: string().oneOf(MANNERS).default('form'),
  /** An address that opens another one through the gate: RFC 6570, with `url` to be filled in. */
  template: string()
    .trim()
    .required('The address that opens others through the gate.')
    .max(500)
    .test('template', 'It has to name where the address goes: http://gate.library.example/open{?url}, say.', v =>
      isTemplate(v ?? ''),
    ),
  signIn: address()
    .default('')
    .when('manner', {
      is: 'form',
      then: s => s.required('The address that takes card and password.'),
    }),
  /** What its form calls card and password, and what it wants besides. */
  fields: object({
    card: string().trim().max(60).default('card'),
    password: string().trim().max(60).default('password'),
    also: array(
      object({ name: string().required().max(60), value: string().max(200).default('') })
        .noUnknown()
        .required(),
    )
      .max(20)
      .default([]),
  })
    .noUnknown()
    .default(undefined)
    .optional(),
  /** The host that stands behind that of each page that is read through the gate. */
  suffix: host()
    .default('')
    .when('manner', {
      is: 'form',
      then: s => s.required('The host behind that of each page that is read through the gate.'),
    }),
  terms: string().trim().max(2000).default(''),
  /** Files that a card may fetch in a day, where the library says so. */
  daily: number().integer().min(1).max(100_000),
  /** Told where one signs in: which card to take, in a made-up library. */
  hint: string().trim().max(500).default(undefined),
})
  .noUnknown()
  .test('suffix', 'The cookie of the gate would be sent to other hosts: its own address is none behind this.', gate => {
    const { suffix, template } = (gate ?? {}) as { suffix?: unknown; template?: unknown }
    if (typeof suffix !== 'string' || !suffix || typeof template !== 'string') return true
    if (!isAddress(beforeFields(template))) return true
    return ofHost(new URL(beforeFields(template)).hostname, suffix)
  })

/** Where it tells what stands on its shelves, and what of that is out: a catalogue that is asked by SRU. */
const shelfShape = object({
  address: address().required('The address at which its shelves are asked (SRU).'),
  /** In a catalogue of several libraries: how that names what is its own, by sign or by name. Empty where all is. */
  named: array(string().trim().required().max(200)).max(20).default([]),
}).noUnknown()

/** What one is called in messages: scheme and symbol, ISIL:XX-1 say. */
const SYMBOL = /^[^:\s]+:\S+$/
const NO_SYMBOL = 'A scheme, a colon and a symbol: ISIL:XX-1, say.'

/** What a form leaves empty is missing, and no number that is wrong. */
const days = () => number().transform((read: number, given: unknown) => (given === '' ? undefined : read))
const wholeDays = (most: number) => {
  const said = `Whole days, from 1 to ${most.toLocaleString('en')}.`
  return number().typeError(said).integer(said).min(1, said).max(most, said)
}
const pace = () =>
  object({
    low: days().min(0.5).max(300).required('The days within which one in ten comes.'),
    high: days()
      .moreThan(ref('low'), 'The second number of days is the larger one.')
      .max(300)
      .required('The days within which nine in ten come.'),
  })
    .noUnknown()
    .default(undefined)
    .optional()

/** Whether a partner lets one in: not at all, to read there, or to borrow too. */
export const VISITS = ['no', 'read', 'borrow'] as const
/** A library that stands by another one: it sends through that one's loan office, or lets its readers in. */
const partnerShape = object({
  name: string().trim().required('The name of the partner.').max(200),
  /** Where it is: what one has to travel to. */
  place: string().trim().max(200).default(''),
  shelf: shelfShape.required('The address at which its shelves are asked (SRU).'),
  /** What it is called in messages, for the office to know whom to ask. */
  symbol: string().trim().max(80).matches(SYMBOL, { message: NO_SYMBOL, excludeEmptyString: true }).default(''),
  visit: string().oneOf(VISITS).default('no'),
  /** Working days between which four of five come from there; without them it does not send such. */
  scan: pace(),
  book: pace(),
})
  .noUnknown()
  .test(
    'some',
    'What does it do for you? It sends scans, sends books, or lets you in.',
    p => Boolean(p.scan ?? p.book) || (p.visit ?? 'no') !== 'no',
  )

/** When it is open: calendars (RFC 5545) of the whole library, of a branch, or of a partner. */
const hoursShape = object({
  /** As its shelves name it, or the name of a partner; empty for the whole library. */
  branch: string().trim().max(200).default(''),
  /** Whose entries are opening hours. */
  opening: address().default(''),
  /** Whose entries say that it is closed. */
  closed: address().default(''),
})
  .noUnknown()
  .test('one', 'A calendar of its opening hours, or of the days on which it is closed.', h =>
    Boolean(h.opening || h.closed),
  )

/** How an office is asked: by messages of ISO 18626, on a form of its own that takes an OpenURL, or by mail. */
export const OFFICE_MANNERS = ['messages', 'form', 'mail'] as const
const symbol = (required: string) =>
  string()
    .trim()
    .max(80)
    .matches(SYMBOL, { message: NO_SYMBOL, excludeEmptyString: true })
    .default('')
    .when('manner', { is: 'messages', then: s => s.required(required) })

/** The office that gets scans and books from elsewhere. */
const officeShape = object({
  manner: string().oneOf(OFFICE_MANNERS).default('messages'),
  /** Where messages are posted, or where its form is. */
  address: address()
    .default('')
    .when('manner', { is: 'messages', then: s => s.required('The address at which the office takes messages.') })
    .when('manner', { is: 'form', then: s => s.required('The address of its form.') }),
  /** To which one writes. */
  mail: string()
    .trim()
    .email('This is no mail address.')
    .max(200)
    .default('')
    .when('manner', { is: 'mail', then: s => s.required('The mail address of the office.') }),
  symbol: symbol('What the office is called in messages.'),
  ours: symbol('What we are called in messages.'),
  /** What one accepts who asks for something: fees, copyright. */
  terms: string().trim().max(4000).default(''),
  /** Working days between which four of five come; without them it does not send such. */
  scan: pace(),
  book: pace(),
  /** Days that a scan can be fetched, and that a book waits. */
  keepsScan: wholeDays(365).default(14),
  keepsBook: wholeDays(365).default(7),
  /** Days that a scan may be used, by its terms, from when it came; null for no end. */
  scanLasts: wholeDays(3650).nullable().default(null),
  /** Where books are picked up. */
  pickUp: string().trim().max(200).default(''),
  /** Days of the week on which it does not work, 1 for Monday (ISO 8601), and dates on which it is closed. */
  weekend: array(number().integer().min(1).max(7).required()).max(6).default([6, 7]),
  closed: array(aDay().required()).max(400).default([]),
}).noUnknown()

/** Whether a student has to send what they ask of an office, since it takes no messages of ours. */
export const isByHand = (office: Pick<LoanOffice, 'manner'> | undefined): boolean => office?.manner !== 'messages'

const isOnce = (names: readonly unknown[] = []): boolean => new Set(names).size === names.length

/** With the key of its library before it, an id has to fit where ids are kept. */
const LONGEST_ID = 24
const ownCatalogue = catalogueShape
  .shape({ id: (reach(catalogueShape, 'id') as StringSchema<string>).max(LONGEST_ID) })
  .test('addresses', NO_ADDRESS, x => [x.sru, x.oai].every(a => !a || isAddress(a)))
  .noUnknown()

/** What a library is known by: a file that can be written, brought in and given on. */
export const libraryShape = object({
  name: string().trim().required('The name of the library.').max(200),
  /** Town, university: what it is told by from others of its name. */
  place: string().trim().max(200).default(''),
  /** Its catalogues, which are searched in Gather; their ids are its own. */
  catalogues: array(ownCatalogue.required())
    .max(20)
    .test('once', 'Two catalogues have one id.', list => isOnce(list?.map(x => x.id)))
    .default([]),
  /** Its KBART files, one a package. */
  holdings: array(holdingsFile.required()).max(400).default([]),
  gate: gateShape.default(undefined).optional(),
  shelf: shelfShape.default(undefined).optional(),
  office: officeShape.default(undefined).optional(),
  partners: array(partnerShape.required())
    .max(40)
    .test('once', 'Two partners have one name.', list => isOnce(list?.map(p => fold(String(p.name)))))
    .default([]),
  hours: array(hoursShape.required())
    .max(20)
    .test('once', 'Two calendars are of one branch.', list => isOnce(list?.map(h => fold(String(h.branch)))))
    .default([]),
  /** Where its link resolver takes OpenURL 1.0. */
  resolver: address().default(''),
  /** Networks on which its pages open without the gate, as CIDR. */
  campus: array(
    string()
      .trim()
      .required()
      .test('network', 'This is no network: 192.0.2.0/24, say.', v => ipaddr.isValidCIDR(v ?? '')),
  )
    .max(100)
    .default([]),
  /** Where it is told of what does not work. */
  contact: string().trim().email().max(200).default(''),
  /** What else one should know of it. */
  note: string().trim().max(2000).default(''),
}).noUnknown()
export type LibraryProfile = InferType<typeof libraryShape>
export type LoanOffice = NonNullable<LibraryProfile['office']>
export type Gate = NonNullable<LibraryProfile['gate']>
export type Partner = LibraryProfile['partners'][number]

/** Whether a machine stands in one of the networks of a library. */
export const onCampus = ({ campus }: Pick<LibraryProfile, 'campus'>, from: string): boolean => {
  if (!campus.length || !ipaddr.isValid(from)) return false
  const at = ipaddr.process(from)
  return campus.some(network => {
    const [first, bits] = ipaddr.parseCIDR(network)
    return first.kind() === at.kind() && at.match(first, bits)
  })
}

/** Addresses of a library that are asked from here. */
export const addressesOf = ({
  holdings,
  gate,
  resolver,
  catalogues,
  office,
  shelf,
  partners,
  hours,
}: LibraryProfile): string[] => [
  ...catalogues.flatMap(x => x.sru ?? x.oai ?? []),
  ...holdings.map(f => f.address).filter(a => !a.startsWith(BROUGHT)),
  ...(gate ? [beforeFields(gate.template), ...(gate.signIn ? [gate.signIn] : [])] : []),
  ...(resolver ? [resolver] : []),
  ...(office?.address ? [office.address] : []),
  ...(shelf ? [shelf.address] : []),
  ...partners.map(p => p.shelf.address),
  ...hours.flatMap(h => [h.opening, h.closed].filter(Boolean)),
]
