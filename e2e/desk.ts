import { readFileSync } from 'node:fs'
import { request } from 'node:http'
import { expect, test as base, type APIRequestContext, type Page } from '@playwright/test'

/** Of the desk on which the present test runs: its first port, and where its data lie. */
const here = () => test.info().project.metadata as { port: number; folder: string }

/** Tells the made-up world how to misbehave. */
export function control(path: string, body: object = {}): Promise<void> {
  return new Promise((done, fail) => {
    const r = request(
      {
        host: '127.0.0.1',
        port: here().port + 2,
        path,
        method: 'POST',
        headers: { host: 'control.example', 'content-type': 'application/json' },
      },
      answer => {
        answer.resume()
        answer.on('end', done)
      },
    )
    r.on('error', fail)
    r.end(JSON.stringify(body))
  })
}

/** What a host of the made-up world answers. */
export function ofWorld(host: string, path: string): Promise<string> {
  return new Promise((done, fail) => {
    request({ host: '127.0.0.1', port: here().port + 2, path, headers: { host } }, answer => {
      let text = ''
      answer.on('data', (p: Buffer) => (text += p.toString()))
      answer.on('end', () => done(text))
    })
      .on('error', fail)
      .end()
  })
}

/** The page of the made-up world's mail. */
export const mail = (): Promise<string> => ofWorld('mail.example', '/')

const sheetOf = async (request: APIRequestContext, inquiry: number) =>
  (await (await request.get(`/api/inquiries/${inquiry}/sheet`)).json()) as { sheet: object; version: number }

/**
 * Waits until the demo is laid, fails a test on any error that the page throws, and puts the demo's question sheets
 * back after it, so that no test depends on those before it.
 */
export const test = base.extend<{ page: Page }>({
  page: async ({ page, request }, use) => {
    const errors: string[] = []
    page.on('pageerror', e => errors.push(e.message))
    await expect
      .poll(
        () => {
          try {
            readFileSync(`${here().folder}/demo-laid`)
            return true
          } catch {
            return false
          }
        },
        { timeout: 280_000 },
      )
      .toBe(true)
    await request.get('/api/session')
    const sheets = [await sheetOf(request, 1), await sheetOf(request, 2)]
    await use(page)
    await page.close()
    for (const [i, { sheet, version }] of sheets.entries()) {
      const now = await sheetOf(request, i + 1)
      if (now.version !== version)
        await request.put(`/api/inquiries/${i + 1}/sheet`, {
          data: sheet,
          headers: { 'If-Match': `"${now.version}"`, 'Idempotency-Key': crypto.randomUUID() },
        })
    }
    expect(errors).toEqual([])
  },
})
export { expect }

/** The numbers of the path bar, as shown. */
export const station = (page: Page, name: string) =>
  page.getByRole('navigation', { name: 'Stations' }).getByRole('link', { name: new RegExp(name) })

/** How many changes wait in the browser for the server. */
export const storedLetters = (page: Page): Promise<number> =>
  page.evaluate<number>(`(async () => {
    if (!(await indexedDB.databases()).some(d => d.name === 'vine-path')) return 0
    return new Promise((done, fail) => {
      const opening = indexedDB.open('vine-path')
      opening.onerror = () => fail(opening.error)
      opening.onsuccess = () => {
        const counting = opening.result.transaction('letters').objectStore('letters').count()
        counting.onsuccess = () => (opening.result.close(), done(counting.result))
      }
    })
  })()`)

/** The library of the settings alone is asked again, and none that a test set up is left. */
export async function homeAlone(request: APIRequestContext): Promise<void> {
  const { libraries } = (await (await request.get('/api/libraries')).json()) as {
    libraries: { key: string; isOwn: boolean }[]
  }
  await request.put('/api/libraries', { data: { libraries: ['home'] } })
  for (const l of libraries.filter(x => x.isOwn)) await request.delete(`/api/libraries/${l.key}`)
}

/** An inquiry that keeps one work. @returns its address */
export async function keeping(request: APIRequestContext, title: string, item: object): Promise<string> {
  const make = async (path: string, data: object | Buffer, headers = {}) =>
    (await (await request.post(`/api${path}`, { data, headers })).json()) as { id: number; job: number }
  const { id } = await make('/inquiries', {
    ...{ title, question: 'What do lamps do to piers?', zone: 'UTC', style: 'apa', due: '2027-06-30' },
  })
  const at = `/inquiries/${id}`
  await make(`${at}/imports`, Buffer.from(JSON.stringify([item])), { 'content-type': 'application/octet-stream' })
  const works = async () => (await (await request.get(`/api${at}/works`)).json()) as { id: number }[]
  await expect.poll(async () => (await works()).length).toBe(1)
  const keep = { id: crypto.randomUUID(), work: (await works())[0]!.id, pass: 'title', choice: 'keep' }
  await make(`${at}/decisions`, { group: crypto.randomUUID(), decisions: [keep] })
  return at
}

/**
 * Has a page stand in the light or in the dark. A browser tells its pages when it draws them next: a page on which nothing
 * moves may wait for that, so it is drawn.
 */
export async function inMode(page: Page, mode: 'light' | 'dark'): Promise<void> {
  await page.emulateMedia({ colorScheme: mode })
  await expect(async () => {
    await page.screenshot({ clip: { x: 0, y: 0, width: 8, height: 8 } })
    await expect(page.locator('html')).toHaveClass(new RegExp(mode), { timeout: 3000 })
  }).toPass()
}
