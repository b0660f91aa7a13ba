import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import type { StyleFiles } from '../../core/cite/format'

const files = new Map<string, string | undefined>()
function read(path: string): string | undefined {
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
