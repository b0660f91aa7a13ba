import { yearOf } from '../../core/bib/dates'
import type { Item } from '../../core/bib/item'
import type { Cite } from '../../core/cite/format'
import { plainText, type RichRun } from '../../core/cite/rich-text'
import { arrange, type Section } from '../../core/paper/arrange'
import { LAYOUT, type Layout } from '../../core/paper/layout'
import { citingsIn, placesOf, type CitedPlace, type Mark } from '../../core/write/written'
import { notFound } from '../base/problem'
import type { Context } from '../base/context'
import type { InquiryRow } from '../inquiries/inquiries-model'
import type { WorkRow } from '../pool/pool-model'
import { heirsOf } from '../deeds/family'
import { bibliographyOf, citesOf, type PrintStyle } from '../styles/format'
import { styleFor } from '../styles/styles-service'
import type { EntryRow } from './compose-model'
import { withJoined } from './joined-entries'

type EntryOfWork = EntryRow & { work: WorkRow }

export const layoutOf = ({ layout }: Pick<InquiryRow, 'layout'>): Layout => ({ ...LAYOUT, ...layout })

/** The entries of an inquiry with their works, as they came. */
export async function entriesOf(c: Context, inquiryId: number, style?: string) {
  const [inquiry, rows, strands] = await Promise.all([
    c.db.inquiries.findByPk(inquiryId, { raw: true }),
    c.db.entries.findAll({ where: { inquiryId }, include: 'work', order: ['id'] }),
    c.db.strands.scope('standing').findAll({ where: { inquiryId }, attributes: ['id', 'name'], raw: true }),
  ])
  if (!inquiry) throw notFound()
  const list = await withJoined(
    c,
    rows.map(r => r.get({ plain: true }) as EntryOfWork),
  )
  return { inquiry, list, strands, layout: layoutOf(inquiry), style: await styleFor(c, inquiry, style) }
}

/** The same in the order in which they print, in its sections. */
export async function printedList(c: Context, inquiryId: number, asked?: string) {
  const of = await entriesOf(c, inquiryId, asked)
  const { list, layout } = of
  const items = list.map(e => itemOf(e, e.id))
  const asStyled = await bibliographyOf(of.style, [items])
  const byId = new Map(list.map(e => [e.id, e]))
  const sections = arrange(
    asStyled.entries.map(f => {
      const { id, place, work } = byId.get(Number(f.id))!
      return { id, place, year: yearOf(work.item), strands: work.said?.strands ?? [] }
    }),
    layout.order,
    of.strands.map(s => s.id),
  )
  const style = { ...of.style, inOrder: layout.order !== 'style' }
  const bibliography = style.inOrder
    ? await bibliographyOf(
        style,
        sections.map(s => s.entries.map(id => itemOf(byId.get(id)!, id))),
      )
    : asStyled
  const inOrder = bibliography.entries.map(f => ({ ...f, entry: byId.get(Number(f.id))! }))
  return { ...of, style, bibliography, inOrder, sections: named(sections, of.strands) }
}

const itemOf = ({ work }: EntryOfWork, id: number): Item => ({ ...work.item, id: String(id) })

export interface NamedSection extends Section {
  /** Its heading, where there is one. */
  heading: string | null
}

/** Headings where there are strands; what is on none of them comes last. */
const named = (sections: readonly Section[], strands: readonly { id: number; name: string }[]): NamedSection[] =>
  sections.map(s => ({
    ...s,
    heading: strands.find(x => x.id === s.strand)?.name ?? (sections.length > 1 ? 'Other works' : null),
  }))

/**
 * The works of the list, with others behind them, in the order in which citing counts them, and the style that cites them
 * so: numbers and year suffixes are those of the list that is handed in.
 * @param beside works of the inquiry that are cited, on the list or not
 * @returns items whose ids are those of their works
 */
export async function listForCiting(c: Context, inquiryId: number, beside: readonly number[], asked?: string) {
  const { works: listed, style } = await listedWorks(c, inquiryId, asked)
  const ids = [...new Set([...listed, ...beside])]
  const rows = await c.db.works.findAll({ where: { inquiryId, id: ids }, attributes: ['id', 'item'], raw: true })
  const of = new Map(rows.map(w => [w.id, w.item]))
  return { style, items: ids.flatMap((id): Item[] => (of.has(id) ? [{ ...of.get(id)!, id: String(id) }] : [])) }
}

const isRaised = (runs: readonly RichRun[]) => runs.length > 0 && runs.every(r => r.raised === 'super')
/** A citation in a text as it is told. */
export const saidOf = (runs: readonly RichRun[]) => ({ inText: plainText(runs), raised: isRaised(runs) })

/**
 * How the citations in texts read in the style, and the works that each is of now; those with a work that is gone are not
 * among them.
 */
export async function citedNow(
  c: Context,
  inquiryId: number,
  texts: readonly { marks: readonly Mark[] }[],
  asked?: string,
) {
  const all = citingsIn(texts)
  if (!all.length) return []
  // what was joined into another work is cited as that
  const heir = await heirsOf(
    c,
    inquiryId,
    all.flatMap(placesOf).map(p => p.work),
  )
  const wanted = all.flatMap(citing => {
    const places = placesOf(citing).map(p => ({ ...p, work: heir.get(p.work) }))
    return places.every(hasWork) ? [{ citing, places }] : []
  })
  const { items, style } = await listForCiting(
    c,
    inquiryId,
    wanted.flatMap(w => w.places.map(p => p.work)),
    asked,
  )
  const runs = await citesOf(
    style,
    items,
    wanted.map(({ places, citing: { named } }) => citeOf(places, named)),
  )
  return wanted.map(({ citing, places }, i) => {
    const { inText, raised } = saidOf(runs[i]!)
    return { citing, works: places.map(p => p.work), text: inText, raised }
  })
}
const hasWork = (p: { work: number | undefined; page: string }): p is CitedPlace => p.work !== undefined
/** Works cited together, as the formatter takes them: by the ids of the list, each place once. */
export const citeOf = (places: readonly CitedPlace[], named: boolean): Cite => ({
  of: [...new Map(places.map(({ work, page }) => [`${work} ${page}`, { id: String(work), page }])).values()],
  named,
})

async function listedWorks(
  c: Context,
  inquiryId: number,
  asked: string | undefined,
): Promise<{ works: number[]; style: PrintStyle }> {
  const inquiry = await c.db.inquiries.findByPk(inquiryId, { attributes: ['style', 'language', 'layout'], raw: true })
  if (!inquiry) throw notFound()
  if (layoutOf(inquiry).order !== 'style') {
    const { style, inOrder } = await printedList(c, inquiryId, asked)
    return { works: inOrder.map(e => e.entry.workId), style }
  }
  const entries = await c.db.entries.findAll({
    where: { inquiryId },
    attributes: ['workId'],
    include: { association: 'work', attributes: [], where: { successorId: null } },
    order: ['id'],
    raw: true,
  })
  return { works: entries.map(e => e.workId), style: await styleFor(c, inquiry, asked) }
}

/** The item with an id that stays: that of the work, unless it came with one of its own. */
export const exportedItem = (item: Item, workId: number): Item => ({ ...item, id: item.id || `work-${workId}` })

/** What is written around the list of an inquiry, by its place. */
export async function textsOf(c: Context, inquiryId: number) {
  const rows = await c.db.listTexts.findAll({ where: { inquiryId }, order: ['place'], raw: true })
  return rows.map(({ place, content, marks, version }) => ({ place, content, marks, version }))
}
