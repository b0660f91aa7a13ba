import { Router } from 'express'
import { simpleParser } from 'mailparser'
import { SMTPServer } from 'smtp-server'
import { escapeXml } from '../core/formats/xml'

export interface Mailbox {
  /** A page that lists what arrived, and each message as .eml. */
  pages: Router
  /** The post office, to be set listening. */
  smtp: SMTPServer
}

const MOST = 500

/** Takes every message for any address of the made-up world and keeps the newest ones to be read on a page. */
export function mailbox(): Mailbox {
  const messages: { eml: Buffer; from: string; to: string; subject: string; text: string }[] = []
  const smtp = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS', 'AUTH'],
    size: 10_000_000,
    onRcptTo: ({ address }, _session, done) =>
      /\.example$/.test(address) ? done() : done(new Error('Only addresses of the made-up world are served.')),
    onData(stream, session, done) {
      const parts: Buffer[] = []
      stream.on('data', (p: Buffer) => parts.push(p))
      stream.on('end', () => {
        const eml = Buffer.concat(parts)
        simpleParser(eml).then(
          m => {
            messages.push({
              eml,
              from: m.from?.text ?? '',
              to: session.envelope.rcptTo.map(r => r.address).join(', '),
              subject: m.subject ?? '',
              text: m.text ?? '',
            })
            if (messages.length > MOST) messages.shift()
            done()
          },
          (e: Error) => done(e),
        )
      })
    },
  })
  const pages = Router()
  pages.get('/', (req, res) => {
    if (!/html/.test(req.headers.accept ?? ''))
      return void res.json(messages.map(({ eml: _, ...m }, n) => ({ n, ...m })))
    res.type('html').send(
      `<!doctype html><title>Mail of the made-up world</title><h1>Mail</h1>${
        messages
          .map(
            (m, n) =>
              `<article><h2><a href="/${n}.eml">${escapeXml(m.subject)}</a></h2><p>${escapeXml(m.from)} to ${escapeXml(m.to)}</p><pre>${escapeXml(m.text)}</pre></article>`,
          )
          .reverse()
          .join('') || '<p>Nothing has arrived yet.</p>'
      }`,
    )
  })
  pages.get('/:n.eml', (req, res) => {
    const m = messages[Number(req.params.n)]
    if (!m) return void res.status(404).type('text/plain').send('There is no such message.')
    res.type('message/rfc822').send(m.eml)
  })
  return { pages, smtp }
}
