import { tasks } from './tasks'

/** One task a process: bytes in, answer out, end. */
process.once('message', (m: { task: keyof typeof tasks; bytes: Buffer }) => {
  void (async () => {
    try {
      const answer = await tasks[m.task](Buffer.from(m.bytes))
      process.send!({ answer }, () => process.exit(0))
    } catch (e) {
      process.send!({ error: e instanceof Error ? `${e.name}: ${e.message}` : String(e) }, () => process.exit(0))
    }
  })()
})
