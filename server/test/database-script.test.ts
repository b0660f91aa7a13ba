import { expect, test } from '@jest/globals'
import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

const { databasePid, stopDatabase } = (await import('../../scripts/database.mjs' as string)) as {
  databasePid(folder: string): number | undefined
  stopDatabase(folder: string): Promise<boolean>
}

test('the number of a database that died is not taken for it when another program has it now', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'vine-pid-'))
  mkdirSync(join(folder, 'mariadb'))
  const other = spawn(process.execPath, ['-e', 'setInterval(() => 0, 1000)'])
  await once(other, 'spawn')
  writeFileSync(join(folder, 'mariadb.pid'), String(other.pid))
  expect(databasePid(folder)).toBeUndefined()
  expect(await stopDatabase(folder)).toBe(false)
  expect(other.exitCode).toBeNull()
  other.kill('SIGKILL')
  await once(other, 'exit')
  rmSync(folder, { recursive: true })
})
