import { plainTitle } from '../../core/bib/clean'
import { yearOf } from '../../core/bib/dates'
import { doiAddress } from '../../core/bib/identifiers'
import type { Item } from '../../core/bib/item'
import { authorLine, familyName } from '../../core/bib/names'
import { writeAtom } from '../../core/formats/atom'
import { notFound } from '../base/problem'
import type { Context } from '../base/context'
import { sendMail } from '../connect/mail'
import { sweepNewsOf, trailNewsOf, type News, type StandingRow } from './standing-model'

/** Entries of a feed, and of a letter. */
const [IN_FEED, IN_LETTER] = [200, 30]

/** Where a run is shown. */
const placeOfRun = (c: Context, { inquiryId, query }: StandingRow, run: number): string =>
  `${c.settings.address}/inquiries/${inquiryId}/${query === null ? 'trace?list=new' : `gather?sweep=${run}`}`

const sayRecord = ({ item, by }: News): string =>
  [authorLine(item.author ?? item.editor), item['container-title'] ?? item.publisher, yearOf(item), by]
    .filter(Boolean)
    .join(' · ')

/** A work by its author and year. */
const shortly = (item: Item): string =>
  [familyName(item.author?.[0] ?? item.editor?.[0] ?? {}) || `“${plainTitle(item.title)}”`, yearOf(item)]
    .filter(Boolean)
    .join(' ')

/** What was new in the runs, or in one of them, the latest first. */
async function newsOf(c: Context, s: StandingRow, most: number, run?: number, untold?: true): Promise<News[]> {
  const where = { standing: s.id, ...(run === undefined ? {} : { run }) }
  if (s.query !== null) return sweepNewsOf(c, where, most)
  const news = await trailNewsOf(c, { inquiry: s.inquiryId, ...where, ...(untold ? { untold } : {}) }, most)
  const ids = [...new Set(news.flatMap(x => [x.node, ...x.cited]))]
  const nodes = await c.db.nodes.findAll({ where: { id: ids }, attributes: ['id', 'item'], raw: true })
  const items = new Map(nodes.map(n => [n.id, n.item]))
  return news.map(({ node, run: of, at, cited }) => {
    const [first, ...others] = cited.map(id => shortly(items.get(id)!))
    const by = `cites ${first}${others.length ? ` and ${others.length} more of yours` : ''}`
    return { id: node, run: of, at, item: items.get(node)!, by }
  })
}

/** The news of what stands as a feed; whoever has its token may read it. */
export async function feedOf(c: Context, token: string): Promise<string> {
  const s = await c.db.standing.findOne({ where: { token }, raw: true })
  if (!s) throw notFound()
  const self = `${c.settings.address}/api/feeds/${s.token}.atom`
  const news = await newsOf(c, s, IN_FEED)
  return writeAtom({
    id: self,
    self,
    title: s.name,
    at: (news[0]?.at ?? new Date(s.at)).toISOString(),
    entries: news.map(x => ({
      id: `${self}#${x.id}`,
      title: plainTitle(x.item.title),
      at: x.at.toISOString(),
      authors: (x.item.author ?? []).map(n => [n.given, familyName(n)].filter(Boolean).join(' ')),
      link: x.item.DOI ? doiAddress('https://doi.org/', x.item.DOI) : placeOfRun(c, s, x.run),
      summary: sayRecord(x),
    })),
  })
}

/**
 * Tells by letter what is new in a run.
 * @param n how much is new
 * @param part distinguishes this letter from others about the same run
 * @throws OutsideError
 */
export async function tellNews(c: Context, s: StandingRow, run: number, n: number, part = ''): Promise<void> {
  const user = await c.db.users.findByPk(s.userId ?? 0, { raw: true })
  if (!user) return
  const news = await newsOf(c, s, IN_LETTER, run, true)
  const isTrail = s.query === null
  const what = isTrail
    ? `${n} ${n === 1 ? 'work newly cites' : 'works newly cite'} what “${s.name}” watches.`
    : `${n} ${n === 1 ? 'record is' : 'records are'} new in your standing sweep “${s.name}”.`
  await sendMail(c, {
    to: user.email,
    id: `standing-${s.token}-${run}${part}`,
    subject: `${n} new: ${s.name}`,
    text: [
      what,
      '',
      ...news.flatMap(x => [plainTitle(x.item.title), `  ${sayRecord(x)}`, '']),
      ...(n > news.length ? [`and ${n - news.length} more.`, ''] : []),
      `See them: ${placeOfRun(c, s, run)}`,
      `It runs again on ${s.nextDay}. To end these letters, open ${isTrail ? 'the standing trails' : 'the log'} of that inquiry.`,
    ].join('\n'),
  })
}
