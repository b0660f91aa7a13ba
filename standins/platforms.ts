import express, { Router, type Request, type Response } from 'express'
import { escapeXml } from '../core/formats/xml'
import { mayRead } from '../core/world/licence'
import type { Venue, WorldWork } from '../core/world/types'
import { drawPdf, type Drawn } from './pdf'
import { lot, type ServedWorld } from './world'

/** How a reader comes to a platform: through the library's gate, within its daily limit, or from anywhere. */
export interface Visit {
  throughGate(req: Request): boolean
  /** Counts one file for the reader's card; false where the day's limit is reached. */
  count(req: Request): boolean
  /** What another library than the home library pays for. */
  reads?(w: WorldWork): boolean
}

const page = (title: string, body: string, head = ''): string =>
  `<!doctype html><html><head><title>${escapeXml(title)}</title>${head}</head><body>${body}</body></html>`
const notFound = (res: Response) =>
  void res.status(404).type('html').send(page('Not found', 'There is no such page here.'))

/**
 * The platforms of the publishers, each with its manner:
 * tessary has a landing page that names the PDF; moorgrave gives the PDF at once; quillon knows only the journal's
 * front page, from which volume, issue and article follow; lanternhill asks first for its terms, and has books by
 * chapter. What the library has not paid for is closed, whatever its holdings files say.
 */
export function platform(host: string, world: ServedWorld, visit: Visit): Router {
  const router = Router()
  const find = (id: unknown): WorldWork | undefined => {
    const w = world.byId.get(String(id))
    return w?.host === host && w.date <= world.day ? w : undefined
  }
  const venueOf = (w: WorldWork): Venue | undefined => (w.venue ? world.venues.get(w.venue) : undefined)

  const give = async (req: Request, res: Response, w: WorldWork, part?: string): Promise<void> => {
    const v = venueOf(w)
    const free = v?.openFrom !== undefined && w.year >= v.openFrom
    const licensed = visit.reads ? visit.reads(w) : v ? mayRead(v, w.date, world.day) : Boolean(w.shelf?.ebook)
    if (!free && !(licensed && visit.throughGate(req))) {
      const wall = v?.licences.some(l => l.wall) && visit.throughGate(req)
      return void res
        .status(403)
        .type('html')
        .send(
          wall
            ? page(
                'Not yet available',
                `<p>The full text of <i>${escapeXml(w.item.title!)}</i> is under embargo for your library.</p>`,
              )
            : page(
                'Get access',
                'Sign in through your library, or buy this article.<input type="password" name="pass">',
              ),
        )
    }
    if (!free && !visit.count(req))
      return void res
        .status(429)
        .set('Retry-After', '3600')
        .type('html')
        .send(
          page(
            'Too many downloads',
            'Your library allows 60 files a day for each card. Systematic downloading is not allowed.',
          ),
        )
    // stale links, broken uploads and scans, as platforms have them
    const other = lot(w.id, 'neighbour', 40) < 1 ? neighbour(world, w) : undefined
    const scan = w.year < 1996 && lot(w.id, 'scan', 3) < 1
    const bytes = Buffer.from(
      await drawPdf(world, other ?? w, {
        version: 'version of record',
        ...(scan ? { scan } : {}),
        ...(part ? { part } : {}),
      } satisfies Drawn),
    )
    res
      .type('application/pdf')
      .send(lot(w.id, 'cut', 55) < 1 ? bytes.subarray(0, Math.floor(bytes.length * 0.6)) : bytes)
  }

  router.get(['/article/:file.pdf', '/pdf/:file.pdf'], async (req, res) => {
    const w = find(req.params.file)
    if (!w) return notFound(res)
    if (host === 'lanternhill.example' && !/terms=yes/.test(req.headers.cookie ?? ''))
      return void res.redirect(`/terms?then=${encodeURIComponent(req.url)}`)
    await give(req, res, w)
  })
  router.get('/article/:id', async (req, res) => {
    const w = find(req.params.id)
    if (!w) return notFound(res)
    const link = `<link rel="alternate" type="application/pdf" href="/article/${w.id}.pdf">`
    const title = w.item.title!
    if (host === 'moorgrave.example') return give(req, res, w)
    // this platform forgets where one wanted to go
    if (host === 'quillon.example' && w.venue) return void res.redirect(`/journal/${w.venue}`)
    if (host === 'lanternhill.example' && !/terms=yes/.test(req.headers.cookie ?? ''))
      return void res.redirect(`/terms?then=${encodeURIComponent(req.url)}`)
    res
      .type('html')
      .send(
        page(
          title,
          `<h1>${escapeXml(title)}</h1><p>${escapeXml(w.item.abstract ?? '')}</p><a href="/article/${w.id}.pdf">PDF</a>`,
          link,
        ),
      )
  })

  router.get('/terms', (req, res) => {
    res
      .type('html')
      .send(
        page(
          'Terms of use',
          `<h1>Before you read on</h1><p>For your own study only.</p><form method="post" action="/terms"><input type="hidden" name="then" value="${escapeXml(String(req.query.then ?? '/'))}"><button name="accept" value="yes">I accept</button></form>`,
        ),
      )
  })
  router.post('/terms', express.urlencoded({ extended: false }), (req, res) => {
    const { then = '/', accept } = req.body as Record<string, string>
    if (accept === 'yes') res.set('Set-Cookie', 'terms=yes; Path=/; HttpOnly')
    res.redirect(then.startsWith('/') && !then.startsWith('//') ? then : '/')
  })

  // front page of a journal, its volumes, their issues, their articles
  const published = (code: string) =>
    world.works.filter(w => w.venue === code && w.host === host && w.date <= world.day)
  const list = (res: Response, title: string, links: [string, string][]) =>
    void res
      .type('html')
      .send(
        page(
          title,
          `<h1>${escapeXml(title)}</h1><ul>${links.map(([href, text]) => `<li><a href="${href}">${escapeXml(text)}</a></li>`).join('')}</ul>`,
        ),
      )
  router.get('/journal/:code', (req, res) => {
    const v = world.venues.get(req.params.code)
    if (v?.host !== host) return notFound(res)
    const volumes = [...new Set(published(v.code).map(w => String(w.item.volume ?? 'ahead')))]
    list(
      res,
      v.title,
      volumes.map(n => [`/journal/${v.code}/${n}`, n === 'ahead' ? 'Ahead of print' : `Volume ${n}`]),
    )
  })
  router.get('/journal/:code/:volume', (req, res) => {
    const v = world.venues.get(req.params.code)
    const works =
      v?.host === host ? published(v.code).filter(w => String(w.item.volume ?? 'ahead') === req.params.volume) : []
    if (!works.length) return notFound(res)
    const issues = [...new Set(works.map(w => String(w.item.issue ?? '0')))]
    list(
      res,
      `${v!.title}, volume ${req.params.volume}`,
      issues.map(n => [`/journal/${v!.code}/${req.params.volume}/${n}`, `Issue ${n}`]),
    )
  })
  router.get('/journal/:code/:volume/:issue', (req, res) => {
    const v = world.venues.get(req.params.code)
    const works =
      v?.host === host
        ? published(v.code).filter(
            w =>
              String(w.item.volume ?? 'ahead') === req.params.volume &&
              String(w.item.issue ?? '0') === req.params.issue,
          )
        : []
    if (!works.length) return notFound(res)
    list(
      res,
      `${v!.title} ${req.params.volume} (${req.params.issue})`,
      works.map(w => [`/pdf/${w.id}.pdf`, `${w.item.title!}${w.item.page ? `, ${w.item.page}` : ''}`]),
    )
  })

  // e-books by chapter
  router.get('/book/:id', (req, res) => {
    const w = find(req.params.id)
    if (w?.form !== 'book') return notFound(res)
    list(
      res,
      w.item.title!,
      Array.from({ length: 6 }, (_, n) => [`/book/${w.id}/chapter-${n + 1}.pdf`, `Chapter ${n + 1}`]),
    )
  })
  router.get('/book/:id/:part.pdf', async (req, res) => {
    const w = find(req.params.id)
    const n = Number(/^chapter-([1-6])$/.exec(req.params.part)?.[1])
    if (w?.form !== 'book' || !n) return notFound(res)
    await give(req, res, w, String(n))
  })
  return router
}

/** Another article of the same place, whose file a stale link gives. */
function neighbour(world: ServedWorld, w: WorldWork): WorldWork | undefined {
  const at = world.works.indexOf(w)
  return (
    world.works
      .slice(at + 1, at + 4000)
      .find(o => o.host === w.host && o.form === w.form && (o.venue === w.venue || !w.venue)) ??
    world.works.slice(0, at).findLast(o => o.host === w.host && o.form === w.form)
  )
}
