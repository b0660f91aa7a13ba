/**
 * Plants small faults in a folder of core and runs the tests beside it, to see which faults nobody notices. Literals are left
 * out: a sentence may be worded differently without being wrong.
 *   npm run mutants core/match [core/sift …]     reports/mutants/NAME.md lists what survived
 */
import { mkdirSync, writeFileSync } from 'node:fs'
import { cpus } from 'node:os'
import { Stryker } from '@stryker-mutator/core'
import base from '../jest.config.js'

const folders = process.argv.slice(2).map(f => f.replace(/\/+$/, ''))
if (!folders.length) {
  console.error('npm run mutants FOLDER … , for example core/match')
  process.exit(2)
}
mkdirSync('reports/mutants', { recursive: true })
for (const folder of folders) {
  const results = await new Stryker({
    mutate: [`${folder}/**/*.ts`, `!${folder}/**/*.test.ts`, `!${folder}/**/*.d.ts`],
    mutator: { excludedMutations: ['StringLiteral'] },
    testRunner: 'jest',
    testRunnerNodeArgs: ['--experimental-vm-modules', '--no-warnings'],
    plugins: ['@stryker-mutator/jest-runner'],
    jest: {
      projectType: 'custom',
      enableFindRelatedTests: false,
      // core has no database to start
      config: { ...base, globalSetup: null, globalTeardown: null, testMatch: [`<rootDir>/${folder}/**/*.test.ts`] },
    },
    coverageAnalysis: 'perTest',
    concurrency: Math.max(1, cpus().length),
    ignorePatterns: ['/.data', '/demo', '/docs', '/dist', '/e2e', '/test-results', '/bench', '/.ci'],
    tempDirName: 'test-results/mutants',
    reporters: ['progress-append-only', 'clear-text'],
    clearTextReporter: { allowColor: false, logTests: false, reportTests: false, reportMutants: false },
    timeoutMS: 20_000,
    allowConsoleColors: false,
  }).runMutationTest()
  report(folder, results)
}

function report(folder, results) {
  const counted = results.filter(m => !['Ignored', 'CompileError', 'RuntimeError'].includes(m.status))
  const killed = counted.filter(m => m.status === 'Killed' || m.status === 'Timeout')
  const left = counted.filter(m => !killed.includes(m))
  const share = counted.length ? Math.round((1000 * killed.length) / counted.length) / 10 : 100
  const lines = left
    .sort((a, b) => a.fileName.localeCompare(b.fileName) || a.location.start.line - b.location.start.line)
    .map(
      m =>
        `- ${m.fileName.replace(`${process.cwd()}/`, '')}:${m.location.start.line + 1} ${m.mutatorName} → \`${m.replacement.replace(/\s+/g, ' ').slice(0, 100)}\`${m.status === 'NoCoverage' ? ' (no test comes here)' : ''}`,
    )
  const file = `reports/mutants/${folder.replaceAll('/', '-')}.md`
  writeFileSync(
    file,
    `# ${folder}: ${killed.length} of ${counted.length} faults noticed, ${share}%\n\n${lines.join('\n')}\n`,
  )
  console.log(`${folder}: ${killed.length} of ${counted.length} noticed, ${share}%; the others are listed in ${file}`)
}
