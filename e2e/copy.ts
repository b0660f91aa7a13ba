import { readFileSync } from 'node:fs'
import type { APIRequestContext, Page } from '@playwright/test'
import { isAccessibleInBothModes } from './axe'
import { expect } from './desk'

const folder = 'server/child/foreign'
export type Maker = 'browser' | 'TeX' | 'office'
const knownOf = (maker: Maker) =>
  JSON.parse(readFileSync(`${folder}/${maker}.json`, 'utf8')) as { title: string; authors: string }

/**
 * An inquiry with one kept work and its text, as a maker of others wrote it; told which copy that is.
 * @param file the same text in another file
 */
export async function withCopy(
  request: APIRequestContext,
  maker: Maker,
  file: string = maker,
): Promise<{ id: number; work: number; copy: number; title: string }> {
  const { title, authors } = knownOf(maker)
  const make = async (path: string, data: object | Buffer, headers = {}) =>
    (await (await request.post(`/api${path}`, { data, headers })).json()) as { id: number; job: number }
  const bytes = { 'content-type': 'application/octet-stream' }
  const { id } = await make('/inquiries', {
    ...{ title: 'Lamps over harbours', question: 'What do lamps do to harbours?', zone: 'UTC', style: 'apa' },
  })
  const at = `/inquiries/${id}`
  const author = authors.split(', ').map(n => ({ given: n.split(' ')[0]!, family: n.split(' ').at(-1)! }))
  const list = [{ ...{ id: 'a', type: 'article-journal', title, author }, issued: { 'date-parts': [[2014]] } }]
  await make(`${at}/imports`, Buffer.from(JSON.stringify(list)), bytes)
  const read = async (path: string) => (await (await request.get(`/api${at}${path}`)).json()) as { id: number }[]
  await expect.poll(async () => (await read('/works')).length).toBe(1)
  const [work] = await read('/works')
  const keep = { id: crypto.randomUUID(), work: work!.id, pass: 'abstract', choice: 'keep' }
  await make(`${at}/decisions`, { group: crypto.randomUUID(), decisions: [keep] })
  await make(`${at}/works/${work!.id}/copies`, readFileSync(`${folder}/${file}.pdf`), bytes)
  await expect.poll(async () => (await read('/copies')).length, { timeout: 60_000 }).toBe(1)
  await make(`${at}/strands`, { name: 'What lamps change' })
  return { id, work: work!.id, copy: (await read('/copies'))[0]!.id, title }
}

/** Nothing in the way of anybody, in the light and in the dark. The words of a page are the file's own. */
export async function clean(page: Page): Promise<void> {
  await isAccessibleInBothModes(page, { without: '.pdfViewer' })
  await page.emulateMedia({ colorScheme: 'light' })
}
