import {
  DataTypes as D,
  type Model,
  type ModelAttributeColumnOptions,
  type ModelStatic,
  type Sequelize,
} from 'sequelize'

declare const row: unique symbol
/** A column: how the database keeps it, and what it is in a row. */
export interface Column<T> {
  readonly kept: ModelAttributeColumnOptions
  readonly [row]?: T
}
type Columns = Record<string, Column<unknown>>
/**
 * A table as it is described once: its rows' type and its model come of this; keys and constraints are the
 * migrations'.
 */
export interface TableOf<C extends Columns> {
  readonly name: string
  readonly columns: C
}
/** A row of a table. */
export type RowOf<T extends { columns: Columns }> = {
  -readonly [K in keyof T['columns']]: T['columns'][K] extends Column<infer R> ? R : never
}
export type Table<T extends object> = ModelStatic<Model<T, Partial<T>> & T>

const column = <T>(type: ModelAttributeColumnOptions['type'], more: object = {}): Column<T> => ({
  kept: { type, ...more },
})
/** A number of a row that it gets by itself. */
export const ownId = () => column<number>(D.INTEGER.UNSIGNED, { primaryKey: true, autoIncrement: true })
/** Part of the key. */
export const key = () => column<number>(D.INTEGER.UNSIGNED, { primaryKey: true })
export const keyText = <T extends string = string>() => column<T>(D.STRING, { primaryKey: true })
export const whole = () => column<number>(D.INTEGER.UNSIGNED)
export const real = () => column<number>(D.DOUBLE)
export const flag = () => column<boolean>(D.BOOLEAN)
/** A short text, or one of a few words. */
export const word = <T extends string = string>() => column<T>(D.STRING)
export const text = () => column<string>(D.TEXT)
export const json = <T>() => column<T>(D.JSON)
/** A day of the desk, `2026-10-05`. */
export const day = () => column<string>(D.DATEONLY)
/** A moment, to the millisecond. */
export const moment = () => column<Date>(D.DATE(3))
export const orNull = <T>(c: Column<T>): Column<T | null> => c as Column<T | null>

export const describeTable = <C extends Columns>(name: string, columns: C): TableOf<C> => ({ name, columns })

/** The model of a table. */
export const modelOf = <C extends Columns>(
  sequelize: Sequelize,
  { name, columns }: TableOf<C>,
): Table<RowOf<TableOf<C>>> =>
  // Sequelize writes into the descriptions it is given
  sequelize.define(name, Object.fromEntries(Object.entries(columns).map(([field, { kept }]) => [field, { ...kept }])), {
    tableName: name,
  }) as unknown as Table<RowOf<TableOf<C>>>
