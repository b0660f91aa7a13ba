import { isSureToday } from '../../core/access/partners'
import {
  afterWalk,
  findRoutes,
  stillWalked,
  wayKey,
  type Known,
  type OpenCopy,
  type Route,
  type RouteAnswer,
} from '../../core/access/routes'
import type { ShelfAnswer } from '../../core/access/shelf'
import { sayIso } from '../../core/access/coverage'
import { normaliseDoi } from '../../core/bib/identifiers'
import type { Item } from '../../core/bib/item'
import type { Query } from '../../core/query/cql'
import type { Context } from '../base/context'
import { heirsOf } from '../deeds/family'
import type { WorkRow } from '../pool/pool-model'
import { deskDay } from '../db/desk-day'
import { OutsideError } from '../connect/http'
import { Patience } from '../connect/patience'
import { search } from '../catalogues/catalogue'
import { readRecord } from '../../core/formats/records'
import { change } from '../db/revision'
import type { JobHandle } from '../jobs/queue'
import { Problem } from '../base/problem'
import { notKnown } from '../../core/access/profile'
import type { CatalogueSetting } from '../connect/sru-client'
import { cataloguesFor } from '../library/catalogues'
import { profilesFor, refreshHoldings } from '../library/holdings'
import { hoursOf, renewHours } from '../library/hours'
import { librariesOf, type Library } from '../library/libraries'
import { askPartners } from '../library/partners'
import { askShelves, shelvesOf } from '../library/shelves'

/** Looks for the routes of works: holdings of the libraries of the inquiry, open copies of the repositories. */
export async function runRouteSearch(
  c: Context,
  { job, signal, progress }: JobHandle,
): Promise<Record<string, unknown>> {
  const inquiryId = job.inquiryId!
  const inquiry = await c.db.inquiries.findByPk(inquiryId, { raw: true })
  if (!inquiry) throw new Problem(404, 'gone', 'The inquiry is gone.')
  const wanted = job.payload.works as number[]
  // what was joined into another since is looked for as that
  const ids = [...(await heirsOf(c, inquiryId, wanted)).values()]
  const works = await c.db.works.scope('living').findAll({ where: { id: ids }, raw: true })
  const today = await deskDay(c.db)
  const ownLibraries = await librariesOf(c, inquiryId)
  const missing = await refreshHoldings(c, ownLibraries)
  await renewHours(c, ownLibraries, signal)
  const hours = await hoursOf(c, ownLibraries)
  const catalogues = await cataloguesFor(c, inquiryId)
  const done = new Set((job.progress.done as number[] | undefined) ?? [])
  const troubles = new Set<string>()
  const patience = new Patience()
  for (const w of works) {
    if (done.has(w.id)) continue
    signal.throwIfAborted()
    const libraries = await profilesFor(c, inquiryId, [w.item])
    const lacking = libraries.find(l => l.unread?.length)
    const unread = lacking && notKnown(lacking)
    const { open, trouble } = await openCopies(c, w, catalogues, patience, signal)
    const { shelves, silent, why } = await onShelves(c, w.item, ownLibraries, today, patience, signal)
    const row = await c.db.routes.findOne({ where: { workId: w.id }, attributes: ['routes'], raw: true })
    const before = row?.routes ?? []
    const shelvesBefore = asBefore(before, r => !r.partner && silent.includes(r.library?.key ?? ''))
    const known = {
      ...{ libraries, shelves, shelvesBefore, open, hours, today },
      ...{ due: inquiry.due ?? '9999-12-31', resolver: c.settings.outside.resolver },
    }
    const { answer, why: far } = await withPartners(c, w, ownLibraries, { known, before, patience, signal })
    for (const t of [trouble, why, far]) if (t) troubles.add(t)
    const closed = [...answer.closed, ...(missing ? [missing] : [])]
    await change(c, inquiryId, async (t, revision) => {
      const now = await c.db.routes.findOne({ where: { workId: w.id }, transaction: t, raw: true })
      await c.db.routes.upsert(
        {
          workId: w.id,
          inquiryId,
          routes: stillWalked(answer.routes, now?.routes ?? [], today),
          closed,
          deskDay: today,
          trouble: trouble ?? why ?? far ?? missing ?? unread ?? null,
        },
        { transaction: t },
      )
      await c.db.works.update({ revision }, { where: { id: w.id }, transaction: t })
    })
    done.add(w.id)
    await progress({ done: [...done], of: works.length })
  }
  return { works: done.size, troubles: [...troubles] }
}

/** Ways by what does not answer now, as they were before they were walked: it has not said no. */
const asBefore = (before: readonly Route[], isSilent: (r: Route) => boolean): Route[] =>
  before.filter(r => r.shelf?.day && isSilent(r)).flatMap(r => afterWalk([r], wayKey(r), undefined))

/** The ways to a text; partners are asked where none is sure, since others are not troubled for what lies at hand. */
async function withPartners(
  c: Context,
  { item, facts }: WorkRow,
  libraries: readonly Library[],
  o: { known: Known; before: readonly Route[]; patience: Patience; signal: AbortSignal },
): Promise<{ answer: RouteAnswer; why?: string }> {
  const { known, before, ...asking } = o
  const { today } = known
  const answer = findRoutes(item, facts, known)
  if (!libraries.some(l => l.partners.length)) return { answer }
  if (isSureToday(stillWalked(answer.routes, before, today), today)) {
    const said = `Partners were not asked on ${sayIso(today)}: there was a sure way without them.`
    return { answer: { ...answer, closed: [...answer.closed, said] } }
  }
  const { answers: partners, silent, ...far } = await askPartners(c, libraries, item, { day: today, ...asking })
  const partnersBefore = asBefore(before, r => r.partner !== undefined && silent.includes(r.partner))
  return { answer: findRoutes(item, facts, { ...known, partners, partnersBefore }), ...far }
}

/** What the shelves of the libraries have of a work, the keys of those that do not answer, and why. */
async function onShelves(
  c: Context,
  item: Item,
  libraries: readonly Library[],
  today: string,
  patience: Patience,
  signal: AbortSignal,
): Promise<{ shelves: ShelfAnswer[]; silent: string[]; why?: string }> {
  const shelves: ShelfAnswer[] = []
  const silent: string[] = []
  let why: string | undefined
  for (const library of libraries) {
    const own = shelvesOf(library)
    if (!own) continue
    try {
      const there = await patience.ask(own.address, () => askShelves(c, own, item, today, signal))
      if (there) shelves.push({ ...there, library: { key: library.key, name: library.name } })
    } catch (e) {
      if (!(e instanceof OutsideError)) throw e
      silent.push(library.key)
      why = `${e.message} What is in now on the shelves of ${library.name} is not known.`
    }
  }
  return { shelves, silent, ...(why ? { why } : {}) }
}

/** Copies open to all that the repositories have of a work, asked by DOI. */
async function openCopies(
  c: Context,
  w: WorkRow,
  catalogues: readonly CatalogueSetting[],
  patience: Patience,
  signal: AbortSignal,
): Promise<{ open: OpenCopy[]; trouble?: string }> {
  const doi = normaliseDoi(w.item.DOI)
  const open: OpenCopy[] = []
  // what the work's own records say
  const records = await c.db.records.findAll({ where: { workId: w.id }, attributes: ['facts', 'source'], raw: true })
  for (const r of records)
    if (r.facts.openUrl)
      open.push(copyOf(r.facts as Required<typeof r.facts>, catalogues.find(x => x.id === r.source)?.name ?? r.source))
  if (!doi) return { open }
  let trouble: string | undefined
  for (const repository of catalogues.filter(x => x.openCopies)) {
    const query: Query = { root: { kind: 'clause', index: 'doi', relation: '==', modifiers: [], term: doi } }
    try {
      const page = await patience.ask(repository.id, () => search(c, repository, query, 1, 5, signal))
      for (const r of page.records) {
        const { item, facts } = readRecord(repository.schema, r.raw)
        if (facts.openUrl && normaliseDoi(item.DOI) === doi)
          open.push(copyOf({ ...facts, openUrl: facts.openUrl }, repository.name))
      }
    } catch (e) {
      if (!(e instanceof OutsideError)) throw e
      trouble = `${e.message} Open copies there may be missing.`
    }
  }
  return { open, ...(trouble ? { trouble } : {}) }
}

const copyOf = (
  f: { openUrl: string; version?: OpenCopy['version']; embargoUntil?: string },
  from: string,
): OpenCopy => ({
  url: f.openUrl,
  version: f.version ?? 'accepted manuscript',
  from,
  ...(f.embargoUntil ? { embargoUntil: f.embargoUntil } : {}),
})
