import express, { Router } from 'express'
import { escapeXml } from '../core/formats/xml'

/** What its form asks for, and by which keys of an OpenURL (Z39.88-2004) it fills that in. */
const FIELDS: readonly (readonly [name: string, label: string, keys: readonly string[]])[] = [
  ['what', 'Title of the article or book', ['rft.atitle', 'rft.btitle', 'rft.title']],
  ['inside', 'Journal, or book of a chapter', ['rft.jtitle', 'rft.btitle']],
  ['writer', 'Author', ['rft.au', 'rft.aulast']],
  ['vol', 'Volume', ['rft.volume']],
  ['no', 'Issue', ['rft.issue']],
  ['pp', 'Pages', ['rft.pages']],
  ['when', 'Year', ['rft.date']],
  ['number', 'ISBN or ISSN', ['rft.isbn', 'rft.issn']],
]

/** The form of a library by which its readers ask for what it has to get from elsewhere. It keeps nothing. */
export function requestForm(): Router {
  const router = Router()
  let taken = 400
  const page = (title: string, body: string) =>
    `<!doctype html><html lang="en"><title>${title}</title><style>body{font:16px/1.5 sans-serif;max-width:34em;margin:2em auto}label{display:block;margin:.6em 0}input{display:block;width:100%;font:inherit;padding:.3em}</style><h1>${title}</h1>${body}</html>`
  router.get('/request', (req, res) => {
    const given = new URLSearchParams(req.url.split('?')[1] ?? '')
    const first = (keys: readonly string[]) => keys.map(k => given.get(k)).find(Boolean) ?? ''
    const isPart = given.get('rft.atitle') !== null
    const lines = FIELDS.map(([name, label, keys]) => {
      const value = name === 'inside' && !isPart ? '' : first(keys)
      return `<label>${label}<input name="${name}" value="${escapeXml(value)}"></label>`
    })
    res
      .type('html')
      .send(
        page(
          'Ask us for it',
          `<form method="post" action="/request">${lines.join('')}<label>Your card<input name="reader"></label><button>Send</button></form>`,
        ),
      )
  })
  router.post('/request', express.urlencoded({ extended: false }), (req, res) => {
    const { what = '' } = req.body as Record<string, string>
    taken++
    res
      .type('html')
      .send(page(`Request ${taken}`, `<p>We look for “${escapeXml(what)}” and write to you once it is here.</p>`))
  })
  return router
}
