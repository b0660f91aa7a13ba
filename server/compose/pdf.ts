import { spawn } from 'node:child_process'
import { existsSync } from 'node:fs'
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises'
import { createRequire } from 'node:module'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { asHtml } from '../../core/paper/html'
import type { Writing } from '../../core/paper/writing'
import { Problem } from '../base/problem'
import { inThread } from '../threads/threads'

/** Debian's browser, which sets the page as it prints one. */
const BROWSER = process.env.VINE_CHROMIUM ?? '/usr/bin/chromium'
/** Milliseconds that it may take: a thousand entries take four seconds. */
const WITHIN = 60_000
/** Browsers at once: each takes a core while it sets. */
const AT_ONCE = 2

/** The fonts that ship with the application, so that every machine prints the same: Latin, Greek, Cyrillic, and others. */
const FONTS = [
  ['Literata Variable', 'literata', ['index.css', 'wght-italic.css']],
  ['Noto Sans Arabic Variable', 'noto-sans-arabic', ['index.css']],
  ['Noto Sans SC Variable', 'noto-sans-sc', ['index.css']],
  ['Noto Sans JP Variable', 'noto-sans-jp', ['index.css']],
  ['Noto Sans KR Variable', 'noto-sans-kr', ['index.css']],
] as const

export const canMakePdf = (): boolean => existsSync(BROWSER)

let running = 0
const waiting: (() => void)[] = []
async function inTurn<T>(work: () => Promise<T>): Promise<T> {
  if (running >= AT_ONCE) await new Promise<void>(go => waiting.push(go))
  else running++
  try {
    return await work()
  } finally {
    const next = waiting.shift()
    if (next) next()
    else running--
  }
}

/**
 * A document as PDF, tagged (its headings, paragraphs, tables and links can be read aloud) and with an outline, set by
 * Debian's browser in a process of its own: no script runs, no host is reached, and it is ended where it takes too long.
 * @throws Problem 503 where the browser is missing or fails
 */
export async function asPdf(
  w: Writing,
  { browser = BROWSER, until }: { browser?: string; until?: AbortSignal } = {},
): Promise<Buffer> {
  if (!existsSync(browser))
    throw new Problem(
      503,
      'no-pdf',
      'PDFs cannot be made here, as the browser that sets them is not installed. Take the web page and print it.',
    )
  return inTurn(async () => {
    const folder = await mkdtemp(join(tmpdir(), 'vine-pdf-'))
    try {
      const page = join(folder, 'page.html')
      const file = join(folder, 'page.pdf')
      const require = createRequire(import.meta.url)
      const sheets = FONTS.flatMap(([, font, names]) => {
        const at = dirname(require.resolve(`@fontsource-variable/${font}/package.json`))
        return names.map(n => pathToFileURL(join(at, n)).href)
      })
      const fonts = `${FONTS.map(([name]) => `'${name}'`).join(',')},serif`
      await writeFile(page, asHtml(w, { sheets, fonts }))
      await print({
        browser,
        folder,
        page: pathToFileURL(page).href,
        file,
        until: until ?? AbortSignal.timeout(WITHIN),
      })
      const bytes = await readFile(file).catch(() => undefined)
      if (!bytes?.length) throw failed('it wrote nothing')
      return Buffer.from(await inThread('namePdf', { bytes, title: w.title, author: w.author }))
    } finally {
      await rm(folder, { recursive: true, force: true, maxRetries: 3 })
    }
  })
}

const failed = (why: string): Problem =>
  new Problem(503, 'no-pdf', `The PDF could not be made: ${why}. Try again, or take the web page and print it.`)

interface Printing {
  browser: string
  folder: string
  page: string
  file: string
  /** Ends it. */
  until: AbortSignal
}
function print({ browser, folder, page, file, until }: Printing): Promise<void> {
  const given = [
    '--headless',
    '--disable-gpu',
    '--disable-dev-shm-usage',
    '--no-first-run',
    '--disable-extensions',
    '--disable-background-networking',
    '--disable-sync',
    '--disable-component-update',
    '--host-resolver-rules=MAP * ~NOTFOUND',
    // its own sandbox refuses to run as root
    ...(process.getuid?.() === 0 ? ['--no-sandbox'] : []),
    `--user-data-dir=${join(folder, 'profile')}`,
    '--generate-pdf-document-outline',
    '--export-tagged-pdf',
    '--no-pdf-header-footer',
    `--print-to-pdf=${file}`,
    page,
  ]
  return new Promise((done, fail) => {
    // a group of its own, so that all of its processes end with it
    const child = spawn(browser, given, {
      stdio: 'ignore',
      detached: true,
      cwd: folder,
      env: { PATH: process.env.PATH, HOME: folder, LANG: 'C.UTF-8' },
    })
    const end = () => {
      try {
        if (child.pid) process.kill(-child.pid, 'SIGKILL')
      } catch {
        // it is over already
      }
    }
    const late = () => {
      end()
      fail(failed('it took too long'))
    }
    until.addEventListener('abort', late, { once: true })
    child.on('error', e => fail(failed(e.message)))
    child.on('exit', code => {
      until.removeEventListener('abort', late)
      end()
      if (code === 0) done()
      else fail(failed(`the browser ended with ${code ?? 'a signal'}`))
    })
  })
}
