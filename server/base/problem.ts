import { ValidationError, type Schema, type InferType } from 'yup'

/** An error with an answer for the client, after RFC 9457. `said` is a sentence for a student. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    said: string,
    readonly more: Record<string, unknown> = {},
  ) {
    super(said)
  }
}

export const notFound = (): Problem =>
  new Problem(404, 'not-found', 'There is nothing at this address, or it is not yours to see.')

/** Checks input against a Yup schema. @throws Problem 422 with every field that is wrong */
export function check<S extends Schema>(schema: S, input: unknown): InferType<S> {
  try {
    return schema.validateSync(input, { abortEarly: false, stripUnknown: true }) as InferType<S>
  } catch (e) {
    if (!(e instanceof ValidationError)) throw e
    const fields = (e.inner.length ? e.inner : [e]).map(x => ({ field: x.path ?? '', said: x.message }))
    throw new Problem(422, 'invalid', 'Some of what was sent cannot be used.', { fields })
  }
}
