import { string } from 'yup'
import { isDay } from '../bib/dates'

const FORM = /^\d{4}-\d{2}-\d{2}$/

/** A day that there is, as an ISO date. */
export const aDay = () =>
  string()
    .matches(FORM, { message: 'Give a date as 2026-12-24.', excludeEmptyString: true })
    .test('real', 'There is no such day.', v => !v || !FORM.test(v) || isDay(v))
