import { readBibtex } from './bibtex'
import { readCslJson } from './csl-json'
import { readXmlFile } from './library-files'
import { readRis } from './ris'
import type { Facts, Item } from '../bib/item'

export type FileFormat = 'BibTeX' | 'RIS' | 'CSL-JSON' | 'MARC 21' | 'MODS' | 'Dublin Core'

export interface ReadEntry {
  item: Item
  facts: Facts
  /** The entry exactly as it stands in the file. */
  raw: string
  /** Line of the file it begins on, counted from 1. */
  line: number
  /** What was mended or could not be carried, a sentence each. */
  mended: string[]
}

export interface RefusedEntry {
  line: number
  why: string
  /** The first 200 characters of what stands there. */
  excerpt: string
}

export interface ReadFile {
  format: FileFormat
  entries: ReadEntry[]
  refused: RefusedEntry[]
}

/**
 * Reads a bibliography file, its format told by its content: nobody's file extension is trusted.
 * Never throws for what stands in the file; a text that is none of the formats gives undefined.
 */
export function readBibliography(text: string): ReadFile | undefined {
  const clean = text.replace(/^\uFEFF/, '')
  if (/^\s*</.test(clean)) return readXmlFile(clean)
  const format = tellFormat(clean)
  if (!format) return undefined
  const read = { BibTeX: readBibtex, RIS: readRis, 'CSL-JSON': readCslJson }[format](clean)
  return { format, ...read }
}

function tellFormat(text: string): 'BibTeX' | 'RIS' | 'CSL-JSON' | undefined {
  if (/^\s*[[{]/.test(text) && !/^\s*\{\\rtf/.test(text)) return 'CSL-JSON'
  if (/^[ \t]*(?:TY {0,3}- ?|ty {1,3}- ?\w{2,8}[ \t]*$)/m.test(text)) return 'RIS'
  if (/^[ \t]*@\s*\w+\s*[{(]/m.test(text)) return 'BibTeX'
  return undefined
}
