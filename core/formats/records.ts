import type { ReadRecord } from '../bib/item'
import { readDublinCore } from './dublin-core'
import { readMarcXml } from './marcxml'
import { readMods } from './mods'

/** Schemas of records that can be read here, the fuller first. */
export const SCHEMAS = ['marcxml', 'mods', 'dc'] as const
export type Schema = (typeof SCHEMAS)[number]

const readers: Record<Schema, (raw: string) => ReadRecord> = {
  mods: readMods,
  dc: readDublinCore,
  marcxml: readMarcXml,
}

/** Identifiers of the schemas that can be read here. */
const IDENTIFIERS: Record<Schema, RegExp> = {
  mods: /mods/i,
  dc: /\bdc\b|purl\.org\/dc|dublin|oai_dc/i,
  marcxml: /marc/i,
}

/** A schema as a server names it. */
interface Offered {
  name: string
  identifier: string
}

/** Those of what is offered that are the schema. */
export const offersOf = <T extends Offered>(schema: Schema, offered: readonly T[]): T[] =>
  offered.filter(s => s.name === schema || IDENTIFIERS[schema].test(`${s.name} ${s.identifier}`))

/** The best schema of those offered that can be read here: the fuller first. */
export const schemaFor = (offered: readonly Offered[]): Schema | undefined =>
  SCHEMAS.find(x => offersOf(x, offered).length)

/** Reads a record by the schema that was asked for, or else by the one that it came in. @throws Error where by none */
export function readRecord(schema: Schema, raw: string): ReadRecord {
  try {
    return readers[schema](raw)
  } catch (e) {
    for (const [name, read] of Object.entries(readers))
      try {
        if (name !== schema) return read(raw)
      } catch {
        // what is wrong is said of the schema that was wanted
      }
    throw e
  }
}
