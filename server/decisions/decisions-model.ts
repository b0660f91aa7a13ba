import { DataTypes as D, Op, type Model, type ModelStatic, type Sequelize, type Transaction } from 'sequelize'
import type { Choice, Pass } from '../../core/sift/decisions'
import type { Context } from '../context'
import { inParts } from '../db/rows'

/** A line of the log of decisions; the log is only ever added to. */
export interface DecisionRow {
  n: number
  /** Made by the client. */
  id: string
  /** Made together, undone together. */
  groupId: string
  inquiryId: number
  workId: number
  pass: Pass
  /** Null in a line that undoes. */
  choice: Choice | null
  reason: string | null
  /** The group that this line takes back. */
  undoes: string | null
  userId: number | null
  revision: number
  at: Date
}
export type NewDecision = Omit<DecisionRow, 'n' | 'at' | 'undoes'>

export const defineDecisions = (sequelize: Sequelize) =>
  sequelize.define(
    'decisions',
    {
      n: { type: D.INTEGER.UNSIGNED, primaryKey: true, autoIncrement: true },
      id: D.STRING,
      groupId: D.STRING,
      inquiryId: D.INTEGER.UNSIGNED,
      workId: D.INTEGER.UNSIGNED,
      pass: D.STRING,
      choice: D.STRING,
      reason: D.STRING,
      undoes: D.STRING,
      userId: D.INTEGER.UNSIGNED,
      revision: D.INTEGER.UNSIGNED,
      at: D.DATE(3),
    },
    { tableName: 'decisions' },
  ) as unknown as ModelStatic<Model<DecisionRow, Partial<DecisionRow>> & DecisionRow>

/** The decisions that have these ids, whosesoever they are. */
export const decisionsById = (context: Context, ids: readonly string[], t: Transaction): Promise<DecisionRow[]> =>
  context.db.decisions.findAll({ where: { id: { [Op.in]: [...ids] } }, transaction: t, raw: true })

/** Adds lines to the log. @throws where one of their ids is there already */
export async function addDecisions(context: Context, rows: readonly NewDecision[], t: Transaction): Promise<void> {
  for (const part of inParts(rows)) await context.db.decisions.bulkCreate(part, { transaction: t })
}
