import express, { type Express, Router } from 'express'
import { makeCatalogues, unionCatalogue } from './catalogues'
import { citationIndex } from './citation-index'
import { gate, HOME, TOWN, type Gate } from './gate'
import { openingHours } from './hours'
import { library } from './library'
import { loanOffice, OFFICE_FAULTS, type LoanOfficeStandIn, type OfficeFault } from './loan-office'
import type { Mailbox } from './mail'
import { oaiServer } from './oai'
import { drawPdf } from './pdf'
import { ESTERMARK, toEstermarkMarc } from './partners'
import { platform, type Visit } from './platforms'
import { TOWN_SHELVES } from './shelves'
import { sruServer } from './sru'
import { licenceOf, signed } from './records'
import { register } from './register'
import { thesaurusSite } from './thesaurus'
import { MODES, misbehave, Switches, type Switch } from './switches'
import { directory, TOWN_CATALOGUE, TOWN_SHELF, townLibrary, townReads } from './town-library'
import type { WorldWork } from '../core/world/types'
import { noticesOf, type ServedWorld } from './world'

export const PLATFORMS = ['tessary.example', 'moorgrave.example', 'quillon.example', 'lanternhill.example']

/** The whole outside world behind one port: requests are told apart by their Host header. */
export function outsideWorld(world: ServedWorld, options: { gateMinutes?: number; mail?: Mailbox } = {}): Express {
  const switches = new Switches()
  const entry = gate(HOME, options.gateMinutes)
  const town = gate(TOWN, options.gateMinutes)
  const gates = [entry, town]
  const pages = library(world)
  const loans = loanOffice(world)
  const hosts = new Map<string, Router>([
    ['doi.example', resolver(world)],
    ['register.example', register(world)],
    ['thesaurus.example', thesaurusSite()],
    ...gates.map(g => [g.manner.host, g.router] as const),
    ['library.ostermoor.example', townLibrary(world)],
    ['directory.example', directory()],
    ['library.halverane.example', pages.files],
    ['resolver.halverane.example', pages.resolver],
    ['control.example', control(world, switches, gates, loans)],
    ['loans.halverane.example', loans.router],
    ['hours.halverane.example', openingHours()],
    ...(options.mail ? [['mail.example', options.mail.pages] as const] : []),
  ])
  const union = unionCatalogue(world)
  hosts.set(union.host, sruServer(union, world))
  // the last partner keeps a catalogue of its own
  hosts.set(ESTERMARK.host, sruServer({ ...union, ...ESTERMARK, render: toEstermarkMarc }, world))
  for (const c of makeCatalogues(world)) {
    const router = sruServer(c, world)
    hosts.set(c.host, router)
    // the town library searches the same papers under a name of its own
    if (c.key === 'civic') hosts.set(TOWN_CATALOGUE.host, sruServer({ ...c, ...TOWN_CATALOGUE }, world))
    if (c.key === 'shelf') hosts.set(TOWN_SHELF.host, sruServer({ ...c, ...TOWN_SHELF, also: TOWN_SHELVES }, world))
    if (c.key === 'lampyr') router.use(citationIndex(world))
    if (c.key === 'fennmark') {
      router.use(oaiServer(c, world))
      router.get('/deposit/:id.pdf', deposit(world))
    }
  }
  const nobody: Visit = { throughGate: () => false, count: () => true }
  const proxied = new Map<string, Map<Gate, Router>>()
  for (const host of PLATFORMS) {
    hosts.set(host, platform(host, world, nobody))
    proxied.set(
      host,
      new Map([
        [entry, platform(host, world, entry)],
        [town, platform(host, world, { ...town, reads: w => townReads(world, w) })],
      ]),
    )
  }
  const app = express()
  app.disable('x-powered-by')
  app.use((req, res, next) => {
    const host = (req.headers.host ?? '').replace(/:\d+$/, '').toLowerCase()
    const by = gates.find(g => g.manner.behind(host) !== undefined)
    const behind = by?.manner.behind(host)
    const router = by ? proxied.get(behind!)?.get(by) : hosts.get(host)
    if (!router) return void res.status(404).type('text/plain').send(`No such host: ${host}`)
    if (by && !by.open(req))
      return void res.redirect(
        `http://${by.manner.host}/sign-in?then=${encodeURIComponent(`http://${behind}${req.url}`)}`,
      )
    if (host === 'control.example') return void router(req, res, next)
    misbehave(switches, behind ?? host)(req, res, () => router(req, res, next))
  })
  return app
}

/** The files of the open repository: closed by embargo, gone, or given. */
function deposit(world: ServedWorld) {
  const byId = new Map(world.works.flatMap(w => w.deposits.map(d => [d.id, { w, d }] as const)))
  return async (req: express.Request, res: express.Response): Promise<void> => {
    const found = byId.get(String(req.params.id))
    if (!found || found.d.dead || found.d.from > world.day)
      return void res.status(404).type('html').send('<title>Not found</title>There is no such deposit.')
    const { w, d } = found
    if (d.embargoUntil && d.embargoUntil > world.day)
      return void res.status(403).type('html').send(`<title>Closed</title>This deposit opens on ${d.embargoUntil}.`)
    res.type('application/pdf').send(Buffer.from(await drawPdf(world, w, { version: d.version })))
  }
}

/** What a registration says beside the citation: who paid, data and what they belong to, licence. */
function registered(world: ServedWorld, w: WorldWork): object {
  const grant = world.facts.grants.find(g => g.id === w.grant)
  const study = w.form === 'dataset' && w.about ? world.byId.get(w.about)?.item.DOI : undefined
  const licence = licenceOf(w)
  // a notice and what it speaks of name one another
  const kind = (of: WorldWork) => (/^retract/i.test(of.item.title ?? '') ? 'retraction' : 'correction')
  const about = w.form === 'correction' && w.about ? world.byId.get(w.about)?.item.DOI : undefined
  const notices = noticesOf(world, w.id).filter(n => n.date <= world.day && n.item.DOI)
  return {
    ...(about ? { 'update-to': [{ DOI: about, type: kind(w) }] } : {}),
    ...(notices.length ? { 'updated-by': notices.map(n => ({ DOI: n.item.DOI, type: kind(n) })) } : {}),
    ...(grant ? { funder: [{ name: grant.funder, award: [grant.id] }] } : {}),
    ...(study ? { relation: { 'is-supplement-to': [{ 'id-type': 'doi', id: study }] } } : {}),
    ...(licence ? { license: [{ URL: licence }] } : {}),
  }
}

/** A DOI resolver with content negotiation: CSL-JSON for programs, the landing page for people. */
function resolver(world: ServedWorld): Router {
  return Router().get('/*doi', (req, res) => {
    const doi = decodeURIComponent(req.path.slice(1)).toLowerCase()
    const w = world.byDoi.get(doi)
    if (!w || w.date > world.day)
      return void res.status(404).type('html').send('<title>DOI not found</title>This DOI is not registered.')
    const preprint = w.deposits.find(d => d.doi?.toLowerCase() === doi)
    if (/vnd\.citationstyles\.csl\+json/.test(req.headers.accept ?? ''))
      return void res.type('application/vnd.citationstyles.csl+json').send(
        JSON.stringify(
          preprint
            ? {
                ...w.item,
                type: 'article',
                DOI: preprint.doi,
                'container-title': undefined,
                volume: undefined,
                issue: undefined,
                page: undefined,
              }
            : { ...w.item, ...(w.item.author ? { author: signed(w) } : {}), ...registered(world, w) },
        ),
      )
    if (preprint) return void res.redirect(`http://fennmark.example/deposit/${preprint.id}.pdf`)
    res.redirect(
      w.form === 'book'
        ? `http://${w.host ?? 'lanternhill.example'}/book/${w.id}`
        : `http://${w.host ?? 'tessary.example'}/article/${w.id}`,
    )
  })
}

/** The control page: what misbehaves, the day on which the world stands, and ending all sessions of the gates. */
function control(world: ServedWorld, switches: Switches, gates: readonly Gate[], loans: LoanOfficeStandIn): Router {
  const router = Router()
  router.use(express.json())
  const state = () => ({ day: world.day, hosts: Object.fromEntries(switches.hosts) })
  router.get('/', (req, res) => {
    if (!/html/.test(req.headers.accept ?? '')) return void res.json(state())
    res
      .type('html')
      .send(
        `<!doctype html><title>The made-up world</title><h1>The made-up world</h1><p>It stands on ${world.day}. Modes: ${MODES.join(', ')}.</p><pre>${JSON.stringify(state(), null, 2)}</pre>`,
      )
  })
  router.post('/switches/:host', (req, res) => {
    const s = req.body as Switch
    if (!MODES.includes(s.mode)) return void res.status(422).json({ error: `mode is one of ${MODES.join(', ')}` })
    switches.hosts.set(req.params.host, s)
    res.json(state())
  })
  router.post('/weather', (req, res) => {
    const { seed = 1, rate = 0 } = req.body as { seed?: number; rate?: number }
    switches.setWeather(seed, rate)
    res.json(state())
  })
  router.post('/reset', (_req, res) => {
    switches.clear()
    for (const g of gates) g.newDay()
    res.json(state())
  })
  router.post('/gate/expire', (_req, res) => {
    for (const g of gates) g.expireAll()
    res.json(state())
  })
  router.put('/office', (req, res) => {
    const { fault } = req.body as { fault?: OfficeFault }
    if (!OFFICE_FAULTS.some(f => f === fault))
      return void res.status(422).json({ error: `fault is one of ${OFFICE_FAULTS.join(', ')}` })
    loans.setFault(fault!)
    res.json({ fault })
  })
  router.get('/desk', (_req, res) => void res.json({ day: world.day }))
  router.put('/desk', (req, res) => {
    const { day } = req.body as { day?: string }
    if (!/^\d{4}-\d{2}-\d{2}$/.test(day ?? '')) return void res.status(422).json({ error: 'day is YYYY-MM-DD' })
    const moved = day !== world.day
    if (moved) for (const g of gates) g.newDay()
    world.day = day!
    if (moved) loans.newDay()
    res.json({ day })
  })
  return router
}
