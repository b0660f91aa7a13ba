import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { formatBibliography, type Bibliography, type StyleFiles } from '../../core/cite/format'
import type { Item } from '../../core/bib/item'
import { hashOf } from '../hash'

const files = new Map<string, string | undefined>()
const read = (path: string): string | undefined => {
  if (!files.has(path)) {
    try {
      files.set(path, readFileSync(path, 'utf8'))
    } catch {
      files.set(path, undefined)
    }
  }
  return files.get(path)
}

/** The CSL files of a style, from the folder where Debian's packages put them. */
export function styleFiles(folder: string, style: string): StyleFiles {
  const xml = read(join(folder, 'styles', `${style}.csl`))
  if (!xml) throw new Error(`The style ${style} is not installed in ${folder}.`)
  return { style: xml, locale: lang => read(join(folder, 'locales', `locales-${lang}.xml`)) }
}

const made = new Map<string, Bibliography>()

/** Formats a list; the same list in the same style is formatted once. */
export function bibliographyOf(folder: string, style: string, items: readonly Item[]): Bibliography {
  const key = `${style} ${hashOf(JSON.stringify(items))}`
  const have = made.get(key)
  if (have) return have
  const b = formatBibliography(items, styleFiles(folder, style))
  if (made.size > 60) made.delete(made.keys().next().value!)
  made.set(key, b)
  return b
}
