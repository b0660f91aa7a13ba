import { readFileSync, readdirSync } from 'node:fs'
import { join } from 'node:path'
import type { StyleFiles } from '../../core/cite/format'
import { named, NotAStyle, readStyleInfo, type NamedStyle } from '../../core/cite/style-info'

/** A style as a thread is told which it is. */
export interface StyleGiven {
  /** The folder where Debian's packages put styles and locales. */
  folder: string
  /** The name of its file. */
  style: string
  /** Its XML, where it is not among those of the folder. */
  xml?: string | undefined
  /** It prints in the order of what it is given, and not as it sorts. */
  inOrder?: boolean
  /** The language that is printed, where it is not the style's own. */
  language?: string | undefined
}

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

const inFolder = (folder: string, style: string): string | undefined =>
  /^[\w-]+$/.test(style)
    ? (read(join(folder, 'styles', `${style}.csl`)) ?? read(join(folder, 'styles', 'dependent', `${style}.csl`)))
    : undefined

/**
 * The CSL files of a style. One that prints as another is that other, in the language that it names itself.
 * @throws Error where it is not there, or the one as which it prints
 */
export function styleFiles({
  folder,
  style,
  xml = inFolder(folder, style),
  language,
  inOrder = false,
}: StyleGiven): StyleFiles {
  if (!xml) throw new Error(`The style ${style} is not installed in ${folder}.`)
  const locale = (lang: string) =>
    /^[\w-]+$/.test(lang) ? read(join(folder, 'locales', `locales-${lang}.xml`)) : undefined
  const info = readStyleInfo(xml)
  if (!info.parent) return { style: xml, locale, language, inOrder }
  const parent = inFolder(folder, info.parent)
  if (!parent) throw new NotAStyle(`It prints as the style “${info.parent}”, which is not here.`)
  return { style: parent, locale, language: language ?? info.language, inOrder }
}

/** All styles of a folder as they name themselves, and those that could not be read. */
export function stylesIn(folder: string): { styles: NamedStyle[]; unread: string[] } {
  const styles: NamedStyle[] = []
  const unread: string[] = []
  for (const sub of ['', 'dependent'])
    for (const file of filesOf(join(folder, 'styles', sub))) {
      const id = file.slice(0, -'.csl'.length)
      try {
        styles.push(named(id, readStyleInfo(readFileSync(join(folder, 'styles', sub, file), 'utf8'))))
      } catch {
        unread.push(id)
      }
    }
  return { styles, unread }
}

/** The languages for which a folder has words. */
export const languagesIn = (folder: string): string[] =>
  readdirSync(join(folder, 'locales'))
    .flatMap(f => /^locales-([\w-]+)\.xml$/.exec(f)?.[1] ?? [])
    .toSorted()

function filesOf(folder: string): string[] {
  try {
    return readdirSync(folder).filter(f => f.endsWith('.csl'))
  } catch {
    return []
  }
}
