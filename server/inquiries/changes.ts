import { Op, QueryTypes } from 'sequelize'
import type { Context } from '../base/context'
import type { JobRow } from '../jobs/jobs-model'
import { tellJob as told } from '../jobs/jobs-service'

/** So often the database is asked for what changed, in milliseconds. */
const BEAT = 400
/** Every so many beats it is asked whether who listens still may, and silent streams show that they are alive. */
const RIGHTS = 12
const ALIVE = 25

/** A browser that listens to an inquiry. */
interface Listener {
  inquiryId: number
  userId: number
  sid: string
  revision: number
  /** The jobs it was told of and how they stood. */
  jobs: Map<number, string>
  write(text: string): unknown
  /** Deleted, signed out, or not a member any more; or the database is away, and the browser comes back by itself. */
  end(): unknown
}

/**
 * Tells browsers what changed. It is read from the database, so that it does not matter which process made it; and
 * once for all who listen here, however many they are. With nobody listening nothing is asked.
 */
export function watchChanges(context: Context) {
  const listeners = new Set<Listener>()
  let timer: NodeJS.Timeout | undefined
  let beats = 0

  const beat = async () => {
    const all = [...listeners]
    try {
      if (beats % RIGHTS === 0) await dropStrangers(context, all)
      await tell(context, all)
      if (beats % ALIVE === ALIVE - 1) for (const l of all) l.write(': still here\n\n')
    } catch {
      for (const l of all) l.end()
    }
    beats++
    timer = listeners.size ? setTimeout(() => void beat(), BEAT) : undefined
  }
  return {
    /** @returns stops it */
    listen(given: Omit<Listener, 'revision' | 'jobs'>): () => void {
      // one that is gone is not written to any more
      const listener: Listener = {
        ...given,
        revision: -1,
        jobs: new Map(),
        write: text => listeners.has(listener) && given.write(text),
        end: () => listeners.delete(listener) && given.end(),
      }
      listeners.add(listener)
      if (!timer) timer = setTimeout(() => void beat(), 0)
      return () => void listeners.delete(listener)
    },
    close(): void {
      clearTimeout(timer)
      for (const l of [...listeners]) l.end()
    },
  }
}
export type Changes = ReturnType<typeof watchChanges>

async function tell({ db }: Context, all: readonly Listener[]): Promise<void> {
  const inquiries = [...new Set(all.map(l => l.inquiryId))]
  if (!inquiries.length) return
  const known = [...new Set(all.flatMap(l => [...l.jobs.keys()]))]
  const [rows, jobs] = await Promise.all([
    db.inquiries.findAll({ where: { id: inquiries }, attributes: ['id', 'revision'], raw: true }),
    db.jobs.findAll({
      where: { inquiryId: inquiries, [Op.or]: [{ state: ['queued', 'running'] }, { id: known }] },
      raw: true,
    }),
  ])
  const revisions = new Map(rows.map(r => [r.id, r.revision]))
  const texts = new Map(jobs.map(j => [j.id, JSON.stringify(told(j))]))
  for (const l of all) {
    const revision = revisions.get(l.inquiryId)
    if (revision === undefined) {
      l.end()
      continue
    }
    if (revision !== l.revision) l.write(`event: revision\ndata: ${revision}\n\n`)
    l.revision = revision
    for (const j of jobs) if (j.inquiryId === l.inquiryId) tellJob(l, j, texts.get(j.id)!)
  }
}

function tellJob(l: Listener, j: JobRow, text: string): void {
  const runs = j.state === 'queued' || j.state === 'running'
  // one that ended before anybody listened is no news
  if (!runs && !l.jobs.has(j.id)) return
  if (l.jobs.get(j.id) !== text) l.write(`event: job\ndata: ${text}\n\n`)
  if (runs) l.jobs.set(j.id, text)
  else l.jobs.delete(j.id)
}

/** Ends the streams of those who are no members any more, or not signed in. */
async function dropStrangers({ db }: Context, all: readonly Listener[]): Promise<void> {
  if (!all.length) return
  const rows = await db.sequelize.query<{ sid: string; inquiryId: number }>(
    `SELECT s.sid, m.inquiry_id AS inquiryId FROM sessions s JOIN memberships m ON m.user_id = s.user_id
     WHERE s.sid IN (:sids) AND s.expires > NOW(3) AND m.inquiry_id IN (:inquiries)`,
    {
      type: QueryTypes.SELECT,
      replacements: { sids: [...new Set(all.map(l => l.sid))], inquiries: [...new Set(all.map(l => l.inquiryId))] },
    },
  )
  const may = new Set(rows.map(r => `${r.sid} ${r.inquiryId}`))
  for (const l of all) if (!may.has(`${l.sid} ${l.inquiryId}`)) l.end()
}
