import { randomUUID } from 'node:crypto'
import type { Agent } from 'supertest'
import { drawPdf } from '../../../standins/pdf'
import type { ServedWorld } from '../../../standins/world'
import { newInquiry, type Desk } from '../desk'

const BIB = `
@article{a, title={Lamps and moths of the towns}, author={Okafor, Ada}, year={2012}, journal={Night Papers}, volume={4}, pages={1--9}, language={en}, abstract={We counted moths at lamps.}}
@article{b, title={Owls of the harbour}, author={Ruiz, Bea}, year={2015}, journal={Night Papers}, pages={20--31}}
@article{c, title={Review of Harbours at dusk, by B. Ruiz}, author={Bee, Cy}, year={2016}, journal={Night Papers}, pages={301--303}}
@article{d, title={Bats under bridges}, author={Bee, Cy}, year={2001}, journal={Dusk Letters}}
@inproceedings{e, title={Counting beetles along lit roads in winter}, author={Moro, Di and Bee, Cy}, year={2010}, booktitle={Meeting on Dusk}, pages={4--9}}
@article{f, title={Counting beetles along lit roads in winter}, author={Moro, Di and Bee, Cy}, year={2012}, journal={Dusk Letters}, volume={9}, pages={100--131}}
@article{g, title={Harbour lamps and the moths of a cold spring}, year={2020}, author={Okafor, Ada}}
@article{h, title={Harbour lamps and the moths of a cold spring}, year={2020}}
`

/** Something in every table that a student's work can fill, laid through the API. @returns the inquiry */
export async function lay(desk: Desk, world: ServedWorld): Promise<number> {
  const id = await newInquiry(desk, { languages: ['en', 'de'], kindsOut: ['news'], notBefore: 1990 })
  const at = `/api/inquiries/${id}`
  const get = async (path: string) => (await desk.owner.get(at + path).expect(200)).body
  const send = async (path: string, body: object) => {
    const r = desk.owner.post(at + path).set('Idempotency-Key', randomUUID())
    const answer = Buffer.isBuffer(body)
      ? await r.set('Content-Type', 'application/octet-stream').send(body)
      : await r.send(body)
    if (answer.status > 299) throw new Error(`${path}: ${answer.status} ${answer.text}`)
    return answer.body
  }
  const job = async (path: string, body: object) => desk.finish(id, (await send(path, body)).job)
  const decide = async (works: number[], pass: string, choice: string, reason: string | null = null) => {
    const group = randomUUID()
    await send('/decisions', {
      group,
      decisions: works.map(work => ({ id: randomUUID(), work, pass, choice, reason })),
    })
    return group
  }
  const say = async (work: number, about: string, value: unknown) => {
    const group = randomUUID()
    await send('/marks', { group, marks: [{ id: randomUUID(), work, about, value }] })
    return group
  }
  const undo = (group: string) => send('/undo', { group, id: randomUUID() })

  await job('/imports', Buffer.from(BIB))
  const title = async (text: string): Promise<number> =>
    ((await get('/works')) as { id: number; title: string }[]).find(w => w.title.includes(text))!.id
  const [lamps, owls, review, bats] = [
    await title('Lamps and'),
    await title('Owls'),
    await title('Review'),
    await title('Bats'),
  ]
  await decide([lamps, owls, review], 'title', 'keep')
  await decide([bats], 'title', 'set aside', 'Too old for the brief')
  await decide([review], 'abstract', 'set aside', 'Not about lamps')
  await undo(await decide([lamps], 'abstract', 'later'))
  await say(lamps, 'part', 'evidence')
  await say(lamps, 'note', 'Read the table again.')
  await say(owls, 'tag:birds', true)
  await undo(await say(owls, 'tag:boats', true))
  await say(owls, 'kind', 'report')
  await say(owls, 'field:volume', { text: '7' })
  const strand = (await send('/strands', { name: 'Harbours' })).id as number
  await say(owls, `strand:${strand}`, true)
  for (const [i, t] of ((await get('/twins')) as { a: { record: number }; b: { record: number } }[]).entries())
    await send('/links', { a: t.a.record, b: t.b.record, verdict: i % 2 ? 'never' : 'same', group: randomUUID() })
  await send('/views', { name: 'Old ones', limits: { state: ['set aside'] }, words: 'bats' })
  const sweep = await send('/sweeps', { query: 'moth* and harbour*', catalogues: ['fennmark'] })
  await desk.finish(id, sweep.job)
  await send('/pool', { sweep: sweep.id, all: true, records: [] })
  await send('/standing', { name: 'Every week', sweep: sweep.id, everyDays: 7, mails: false })
  const own = world.works.find(w => w.form === 'research article' && w.item.DOI && world.byDoi.has(w.item.DOI))!
  await job('/imports', Buffer.from(JSON.stringify([{ ...own.item, id: 'own' }])))
  const article = await title(own.item.title!.slice(0, 30))
  await decide([article], 'abstract', 'keep')
  await job('/rounds', { scope: 'work', of: article })
  await job('/routes', {})
  const copy = await job(
    `/works/${article}/copies`,
    Buffer.from(await drawPdf(world, own, { version: 'version of record' })),
  )
  await send(`/copies/${String(copy.result.copyId)}/passages`, {
    page: 1,
    kind: 'in my words',
    quote: '',
    note: 'What they counted.',
  })
  for (const w of [lamps, article]) await send('/entries', { work: w })
  const { entries } = await get('/bibliography')
  const first = (entries as { id: number; version: number }[])[0]!
  await desk.owner
    .patch(`${at}/entries/${first.id}`)
    .set('If-Match', `"${first.version}"`)
    .send({ annotation: 'They counted moths.' })
    .expect(200)
  await send('/checks', { draws: 3 })
  return id
}

/** What the pages show of an inquiry, but for what is new with each reading. */
export async function shown(agent: Agent, id: number): Promise<Record<string, unknown>> {
  const at = `/api/inquiries/${id}`
  const get = async (path: string) => (await agent.get(at + path).expect(200)).body
  const lines = (await get('/works')) as { id: number }[]
  const paths = [
    '',
    '/brief',
    '/sheet',
    '/sweeps',
    '/standing',
    '/imports',
    '/works',
    '/twins',
    '/flow',
    '/strands',
    '/views',
    '/checks',
    '/routes',
    '/history',
    '/arrivals',
    '/bibliography',
  ]
  const all: Record<string, unknown> = {}
  for (const path of paths) all[path] = await get(path)
  for (const { id: work } of lines) all[`/works/${work}`] = await get(`/works/${work}`)
  return all
}
