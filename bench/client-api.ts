import { randomUUID } from 'node:crypto'
import type { Api } from '../demo/api'
import { pause } from '../server/test/running'
import { drawPdf } from '../standins/pdf'
import type { Ground } from './ground'

/** A client of the API: it decides, undoes, marks, annotates, sweeps and brings files until it is told to stop. */
export async function byApi(ground: Ground, n: number): Promise<void> {
  ground.busy.set(n, 'beginning')
  const { api, id } = await ground.account(n)
  const me = new Client(ground, api, id)
  ground.busy.set(n, 'bringing its works')
  await me.bring(60)
  while (!ground.stopping && me.works.length) {
    const what = ground.of.random.int(0, 99)
    ground.busy.set(n, `deed ${what}`)
    if (!(await me.deed(what))) break
    await pause(ground.of.random.int(20, 250))
  }
}

class Client {
  works: number[] = []
  private entry: { id: number; version: number } | undefined
  private readonly at: string

  constructor(
    private readonly ground: Ground,
    private readonly api: Api,
    private readonly id: number,
  ) {
    this.at = `/inquiries/${id}`
  }

  private send<T>(method: string, path: string, body: unknown, headers?: Record<string, string>) {
    return this.ground.insist<T>(this.api, method, this.at + path, body, headers)
  }
  private isDone = (job: number) => this.ground.isDone(this.api, this.id, job)

  /** @returns whether to go on */
  deed(what: number): Promise<boolean> {
    const { random } = this.ground.of
    const work = this.works[random.int(0, this.works.length - 1)]!
    if (what < 45) return this.decide(work)
    if (what < 55) return this.decideMany()
    if (what < 70) return this.mark(work)
    if (what < 85) return this.annotate()
    if (what < 91) return this.sweep()
    if (what < 94) return this.bring(random.int(20, 400))
    return what < 97 ? this.walk() : this.bringText(work)
  }

  async bring(size: number): Promise<boolean> {
    const name = `f-${randomUUID()}`
    const title = (i: number) => `Owls of village ${name} number ${i}`
    const file = Array.from({ length: size }, (_, i) => `@book{k${i}, title={${title(i)}}, year=${1900 + (i % 100)}}`)
    await this.ground.attempt(
      'file',
      `SELECT COUNT(*) / ${size} FROM records r JOIN imports i ON r.source = CONCAT('file:', i.id) WHERE i.file_name = '${name}'`,
      async () => {
        const bytes = new TextEncoder().encode(file.join('\n'))
        const made = await this.send<{ job: number }>('POST', '/imports', bytes, { 'X-File-Name': name })
        return made && (await this.isDone(made.job))
      },
    )
    this.works = ((await this.send<{ id: number }[]>('GET', '/works', undefined)) ?? []).map(w => w.id)
    return true
  }

  private async decide(work: number): Promise<boolean> {
    const { random } = this.ground.of
    const group = randomUUID()
    const choice = random.pick(['keep', 'set aside', 'later'])
    const decisions = [{ id: randomUUID(), work, pass: 'title', choice }]
    const done = await this.ground.attempt('decision', `SELECT COUNT(*) FROM deeds WHERE group_id = '${group}'`, () =>
      this.send('POST', '/decisions', { group, decisions }),
    )
    if (done && random.chance(0.3))
      await this.ground.attempt('undo', `SELECT COUNT(*) FROM deeds WHERE undoes = '${group}'`, () =>
        this.send('POST', '/undo', { group, id: randomUUID() }),
      )
    return true
  }

  private async decideMany(): Promise<boolean> {
    const group = randomUUID()
    const decisions = this.works
      .slice(0, 40)
      .map(work => ({ id: randomUUID(), work, pass: 'abstract', choice: 'keep', reason: null }))
    await this.ground.attempt(
      'forty decisions',
      `SELECT COUNT(*) / ${decisions.length} FROM deeds WHERE group_id = '${group}'`,
      () => this.send('POST', '/decisions', { group, decisions }),
    )
    return true
  }

  private async mark(work: number): Promise<boolean> {
    const own = randomUUID()
    const marks = [{ id: own, work, about: `tag:t${this.ground.of.random.int(0, 9)}`, value: true }]
    await this.ground.attempt('mark', `SELECT COUNT(*) FROM deeds WHERE id = '${own}'`, () =>
      this.send('POST', '/marks', { group: randomUUID(), marks }),
    )
    return true
  }

  private async annotate(): Promise<boolean> {
    if (!this.entry) {
      const [work] = this.works
      const decisions = [{ id: randomUUID(), work, pass: 'full text', choice: 'keep' }]
      await this.send('POST', '/decisions', { group: randomUUID(), decisions })
      try {
        this.entry = await this.send('POST', '/entries', { work })
      } catch {
        return true // an undo was faster
      }
    }
    const { entry } = this
    if (!entry) return false
    const got = await this.ground.attempt(
      'annotation',
      `SELECT version >= ${entry.version + 1} FROM entries WHERE id = ${entry.id}`,
      () =>
        this.send<{ version: number }>(
          'PATCH',
          `/entries/${entry.id}`,
          { annotation: `Written ${randomUUID()}.` },
          { 'If-Match': `"${entry.version}"` },
        ),
    )
    if (got) this.entry = { id: entry.id, version: got.version }
    return true
  }

  private async sweep(): Promise<boolean> {
    const query = `moth* and year = ${this.ground.of.random.int(1990, 2025)}`
    const catalogues = ['broadleaf', 'lampyr']
    const made = await this.send<{ id: number; job: number }>('POST', '/sweeps', { query, catalogues })
    if (!made) return false
    await this.ground.attempt(
      'sweep',
      `SELECT COUNT(*) / 2 FROM sweep_catalogues p WHERE sweep_id = ${made.id} AND state = 'done' AND fetched = (SELECT COUNT(*) FROM sweep_hits h WHERE h.sweep_id = p.sweep_id AND h.catalogue = p.catalogue)`,
      () => this.isDone(made.job),
    )
    return true
  }

  /** Brings a work that the citation index knows, and walks its trails. */
  private async walk(): Promise<boolean> {
    const { world, random } = this.ground.of
    const known = world.works.filter(w => w.item.DOI && w.references.length > 3)
    const { item } = random.pick(known)
    const bytes = new TextEncoder().encode(JSON.stringify([item]))
    const made = await this.send<{ job: number }>('POST', '/imports', bytes, { 'X-File-Name': 'one.json' })
    if (!made || !(await this.isDone(made.job))) return Boolean(made)
    const works = (await this.send<{ id: number; doi: string | null }[]>('GET', '/works', undefined)) ?? []
    const of = works.find(w => w.doi === item.DOI)?.id
    let begun: { job: number; round: number } | undefined
    try {
      begun = await this.send('POST', '/rounds', { scope: 'work', of })
    } catch {
      return true // it was walked before
    }
    if (!begun) return false
    const { round, job } = begun
    await this.ground.attempt(
      'round',
      `SELECT COUNT(*) FROM rounds r WHERE r.id = ${round} AND 2 = (SELECT COUNT(*) FROM walks w WHERE w.round_id = r.id AND w.day IS NOT NULL
         AND w.got <= (SELECT COUNT(*) FROM citations c WHERE IF(w.direction = 'references', c.citing, c.cited) = w.node_id))`,
      () => this.isDone(job),
    )
    return true
  }

  private async bringText(work: number): Promise<boolean> {
    const { world, random } = this.ground.of
    const own = world.works[random.int(0, 200)]!
    const pdf = new Uint8Array(await drawPdf(world, own, { version: 'version of record' }))
    const made = await this.send<{ job: number }>('POST', `/works/${work}/copies`, pdf, { 'X-File-Name': 'own.pdf' })
    if (!made) return false
    await this.ground.attempt(
      'file for a work',
      `SELECT state = 'done' AND JSON_VALUE(result, '$.outcome') IS NOT NULL FROM jobs WHERE id = ${made.job}`,
      () => this.isDone(made.job),
    )
    return true
  }
}
