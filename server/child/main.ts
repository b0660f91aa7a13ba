import { tasks } from './tasks'

/** One task after the other: bytes in, answer out. What went wrong once is not trusted with another file. */
process.on('message', (m: { task: keyof typeof tasks; bytes: Buffer; how?: object }) => {
  void (async () => {
    try {
      const task = tasks[m.task] as (bytes: Buffer, how?: object) => unknown
      process.send!({ answer: await task(Buffer.from(m.bytes), m.how) })
    } catch (e) {
      process.send!({ error: e instanceof Error ? `${e.name}: ${e.message}` : String(e) }, () => process.exit(0))
    }
  })()
})
// whoever began it is gone
process.once('disconnect', () => process.exit(0))
