/**
 * Whether a text is told from those that only speak of its work: first pages in the manners of many makers
 * (`bench/proof/closed.txt`), which count; and copies of a made-up world, drawn and read as on the server: of the work
 * itself, of what corrects or reviews it, of its neighbour in the journal.
 * npx tsx bench/proof.ts [copies of each]      SHOW=1 prints what was wrong
 */
import { readFileSync } from 'node:fs'
import { leadOf } from '../core/appraise/leads'
import { foldTitle } from '../core/bib/fold'
import type { Item } from '../core/bib/item'
import { readName } from '../core/bib/names'
import { proveCopy, type Outcome } from '../core/match/proof'
import { WorldMaker } from '../demo/generate'
import { writeKbart } from '../demo/kbart'
import { proofPages } from '../core/pdftext/read-text'
import { tasks } from '../server/child/tasks'
import { drawPdf } from '../standins/pdf'
import { serveWorld } from '../standins/world'

const share = (n: number, of: number) => `${n} of ${of} (${of ? ((100 * n) / of).toFixed(1) : '–'}%)`

const FILL = Array.from({ length: 30 }, () => 'text goes on here with words enough to be a text of some length')
const told = { right: 0, all: 0, accepted: 0, wrong: 0, refused: 0, own: 0 }
for (const line of readFileSync(new URL('./proof/closed.txt', import.meta.url), 'utf8').split('\n')) {
  if (!line || line.startsWith('#')) continue
  const [answer, type, title, authors, year, page, pages, lines] = line.split(' | ') as string[]
  const item = {
    ...{ id: '', type, title, ...(page?.trim() ? { page: page.trim() } : {}) },
    author: authors!.split('; ').map(readName),
    issued: { 'date-parts': [[Number(year)]] },
  } as Item
  const front = [...lines!.split(' // '), ...FILL]
  const file = Array.from({ length: Number(pages) }, (_, i) => ({ page: i + 1, lines: i ? FILL : front }))
  const { outcome, evidence } = proveCopy(item, file)
  told.all++
  if (outcome === answer) told.right++
  else if (process.env.SHOW)
    console.log(`${answer} → ${outcome}  ${front.join(' // ').slice(0, 120)}  ${evidence.map(e => e.said).join(' ')}`)
  if (answer === 'not this work') told.wrong++
  if (answer !== 'proved' && outcome === 'proved') told.accepted++
  if (answer === 'proved') told.own++
  if (answer === 'proved' && outcome !== 'proved') told.refused++
}
console.log(
  `first pages of many makers: told right ${share(told.right, told.all)}; wrong accepted ${share(told.accepted, told.all - told.own)}; right not accepted ${share(told.refused, told.own)}`,
)

const most = Number(process.argv[2] ?? 150)
const maker = new WorldMaker(11, 24_000)
const made = [...maker]
const works = made.map(m => m.work)
const world = serveWorld(works, maker.facts, writeKbart(11, maker.facts.venues, works))
const byTitle = new Map(works.map(w => [foldTitle(w.item.title ?? ''), w]))
const pairs: [string, Item, (typeof works)[number]][] = []
const kinds = new Map<string, number>()
const add = (what: string, item: Item, of: (typeof works)[number]) => {
  const n = kinds.get(what) ?? 0
  if (n >= most || !of.host) return
  kinds.set(what, n + 1)
  pairs.push([what, item, of])
}
for (const [i, { work, label }] of made.entries()) {
  if (i % 7 === 0) add('itself', work.item, work)
  const lead = leadOf(work.item, label.kind)
  const about = lead && byTitle.get(foldTitle(lead.title))
  if (about && about !== work) add(`what is ${label.kind} of it`, about.item, work)
  const next = works[i + 1]
  if (i % 11 === 0 && next) add('another work', work.item, next)
}
const outcomes = new Map<string, Map<Outcome, number>>()
for (const [what, item, of] of pairs) {
  const bytes = Buffer.from(await drawPdf(world, of, { version: 'version of record' }))
  const text = await tasks.pdf(bytes)
  const { outcome, evidence } = proveCopy(item, proofPages(text))
  const tally = outcomes.get(what) ?? new Map<Outcome, number>()
  outcomes.set(what, tally.set(outcome, (tally.get(outcome) ?? 0) + 1))
  if (process.env.SHOW && (what === 'itself') !== (outcome === 'proved'))
    console.log(`${what} → ${outcome}  ${item.title}  ${evidence.map(e => e.said).join(' ')}`)
}
for (const [what, tally] of outcomes)
  console.log(`${what}: ${[...tally].map(([o, n]) => `${o} ${share(n, kinds.get(what)!)}`).join(', ')}`)
