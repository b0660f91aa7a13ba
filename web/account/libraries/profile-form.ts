import { fold } from '../../../core/bib/fold'
import type { Gate, LibraryProfile, LoanOffice, Partner } from '../../../core/schema/library'

/** A catalogue as the form has it: one address, and what is asked there. */
export interface CatalogueForm {
  id: string
  name: string
  address: string
  by: 'sru' | 'oai'
  schema: LibraryProfile['catalogues'][number]['schema']
  set: string
  openCopies: boolean
}
const catalogueForm = (x: LibraryProfile['catalogues'][number]): CatalogueForm => ({
  ...{ id: x.id, name: x.name, schema: x.schema, set: x.set ?? '', openCopies: x.openCopies },
  ...(x.oai ? { address: x.oai, by: 'oai' as const } : { address: x.sru ?? '', by: 'sru' as const }),
})

/** @param others ids that are taken */
const catalogueOf = (
  { id, name, address, by, schema, set, openCopies }: CatalogueForm,
  others: ReadonlySet<string>,
): LibraryProfile['catalogues'][number] => ({
  ...{ id: id || idFor(name, others), name, schema, openCopies },
  ...(by === 'sru' ? { sru: address } : { oai: address }),
  ...(set && by === 'oai' ? { set } : {}),
})

/** An id from the name, that no other has. */
function idFor(name: string, others: ReadonlySet<string>): string {
  const plain = fold(name)
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^[^a-z]+|-$/g, '')
    .slice(0, 20)
  const base = plain || 'catalogue'
  for (let n = 1; ; n++) {
    const id = n === 1 ? base : `${base}-${n}`
    if (!others.has(id)) return id
  }
}

/** A profile as a form has it: one line a network, and a gate that is there or not. */
export interface ProfileForm extends Omit<
  LibraryProfile,
  'campus' | 'gate' | 'catalogues' | 'office' | 'shelf' | 'partners'
> {
  catalogues: CatalogueForm[]
  /** The address at which its shelves are asked, and what it is called there, by commas. */
  shelf: string
  named: string
  partners: PartnerForm[]
  networks: string
  hasGate: boolean
  gate: Gate
  hasOffice: boolean
  office: Omit<LoanOffice, 'scan' | 'book' | 'scanLasts'> & {
    scan: PaceForm
    book: PaceForm
    scanLasts: string | number
  }
}
/** A partner as the form has it: its signs by commas, its days as they are written. */
interface PartnerForm extends Pick<Partner, 'name' | 'place' | 'symbol' | 'visit'> {
  address: string
  named: string
  scan: PaceForm
  book: PaceForm
}
/** Days as they are written. */
interface PaceForm {
  low: string | number
  high: string | number
}

const NO_GATE: Gate = { manner: 'form', template: '', signIn: '', suffix: '', terms: '' }
const FIELDS = { card: 'card', password: 'password', also: [] }
const NO_PACE: PaceForm = { low: '', high: '' }
const NO_OFFICE = {
  ...{
    manner: 'messages' as const,
    address: '',
    mail: '',
    symbol: '',
    ours: '',
    terms: '',
    pickUp: '',
    keepsScan: 14,
    scanLasts: '' as string | number,
    keepsBook: 7,
  },
  ...{ weekend: [6, 7], closed: [] },
}
/** Nothing is written where it sends no such. */
const paceOf = ({ low, high }: PaceForm) => (low === '' && high === '' ? {} : { low, high })
const pacesOf = (of: { scan: PaceForm; book: PaceForm }): Pick<LoanOffice, 'scan' | 'book'> => {
  const paces = Object.entries({ scan: of.scan, book: of.book }).filter(([, p]) => Object.keys(paceOf(p)).length)
  // what is written stays as it is: the shape says what is wrong with it
  return Object.fromEntries(paces)
}
const officeOf = ({ scan, book, scanLasts, ...rest }: ProfileForm['office']): LoanOffice => ({
  ...rest,
  scanLasts: scanLasts === '' ? null : (scanLasts as number),
  ...pacesOf({ scan, book }),
})

export const NO_PARTNER: PartnerForm = {
  ...{ name: '', place: '', address: '', named: '', symbol: '', visit: 'no' },
  ...{ scan: NO_PACE, book: NO_PACE },
}
const listed = (text: string): string[] => text.split(',').flatMap(s => s.trim() || [])
const shelfOf = ({ address, named }: { address: string; named: string }) => ({ address, named: listed(named) })
const partnerForm = ({ shelf, scan, book, ...rest }: Partner): PartnerForm => ({
  ...rest,
  ...{ address: shelf.address, named: shelf.named.join(', '), scan: scan ?? NO_PACE, book: book ?? NO_PACE },
})
const partnerOf = ({ address, named, scan, book, ...rest }: PartnerForm): Partner => ({
  ...rest,
  ...{ shelf: shelfOf({ address, named }), ...pacesOf({ scan, book }) },
})

export const formOf = ({
  campus,
  gate,
  catalogues,
  office,
  shelf,
  partners,
  ...rest
}: LibraryProfile): ProfileForm => ({
  ...rest,
  catalogues: catalogues.map(catalogueForm),
  shelf: shelf?.address ?? '',
  named: shelf?.named.join(', ') ?? '',
  partners: partners.map(partnerForm),
  networks: campus.join('\n'),
  hasGate: gate !== undefined,
  gate: { ...NO_GATE, ...gate, fields: gate?.fields ?? FIELDS },
  hasOffice: office !== undefined,
  office: {
    ...{ ...NO_OFFICE, ...office, scanLasts: office?.scanLasts ?? '' },
    ...{ scan: office?.scan ?? NO_PACE, book: office?.book ?? NO_PACE },
  },
})
export function profileOf({
  networks,
  hasGate,
  gate,
  hasOffice,
  office,
  catalogues,
  shelf,
  named,
  partners,
  ...rest
}: ProfileForm): LibraryProfile {
  const ids = new Set(catalogues.map(x => x.id).filter(Boolean))
  return {
    ...rest,
    catalogues: catalogues.map(x => {
      const made = catalogueOf(x, ids)
      ids.add(made.id)
      return made
    }),
    campus: networks.split(/\s+/).filter(Boolean),
    partners: partners.map(partnerOf),
    ...(shelf.trim() ? { shelf: shelfOf({ address: shelf, named }) } : {}),
    ...(hasGate ? { gate } : {}),
    ...(hasOffice ? { office: officeOf(office) } : {}),
  }
}

/** Where the form has what a profile has elsewhere. */
export const atField = (path: string): string =>
  path.startsWith('campus')
    ? 'networks'
    : path.startsWith('shelf.named')
      ? 'named'
      : path.startsWith('shelf')
        ? 'shelf'
        : path
            .replace(/\[(\d+)\]/g, '.$1')
            .replace(/^(catalogues\.\d+)(\.(sru|oai))?$/, '$1.address')
            .replace(/^(partners\.\d+)\.shelf\.(address|named).*$/, '$1.$2')
