import type { Transaction } from 'sequelize'
import type { Item } from '../../core/bib/item'
import { plainText } from '../../core/cite/rich-text'
import {
  checkStyle,
  findStyles,
  named,
  newerEdition,
  type NamedStyle,
  type StyleInfo,
} from '../../core/cite/style-info'
import { STYLES } from '../../core/cite/styles'
import type { Answer } from '../../core/schema/api'
import type { Context } from '../base/context'
import { decodeXml } from '../base/decode'
import { memory } from '../base/memory'
import { notFound, Problem } from '../base/problem'
import { inThread } from '../threads/threads'
import { bibliographyOf, type PrintStyle } from './format'
import type { OwnStyleRow } from './styles-model'

/** Styles that are told of at once. */
const MOST = 60
/** Styles that one user may bring. */
const MOST_OWN = 50

interface Here {
  styles: NamedStyle[]
  byId: Map<string, NamedStyle>
  languages: string[]
  unread: number
}

/** What is installed holds for an hour: the packages are renewed a few times a year, and reading all takes seconds. */
const here = memory<Here>({ holds: 3_600_000 })
const stylesHere = (c: Context): Promise<Here> =>
  here.get(c, '', async () => {
    const { styles, unread, languages } = await inThread('styles', { folder: c.settings.cslFolder })
    return { styles, byId: new Map(styles.map(s => [s.id, s])), languages, unread: unread.length }
  })

/** Those that are asked for most have a short name of their own. */
const shortNames = new Map<string, string>(STYLES.map(s => [s.id, s.name]))
const nameOf = (s: Pick<NamedStyle, 'id' | 'name'>): string => shortNames.get(s.id) ?? s.name

const ownId = (style: string): number | undefined => {
  const n = /^own-(\d{1,9})$/.exec(style)?.[1]
  return n === undefined ? undefined : Number(n)
}
const ownName = (id: number): string => `own-${id}`

/** It stands for a style that is not here any more. */
const LOST = 'apa'

/**
 * A style to print in. One that is not here any more costs nobody their list: another stands for it, which is said.
 * @param language the tag of a language, where it is not the style's own
 * @param asked another style, which an address names: one that somebody brought is seen where it was set alone
 */
export async function styleFor(
  c: Context,
  { style: set, language }: { style: string; language: string | null },
  asked?: string,
): Promise<PrintStyle & { trouble: string | null }> {
  const style = asked !== undefined && ownId(asked) === undefined ? asked : set
  const given = { folder: c.settings.cslFolder, ...(language ? { language } : {}) }
  const own = ownId(style)
  if (own !== undefined) {
    const row = await c.db.ownStyles.findByPk(own, { raw: true })
    if (row) return { ...given, style, name: row.info.name, xml: row.xml, trouble: null }
  }
  const name = shortNames.get(style) ?? (await stylesHere(c)).byId.get(style)?.name
  if (name !== undefined) return { ...given, style, name, trouble: null }
  const trouble = `The style “${style}” is not here any more. ${shortNames.get(LOST)} stands for it.`
  return { ...given, style: LOST, name: shortNames.get(LOST)!, trouble }
}

/** @throws Problem 422 where a style that somebody wants is none that they can have, or there are no words of its language */
export async function requireStyle(
  c: Context,
  userId: number,
  { style, language }: { style: string; language: string | null },
): Promise<void> {
  const own = ownId(style)
  const isThere =
    own === undefined
      ? shortNames.has(style) || (await stylesHere(c)).byId.has(style)
      : (await c.db.ownStyles.count({ where: { id: own, userId, dropped: false } })) > 0
  if (!isThere) throw new Problem(422, 'no-style', 'There is no such citation style here. Choose another one.')
  if (language !== null && !(await stylesHere(c)).languages.includes(language))
    throw new Problem(422, 'no-style', 'Citations cannot be written in that language here. Choose another one.')
}

const inEnglish = new Intl.DisplayNames(['en'], { type: 'language' })
/** What a language is called. @example languageName('de-AT') // 'Austrian German' */
const languageName = (tag: string): string => {
  try {
    return inEnglish.of(tag) ?? tag
  } catch {
    return tag
  }
}

/** Styles that have these words; without any, one's own and those that are asked for most. */
export async function stylesFor(c: Context, userId: number, words: string): Promise<Answer<'styles'>> {
  const { styles, byId, languages, unread } = await stylesHere(c)
  const rows = await c.db.ownStyles.findAll({
    where: { userId, dropped: false },
    attributes: ['id', 'info'],
    order: ['id'],
    raw: true,
  })
  const own = rows.map(r => named(ownName(r.id), r.info))
  const common = STYLES.flatMap(s => byId.get(s.id) ?? [])
  const found = words.trim() ? findStyles([...own, ...styles], words) : [...own, ...common]
  return {
    styles: found.slice(0, MOST).map(s => told(s, styles, byId)),
    of: found.length,
    all: styles.length + own.length,
    unread,
    languages: languages
      .map(tag => ({ tag, name: languageName(tag) }))
      .toSorted((a, b) => a.name.localeCompare(b.name, 'en')),
  }
}

function told(s: NamedStyle, all: readonly NamedStyle[], byId: ReadonlyMap<string, NamedStyle>) {
  const parent = s.parent && byId.get(s.parent)
  const newer = newerEdition(s, all)
  return {
    id: s.id,
    name: nameOf(s),
    manner: s.manner ?? null,
    fields: s.fields,
    language: s.language ? languageName(s.language) : null,
    updated: s.updated ?? null,
    printsAs: parent ? nameOf(parent) : (s.parent ?? null),
    newer: newer ? { id: newer.id, name: nameOf(newer) } : null,
    isOwn: ownId(s.id) !== undefined,
  }
}

/** A newer edition of a style that is printed in. */
export async function newerThan(c: Context, style: string): Promise<{ id: string; name: string } | null> {
  // those asked for most are of the newest edition, which is tested
  if (shortNames.has(style)) return null
  const { styles, byId } = await stylesHere(c)
  const s = byId.get(style)
  return s ? told(s, styles, byId).newer : null
}

/**
 * Reads a style that somebody brings, and has it print.
 * @throws Problem 422 with what is wrong with it
 */
export async function readBrought(
  c: Context,
  userId: number,
  bytes: Buffer,
): Promise<Pick<OwnStyleRow, 'info' | 'xml'>> {
  const refuse = (message: string) => new Problem(422, 'not-a-style', `This file is not taken in. ${message}`)
  let info: StyleInfo
  let xml: string
  try {
    xml = decodeXml(bytes)
    info = checkStyle(xml)
  } catch (e) {
    throw refuse(e instanceof Error ? e.message : String(e))
  }
  const { byId } = await stylesHere(c)
  if (info.parent && !byId.has(info.parent))
    throw refuse(`It prints as the style “${info.parent}”, which is not here. Bring that one.`)
  if ((await c.db.ownStyles.count({ where: { userId, dropped: false } })) >= MOST_OWN)
    throw refuse(`You brought ${MOST_OWN} already: drop one first.`)
  const style = { folder: c.settings.cslFolder, style: '', name: info.name, xml }
  const { entries } = await bibliographyOf(style, [SAMPLES])
  if (entries.every(e => e.isPlain)) throw refuse('It prints nothing of a work.')
  return { info, xml }
}

/** Keeps a style that was brought. */
export async function keepStyle(
  c: Context,
  row: Pick<OwnStyleRow, 'userId' | 'info' | 'xml'>,
  transaction: Transaction,
): Promise<Answer<'bringStyle'>> {
  const { styles, byId } = await stylesHere(c)
  const { id } = await c.db.ownStyles.create({ ...row, dropped: false }, { transaction })
  return told(named(ownName(id), row.info), styles, byId)
}

/** It is offered no more; what is set in it stays so. @throws Problem 404 */
export async function dropStyle(c: Context, userId: number, style: string): Promise<void> {
  const [n] = await c.db.ownStyles.update({ dropped: true }, { where: { id: ownId(style) ?? 0, userId } })
  if (!n) throw notFound()
}

/** Three made-up works as a style prints them. @throws Problem 404, 422 where it cannot */
export async function sampleOf(
  c: Context,
  userId: number,
  { style, language }: { style: string; language: string | null },
): Promise<Answer<'styleSample'>> {
  await requireStyle(c, userId, { style, language })
  const { entries, hangingIndent } = await bibliographyOf(await styleFor(c, { style, language }), [SAMPLES])
  return {
    hangingIndent,
    entries: entries.map(e => ({ label: e.label ?? null, citation: e.citation, inText: plainText(e.inText) })),
  }
}

const SAMPLES: readonly Item[] = [
  {
    id: 'article',
    type: 'article-journal',
    title: 'Street lamps and the visits of moths: a field test',
    author: [
      { family: 'Bergoja', given: 'Ilse M.' },
      { family: 'Okafor', given: 'Ada B.' },
      { family: 'Tamm', given: 'Rein' },
    ],
    'container-title': 'Papers in Night Ecology',
    volume: '12',
    issue: '3',
    page: '214-229',
    issued: { 'date-parts': [[2021, 9, 14]] },
    DOI: '10.5555/pne.12.3.214',
  },
  {
    id: 'book',
    type: 'book',
    title: 'The courtship of moths',
    author: [{ family: 'Ekwuford', given: 'Nnamdi' }],
    publisher: 'Chalk Pit Academic',
    'publisher-place': 'Halverane',
    edition: '2',
    issued: { 'date-parts': [[2016]] },
    ISBN: '978-0-00-000000-2',
  },
  {
    id: 'chapter',
    type: 'chapter',
    title: 'Towns that switch off',
    author: [
      { family: 'Quilluchi', given: 'Sol' },
      { family: 'Whitmore', given: 'Jane' },
    ],
    editor: [{ family: 'Szélomba', given: 'Éva' }],
    'container-title': 'Light after dark',
    publisher: 'Lantern Hill',
    'publisher-place': 'Ostermoor',
    page: '61-88',
    issued: { 'date-parts': [[2018]] },
  },
]
