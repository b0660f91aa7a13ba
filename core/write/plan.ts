import { addDays } from '../bib/dates'

/** Days that reading a text and writing about it take at the end. */
const READ_AND_WRITE = 5

/**
 * The day by which the last text has to be here, so that it can still be read and written about.
 * @param due ISO date; null where nothing is due
 */
export const neededBy = (due: string | null): string | null => due && addDays(due, -READ_AND_WRITE)
