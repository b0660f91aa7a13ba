import '../setup'
import { array, boolean, mixed, number, object, string, type ObjectShape, type Schema } from 'yup'

/** Small words for the shapes of the API. In answers every field is there, and none that is not named here. */
export const text = () => string().defined()
export const whole = () => number().integer().defined()
export const real = () => number().defined()
export const flag = () => boolean().defined()
export const oneOf = <const T extends string>(values: readonly T[]) => string<T>().oneOf(values).defined()
export const orNull = <T>(of: Schema<T>): Schema<T | null> => of.nullable() as Schema<T | null>
export const maybe = <T>(of: Schema<T>): Schema<T | undefined> => of.optional() as unknown as Schema<T | undefined>
export const list = <T>(of: Schema<T>) => array(of as Schema<NonNullable<T>>).defined() as unknown as Schema<T[]>
/** Two numbers: from and to. */
export const pair = () => array(real()).length(2).defined() as unknown as Schema<[number, number]>
/** Values by names that are not known beforehand. */
export const bag = (): Schema<Record<string, unknown>> =>
  mixed<Record<string, unknown>>((v): v is Record<string, unknown> => typeof v === 'object' && v !== null).defined()
export const shape = <S extends ObjectShape>(fields: S) => object(fields).noUnknown().defined()

type Fields<T> = { [K in keyof Required<T>]: Schema }
/**
 * The shape of something that core computes: the type is core's own, and each of its fields has to be named here.
 * @example like<YearCount>()({ year: whole(), n: whole() })
 */
export const like =
  <T>() =>
  <S extends Fields<T>>(fields: S & Record<Exclude<keyof S, keyof T>, never>): Schema<T> =>
    object(fields as unknown as ObjectShape)
      .noUnknown()
      .defined() as unknown as Schema<T>

/** The largest number that a row can have (INT UNSIGNED). */
export const LARGEST_ID = 4_294_967_295
/** The number of a row, as a client names it. */
export const rowId = number()
  .integer('A number of a row is a whole number.')
  .min(1)
  .max(LARGEST_ID, 'There is no row of this number.')

export const uuid = string().matches(
  /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/,
  'An id has to be a UUID.',
)
/** A moment as it is told (ISO 8601). */
export const moment = () =>
  string()
    .matches(/^\d{4}-\d\d-\d\dT[\d:.]+Z$/)
    .defined()
/** A day of the desk. */
export const day = () =>
  string()
    .matches(/^\d{4}-\d\d-\d\d$/)
    .defined()
