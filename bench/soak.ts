/**
 * Ten thousand mixed requests to the stand-ins with faults coming over them: no crash, and memory within a bound.
 * npx tsx bench/soak.ts [requests] (makes its own world of 24,000 works in a folder for temporary files)
 */
import { execFileSync, spawn } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { Agent, request as ask } from 'node:http'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { seeded } from '../core/world/random'
import type { WorldWork } from '../core/world/types'

const wanted = Number(process.argv[2] ?? 10_000)
/** Memory that may be gained after the first thousand requests, in MB. */
const BOUND = 200
const PORT = 4970
const folder = mkdtempSync(join(tmpdir(), 'vine-soak-'))
const tsx = ['--import', 'tsx']
execFileSync(process.execPath, [...tsx, 'demo/main.ts', '--out', folder], { stdio: 'inherit' })
const works = readFileSync(join(folder, 'works.ndjson'), 'utf8')
  .split('\n')
  .filter(Boolean)
  .map(l => JSON.parse(l) as WorldWork)
const child = spawn(process.execPath, [...tsx, 'standins/main.ts'], {
  env: { ...process.env, STANDINS_PORT: String(PORT), MAIL_PORT: String(PORT + 1), WORLD_DIR: folder },
  stdio: 'inherit',
})
let crashed = false
child.once('exit', () => (crashed = true))
const agent = new Agent({ keepAlive: true, maxSockets: 16 })
const send = (
  host: string,
  path: string,
  o: { method?: string; body?: unknown; cookie?: string } = {},
): Promise<{ status: number; headers: Record<string, unknown> }> =>
  new Promise(done => {
    const body = o.body === undefined ? undefined : typeof o.body === 'string' ? o.body : JSON.stringify(o.body)
    const r = ask(
      {
        host: '127.0.0.1',
        port: PORT,
        path,
        method: o.method ?? 'GET',
        agent,
        headers: {
          host,
          ...(o.cookie ? { cookie: o.cookie } : {}),
          ...(body
            ? {
                'content-type': typeof o.body === 'string' ? 'application/x-www-form-urlencoded' : 'application/json',
                'content-length': Buffer.byteLength(body),
              }
            : {}),
        },
      },
      answer => {
        answer.resume()
        answer.on('close', () => done({ status: answer.statusCode ?? 0, headers: answer.headers }))
      },
    )
    r.on('error', () => done({ status: 0, headers: {} }))
    r.end(body)
  })
const rss = (): number => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${child.pid}/status`, 'utf8'))?.[1]) / 1024
try {
  for (let tries = 0; (await send('control.example', '/')).status !== 200; tries++) {
    if (tries > 240 || crashed) throw new Error('The stand-ins did not start.')
    await new Promise(r => setTimeout(r, 500))
  }
  const signed = await send('gate.halverane.example', '/sign-in', {
    method: 'POST',
    body: 'card=HV-204417&password=moonlit-garden&terms=accepted',
  })
  const cookie = String((signed.headers['set-cookie'] as string[])[0]).split(';')[0]!
  await send('control.example', '/weather', { method: 'POST', body: { seed: 4, rate: 0.15 } })
  const r = seeded(11)
  const terms = 'moth lamp* light city sleep bat* "street light*" garden urban pollinat* 夜 Ångström ('.split(' ')
  const catalogues = 'broadleaf lampyr vigil civic vault fennmark shelf'.split(' ')
  const one = (): Promise<{ status: number }> => {
    const w = r.pick(works)
    const doi = encodeURIComponent(w.item.DOI ?? '10.5555/none')
    return r.weighted<() => Promise<{ status: number }>>([
      [
        () =>
          send(
            `${r.pick(catalogues)}.example`,
            `/sru?version=1.2&operation=searchRetrieve&maximumRecords=${r.int(1, 50)}&query=${encodeURIComponent(`${r.pick(terms)} and ${r.pick(terms)}`)}`,
          ),
        40,
      ],
      [() => send(`${r.pick(catalogues)}.example`, '/sru'), 3],
      [
        () =>
          send(
            'broadleaf.example',
            `/sru?version=1.2&operation=scan&scanClause=${encodeURIComponent(`title = ${r.pick(terms).replace(/\W/g, '')}`)}`,
          ),
        4,
      ],
      [() => send('lampyr.example', `/works/${doi}/${r.pick(['references', 'cited-by'])}`), 20],
      [() => send('doi.example', `/${w.item.DOI ?? '10.5555/none'}`), 10],
      [() => send('fennmark.example', '/oai?verb=ListIdentifiers&metadataPrefix=oai_dc'), 3],
      [
        () =>
          send(
            'resolver.halverane.example',
            `/openurl?url_ver=Z39.88-2004&rft_id=${encodeURIComponent(`info:doi/${w.item.DOI ?? ''}`)}`,
          ),
        4,
      ],
      [
        () =>
          send(`${(w.host ?? 'tessary.example').replace('.', '-')}.gate.halverane.example`, `/article/${w.id}.pdf`, {
            cookie,
          }),
        4,
      ],
      [() => send('fennmark.example', `/deposit/${w.deposits[0]?.id ?? 'none'}.pdf`), 4],
      [() => send('library.halverane.example', '/kbart'), 2],
    ])()
  }
  const statuses = new Map<number, number>()
  let early = 0
  let most = 0
  let sent = 0
  const began = Date.now()
  await Promise.all(
    Array.from({ length: 8 }, async () => {
      while (sent < wanted && !crashed) {
        sent++
        if (sent === Math.min(1000, wanted >> 1)) early = rss()
        if (sent % 500 === 0) {
          most = Math.max(most, rss())
          await send('control.example', '/desk', {
            method: 'PUT',
            body: { day: `2026-${10 + Math.floor((sent / wanted) * 2)}-${10 + (sent % 15)}` },
          })
        }
        const { status } = await one()
        statuses.set(status, (statuses.get(status) ?? 0) + 1)
      }
    }),
  )
  const seconds = (Date.now() - began) / 1000
  const last = rss()
  console.log(
    `${sent} requests in ${seconds.toFixed(0)} s; answers by status (0: broken off):`,
    Object.fromEntries([...statuses].sort((a, b) => a[0] - b[0])),
  )
  console.log(
    `memory: ${early.toFixed(0)} MB after the first thousand, at most ${most.toFixed(0)} MB, ${last.toFixed(0)} MB at the end; bound: ${BOUND} MB more`,
  )
  if (crashed) throw new Error('The stand-ins crashed.')
  if (statuses.get(500)) throw new Error(`${statuses.get(500)} answers were errors of the stand-ins themselves.`)
  if (last - early > BOUND) throw new Error('Memory grew beyond the bound.')
  console.log('held')
} finally {
  child.kill()
  agent.destroy()
  rmSync(folder, { recursive: true, force: true })
}
