import { all, first, readXml, textOf, type Xml } from './xml'

/** One record of a repository, or that it was taken back. */
export interface OaiRecord {
  identifier: string
  /** When it was last changed, as the repository writes it. */
  stamp: string
  deleted: boolean
  /** Its metadata as they came; empty of one that was taken back. */
  raw: string
}

/** One answer to ListRecords. */
export interface OaiPage {
  /** When the repository answered, by its own clock. */
  at?: string
  records: OaiRecord[]
  /** Records without a name or without metadata, each with why. */
  unread: { place: number; why: string }[]
  /** What the next page is asked by. */
  token?: string
  /** How many the whole list has, where it says. */
  size?: number
  /** What the repository says went wrong, by the standard's codes. */
  errors: { code: string; said: string }[]
}

/** What a repository says of itself. */
export interface OaiIdentity {
  name: string
  /** Whether its dates have the time of the day. */
  seconds: boolean
  /** Whether it tells what was taken back: always, for a while, or not. */
  deletes: 'persistent' | 'transient' | 'no'
}

function rootOf(xml: string, asItCame?: string): Xml {
  const root = first(readXml(xml, asItCame), 'OAI-PMH') as Xml | undefined
  if (!root) throw new Error('The answer is not that of a repository (OAI-PMH).')
  return root
}

const errorsOf = (root: Xml): OaiPage['errors'] =>
  all(root, 'error').map(e => ({ code: String(e['@code'] ?? ''), said: textOf(e) ?? String(e['@code'] ?? 'an error') }))

/** Reads an answer to ListRecords (OAI-PMH 2.0). @throws Error where it is none, or broken XML */
export function readOaiPage(xml: string): OaiPage {
  const root = rootOf(xml, 'metadata')
  const list = first(root, 'ListRecords')
  const records: OaiRecord[] = []
  const unread: OaiPage['unread'] = []
  for (const [i, r] of all(list, 'record').entries()) {
    const header = first(r, 'header') as Xml | undefined
    const identifier = textOf(first(header, 'identifier'))
    const deleted = header?.['@status'] === 'deleted'
    const raw = ((first(r, 'metadata') as Xml | undefined)?.['#raw'] as string | undefined) ?? ''
    if (!identifier) unread.push({ place: i + 1, why: 'It has no identifier.' })
    else if (!deleted && !raw.startsWith('<')) unread.push({ place: i + 1, why: `${identifier} has no metadata.` })
    else records.push({ identifier, stamp: textOf(first(header, 'datestamp')) ?? '', deleted, raw: deleted ? '' : raw })
  }
  const resumption = first(list, 'resumptionToken')
  const token = textOf(resumption)
  const size = Number((resumption as Xml | undefined)?.['@completeListSize'] ?? NaN)
  const at = textOf(first(root, 'responseDate'))
  return {
    records,
    unread,
    errors: errorsOf(root),
    ...(at ? { at } : {}),
    ...(token ? { token } : {}),
    ...(Number.isInteger(size) && size >= 0 ? { size } : {}),
  }
}

/** Reads an answer to Identify. @throws Error where it is none */
export function readOaiIdentity(xml: string): OaiIdentity {
  const root = rootOf(xml)
  const identify = first(root, 'Identify')
  if (!identify) throw new Error(errorsOf(root)[0]?.said ?? 'The repository does not say what it is.')
  const deletes = textOf(first(identify, 'deletedRecord'))
  return {
    name: textOf(first(identify, 'repositoryName')) ?? 'unnamed repository',
    seconds: /hh:mm/i.test(textOf(first(identify, 'granularity')) ?? ''),
    deletes: deletes === 'persistent' || deletes === 'transient' ? deletes : 'no',
  }
}

/** Reads an answer to ListMetadataFormats: the prefix of each with the namespace of what it brings. */
export const readOaiFormats = (xml: string): { name: string; identifier: string }[] =>
  all(first(rootOf(xml), 'ListMetadataFormats'), 'metadataFormat').flatMap(f => {
    const name = textOf(first(f, 'metadataPrefix'))
    const identifier = textOf(first(f, 'metadataNamespace')) ?? textOf(first(f, 'schema')) ?? ''
    return name ? [{ name, identifier }] : []
  })

/** Reads an answer to ListSets; one that has none answers with an error, which is none here. */
export const readOaiSets = (xml: string): { spec: string; name: string }[] =>
  all(first(rootOf(xml), 'ListSets'), 'set').flatMap(s => {
    const spec = textOf(first(s, 'setSpec'))
    return spec ? [{ spec, name: textOf(first(s, 'setName')) ?? spec }] : []
  })
