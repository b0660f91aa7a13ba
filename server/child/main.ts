import { tasks } from './tasks'

/** One task a process: bytes in, answer out, end. */
process.once('message', (m: { task: keyof typeof tasks; bytes: Buffer; how?: object }) => {
  void (async () => {
    try {
      const task = tasks[m.task] as (bytes: Buffer, how?: object) => unknown
      const answer = await task(Buffer.from(m.bytes), m.how)
      process.send!({ answer }, () => process.exit(0))
    } catch (e) {
      process.send!({ error: e instanceof Error ? `${e.name}: ${e.message}` : String(e) }, () => process.exit(0))
    }
  })()
})
