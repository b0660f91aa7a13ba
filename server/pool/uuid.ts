import { string } from 'yup'

export const uuid = string().matches(
  /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/,
  'An id has to be a UUID.',
)
