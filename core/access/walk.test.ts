import { expect, test } from '@jest/globals'
import { moths, type Chain, type Shown } from './chains/chain'
import { hindrances } from './chains/hindrances'
import { landingPages } from './chains/landing'
import { frontPages } from './chains/lists'
import { strays } from './chains/strays'
import { Refused, walk, type Got } from './walk'

const answer = ({ status = 200, headers = {}, html, pdf, text, to }: Shown): Got => {
  const body = pdf ? `%PDF-1.7 ${pdf}` : (html ?? text ?? '')
  const type = html === undefined ? (pdf ? 'application/pdf' : 'text/plain') : 'text/html; charset=utf-8'
  return {
    status,
    headers: { 'content-type': type, ...(to ? { location: to } : {}), ...headers },
    bytes: new TextEncoder().encode(body),
    text: () => body,
  }
}

async function run({ start, pages, item = moths, accepted = [] }: Chain) {
  const asked: string[] = []
  const at = { ...pages }
  const walked = await walk({
    item,
    start,
    thisYear: 2026,
    accepted: new Set(accepted),
    get: ({ url, form }) => {
      asked.push(url)
      if (new URL(url).hostname.endsWith('.invalid')) return Promise.reject(new Refused('It may not be fetched.'))
      const found = at[form === undefined ? url : `POST ${url} ${form}`]
      if (found?.then) at[url] = found.then
      return Promise.resolve(answer(found ?? { status: 404, html: 'Not found' }))
    },
    take: bytes => {
      const right = new TextDecoder().decode(bytes).endsWith('right')
      return Promise.resolve({ taken: right, said: right ? 'Proved.' : 'Another text.' })
    },
  })
  return { walked, asked }
}

test.each([...landingPages, ...frontPages, ...hindrances, ...strays].map(c => [c.name, c] as const))(
  '%s',
  async (_, chain) => {
    const { walked, asked } = await run(chain)
    // nothing is asked for twice, but for what terms stood before
    if (!chain.accepted) expect(new Set(asked).size).toBe(asked.length)
    expect(asked.length).toBeLessThanOrEqual(20)
    const { ends } = chain
    const want = 'text' in ends ? { ended: 'taken', on: ends.text } : ends
    expect({ ended: walked.ended, ...(want.on ? { on: walked.on } : {}) }).toEqual(want)
  },
)
