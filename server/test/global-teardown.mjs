import { rmSync } from 'node:fs'
import { stopDatabase } from '../../scripts/database.mjs'

export default async () => {
  await stopDatabase(globalThis.__vineDatabase)
  rmSync(globalThis.__vineDatabase, { recursive: true, force: true })
}
