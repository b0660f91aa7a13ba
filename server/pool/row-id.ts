import { number } from 'yup'

/** The largest number that a row can have (INT UNSIGNED). */
export const LARGEST_ID = 4_294_967_295

/** The number of a row, as a client names it. */
export const rowId = number()
  .integer('A number of a row is a whole number.')
  .min(1)
  .max(LARGEST_ID, 'There is no row of this number.')
