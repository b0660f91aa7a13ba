import { spawn } from 'node:child_process'
import { tellWorld } from '../desk/desk-service'
import { standOn } from '../db/desk-day'
import type { Context } from '../base/context'
import { deleteInquiries } from '../inquiries/delete'
import type { JobHandle } from '../jobs/queue'
import { Problem } from '../base/problem'

/** Takes the demo account's inquiries away, puts the desk back on the demo's first day and has the demo laid anew. */
export async function runDemo(c: Context, { signal }: JobHandle): Promise<Record<string, unknown>> {
  const { demoAccount, demoScript, demoDay, port } = c.settings
  if (!demoAccount || !demoScript) throw new Problem(404, 'no-demo', 'There is no demo here.')
  const user = await c.db.users.findOne({ where: { email: demoAccount }, raw: true })
  const owned = await c.db.memberships.findAll({ where: { userId: user?.id ?? 0, role: 'owner' }, raw: true })
  await deleteInquiries(
    c,
    owned.map(o => o.inquiryId),
  )
  await standOn(c.db, demoDay)
  await tellWorld(c, demoDay)
  const child = spawn(process.execPath, [demoScript, '--address', `http://127.0.0.1:${port}`], {
    signal,
    stdio: 'inherit',
  })
  const code = await new Promise<number | null>((done, fail) => {
    child.once('error', fail)
    child.once('exit', done)
  })
  if (code !== 0) throw new Problem(500, 'demo-failed', 'The demo could not be laid. Try once more.')
  return {}
}
