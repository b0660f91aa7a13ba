import { Router } from 'express'
import { decideTitle, linesFor } from '../core/access/coverage'
import type { Item } from '../core/bib/item'
import { readDate } from '../core/bib/dates'
import { escapeXml } from '../core/formats/xml'
import { readKbart, type Holding } from '../core/formats/kbart'
import type { ServedWorld } from './world'

/** The home library's own pages: its holdings as KBART files, and an OpenURL 1.0 resolver over them. */
export function library(world: ServedWorld): { files: Router; resolver: Router } {
  const files = Router()
  files.get('/kbart', (_req, res) => {
    res
      .type('html')
      .send(
        `<!doctype html><title>Holdings</title><ul>${[...world.kbart.keys()].map(n => `<li><a href="/kbart/${n}">${n}</a></li>`).join('')}</ul>`,
      )
  })
  files.get('/kbart/:name', (req, res) => {
    const text = world.kbart.get(req.params.name)
    if (text === undefined) return void res.status(404).type('text/plain').send('There is no such file.')
    res.type('text/tab-separated-values; charset=utf-8').send(text)
  })

  let holdings: Holding[] | undefined
  const resolver = Router()
  /** Z39.88-2004, key/encoded-value form: the article or book is described in `rft.*` and `rft_id`. */
  resolver.get('/openurl', (req, res) => {
    const q = req.query as Record<string, string | string[] | undefined>
    const one = (name: string): string | undefined => {
      const v = q[name]
      return Array.isArray(v) ? v[0] : v
    }
    if (one('url_ver') !== 'Z39.88-2004')
      return void res.status(400).type('html').send('<title>Bad request</title>url_ver=Z39.88-2004 is wanted.')
    const ids = [q.rft_id ?? []].flat()
    const doi = ids.map(i => /^info:doi\/(.+)$/.exec(i)?.[1]).find(Boolean)
    const known = doi ? world.byDoi.get(doi.toLowerCase()) : undefined
    const item: Item = known?.item ?? {
      id: '',
      type: one('rft.genre') === 'book' ? 'book' : 'article-journal',
      ...(one('rft.atitle') || one('rft.btitle') ? { title: (one('rft.atitle') ?? one('rft.btitle'))! } : {}),
      ...(one('rft.jtitle') ? { 'container-title': one('rft.jtitle')! } : {}),
      ...((one('rft.issn') ?? one('rft.eissn')) ? { ISSN: (one('rft.issn') ?? one('rft.eissn'))! } : {}),
      ...(one('rft.isbn') ? { ISBN: one('rft.isbn')! } : {}),
      ...(one('rft.volume') ? { volume: one('rft.volume')! } : {}),
    }
    const date = one('rft.date')
    if (!known && date) item.issued = readDate(date) ?? {}
    holdings ??= [...world.kbart.values()].flatMap(t => readKbart(t).holdings)
    const answers = decideTitle(item, linesFor(item, holdings), world.day)
    const open = answers.filter(a => a.held !== 'no')
    const target = (url: string | undefined) => (known?.host ? `http://${known.host}/article/${known.id}` : url)
    res
      .type('html')
      .send(
        `<!doctype html><title>${open.length ? 'Full text' : 'No full text'}</title><h1>${escapeXml(item.title ?? item['container-title'] ?? 'Your item')}</h1>` +
          (open.length
            ? `<ul>${open.map(a => `<li><a class="target" href="http://gate.halverane.example/open?url=${encodeURIComponent(target(a.holding.url) ?? '')}">${escapeXml(a.holding.publisher ?? a.holding.title)}</a> ${escapeXml(a.said)}</li>`).join('')}</ul>`
            : '<p>The library does not hold this online. Look on the shelf, or ask for a loan.</p>'),
      )
  })
  return { files, resolver }
}
