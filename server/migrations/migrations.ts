import { SequelizeStorage, Umzug } from 'umzug'
import type { Sequelize } from 'sequelize'
import { first } from './migration-0001-first'
import { holdingsFiles } from './migration-0002-holdings-files'
import { questionSheet } from './migration-0003-question-sheet'
import { standingSweeps } from './migration-0004-standing-sweeps'
import { checks } from './migration-0005-checks'
import { marks } from './migration-0006-marks'
import { nothingLost } from './migration-0007-nothing-lost'
import { accounts } from './migration-0008-accounts'
import { deeds, oldLogs } from './migration-0009-deeds'
import { fillLines, lines } from './migration-0011-lines'
import { blocks, fillBlocks } from './migration-0012-blocks'
import { keys } from './migration-0014-keys'
import { due } from './migration-0015-due'
import { blocks as blocksAnew } from './migration-0016-blocks'
import { holdingLines } from './migration-0017-holdings'
import { connectors } from './migration-0018-connectors'
import { deskDays } from './migration-0019-desk-days'
import { citations } from './migration-0020-citations'
import { unread } from './migration-0021-unread'
import { repositories } from './migration-0022-repositories'
import { copyTexts } from './migration-0023-copy-texts'
import { selectors } from './migration-0024-selectors'
import { scans } from './migration-0025-scans'
import { parts } from './migration-0026-parts'
import { graph, trailsToRows } from './migration-0027-graph'
import { lists as listsOfReferences } from './migration-0028-lists'
import { wayWalks } from './migration-0029-ways'
import { passagesOnStrands } from './migration-0030-passages'
import { sheetsOfReading } from './migration-0031-sheets'
import { libraries } from './migration-0032-libraries'
import { loans } from './migration-0033-loans'
import { styles } from './migration-0034-styles'
import { handIn } from './migration-0035-hand-in'
import { written } from './migration-0036-written'
import { fileMarks } from './migration-0037-file-marks'
import { rhythm } from './migration-0038-rhythm'
import { hours } from './migration-0039-hours'
import { suppliers } from './migration-0040-suppliers'
import { vocabularies } from './migration-0041-vocabularies'
import { copyRights } from './migration-0042-copy-rights'
import { members } from './migration-0043-members'
import { awaited } from './migration-0044-awaited'
import { termsOfRights } from './migration-0045-terms'
import { reminders } from './migration-0046-reminders'
import { movedRows } from './migration-0047-moved'
import { passedOn } from './migration-0048-passed'
import { standingTrails } from './migration-0049-standing-trails'
import { registrations } from './migration-0050-registrations'
import { follows } from './migration-0051-follows'
import { fillLanguages } from './migration-0052-languages'
import { raw } from './migration-0013-raw'

/** All migrations in order. Each can be run again, since statements that define tables cannot be rolled back. */
const migrations: { name: string; statements: string[]; fill?: (sequelize: Sequelize) => Promise<void> }[] = [
  { name: '0001-first', statements: first },
  { name: '0002-holdings-files', statements: holdingsFiles },
  { name: '0003-question-sheet', statements: questionSheet },
  { name: '0004-standing-sweeps', statements: standingSweeps },
  { name: '0005-checks', statements: checks },
  { name: '0006-marks', statements: marks },
  { name: '0007-nothing-lost', statements: nothingLost },
  { name: '0008-accounts', statements: accounts },
  { name: '0009-deeds', statements: deeds },
  { name: '0010-old-logs', statements: oldLogs },
  { name: '0011-lines', statements: lines, fill: fillLines },
  { name: '0012-blocks', statements: blocks, fill: fillBlocks },
  { name: '0013-raw', statements: raw },
  { name: '0014-keys', statements: keys, fill: fillBlocks },
  { name: '0015-due', statements: due },
  { name: '0016-blocks', statements: blocksAnew, fill: fillBlocks },
  { name: '0017-holdings', statements: holdingLines },
  { name: '0018-connectors', statements: connectors },
  { name: '0019-desk-days', statements: deskDays },
  { name: '0020-citations', statements: citations },
  { name: '0021-unread', statements: unread },
  { name: '0022-repositories', statements: repositories },
  { name: '0023-copy-texts', statements: copyTexts },
  { name: '0024-selectors', statements: selectors },
  { name: '0025-scans', statements: scans },
  { name: '0026-parts', statements: parts },
  { name: '0027-graph', statements: graph, fill: trailsToRows },
  { name: '0028-lists', statements: listsOfReferences },
  { name: '0029-ways', statements: wayWalks },
  { name: '0030-passages', statements: passagesOnStrands },
  { name: '0031-sheets', statements: sheetsOfReading },
  { name: '0032-libraries', statements: libraries },
  { name: '0033-loans', statements: loans },
  { name: '0034-styles', statements: styles },
  { name: '0035-hand-in', statements: handIn },
  { name: '0036-written', statements: written },
  { name: '0037-file-marks', statements: fileMarks },
  { name: '0038-rhythm', statements: rhythm },
  { name: '0039-hours', statements: hours },
  { name: '0040-suppliers', statements: suppliers },
  { name: '0041-vocabularies', statements: vocabularies },
  { name: '0042-copy-rights', statements: copyRights },
  { name: '0043-members', statements: members },
  { name: '0044-awaited', statements: awaited },
  { name: '0045-terms', statements: termsOfRights },
  { name: '0046-reminders', statements: reminders },
  { name: '0047-moved', statements: movedRows },
  { name: '0048-passed', statements: passedOn },
  { name: '0049-standing-trails', statements: standingTrails },
  { name: '0050-registrations', statements: registrations },
  { name: '0051-follows', statements: follows },
  { name: '0052-languages', statements: [], fill: fillLanguages },
]

export async function migrate(sequelize: Sequelize): Promise<string[]> {
  const umzug = new Umzug({
    migrations: migrations.map(m => ({
      name: m.name,
      up: async () => {
        for (const s of m.statements) await sequelize.query(s)
        await m.fill?.(sequelize)
      },
    })),
    storage: new SequelizeStorage({ sequelize, tableName: 'migrations' }),
    logger: undefined,
  })
  return (await umzug.up()).map(m => m.name)
}
