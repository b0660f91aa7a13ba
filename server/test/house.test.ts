import { expect, test } from '@jest/globals'
import { readdirSync, readFileSync } from 'node:fs'
import { dirname, join, relative, resolve } from 'node:path'

/** Every file of the product with what it imports of ours, tests left out. */
function files(folder: string): { file: string; imports: string[] }[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap(e => {
    const path = join(folder, e.name)
    if (e.isDirectory()) return /^(test|node_modules)$/.test(e.name) ? [] : files(path)
    if (!/\.tsx?$/.test(e.name) || /\.(test|d)\.tsx?$/.test(e.name)) return []
    const found = readFileSync(path, 'utf8').matchAll(/(?:from|import)\s*\(?'(\.[^']*)'/g)
    return [{ file: path, imports: [...found].map(m => relative('.', resolve(dirname(path), m[1]!))) }]
  })
}
const all = ['core', 'server', 'web'].flatMap(files)

/** Rooms that can be reached from one another by imports, types among them. */
function circles(): string[][] {
  const leads = new Map<string, Set<string>>()
  for (const { file, imports } of all)
    for (const i of imports) {
      const [from, to] = [dirname(file), dirname(i)]
      if (from !== to) leads.set(from, (leads.get(from) ?? new Set()).add(to))
    }
  const reach = (from: string): Set<string> => {
    const seen = new Set<string>()
    for (const open = [...(leads.get(from) ?? [])]; open.length;) {
      const room = open.pop()!
      if (seen.has(room)) continue
      seen.add(room)
      open.push(...(leads.get(room) ?? []))
    }
    return seen
  }
  const reached = new Map([...leads.keys()].map(r => [r, reach(r)]))
  const inCircle = [...reached].filter(([r, to]) => to.has(r)).map(([r]) => r)
  return inCircle.map(r => inCircle.filter(o => reached.get(r)!.has(o) && reached.get(o)?.has(r)))
}

test('no room leans on one that leans on it, however far around', () => {
  expect(circles()).toEqual([])
})

test('core leans on nothing, the browser on core alone, and neither on the server', () => {
  const strange = all.flatMap(({ file, imports }) =>
    imports
      .filter(
        i => (file.startsWith('core/') && !i.startsWith('core/')) || (file.startsWith('web/') && /^server/.test(i)),
      )
      .map(i => `${file} → ${i}`),
  )
  expect(strange).toEqual([])
})

test('routers translate: they speak to no table, and no statement stands outside of models and the database’s own rooms', () => {
  const said = (file: string) => readFileSync(file, 'utf8')
  const routers = all.filter(f => f.file.endsWith('-routes.ts'))
  expect(routers.length).toBeGreaterThan(12)
  expect(routers.filter(f => /\.db\b|from 'sequelize'/.test(said(f.file))).map(f => f.file)).toEqual([])
  const services = all.filter(f => /-service\.ts$/.test(f.file))
  expect(services.filter(f => /QueryTypes|sequelize\.query/.test(said(f.file))).map(f => f.file)).toEqual([])
})
