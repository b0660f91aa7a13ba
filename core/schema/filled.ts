import { ObjectSchema, type Schema } from 'yup'

/** The fields of a shape by their names; undefined where it has none. */
export const fieldsOf = (shape: Schema): Record<string, Schema> | undefined =>
  shape instanceof ObjectSchema ? (shape.fields as Record<string, Schema>) : undefined

/** A body in which one value stands in every field of a shape, however deep: what tests send to see it refused. */
export function filledWith(shape: Schema, value: unknown): unknown {
  const fields = fieldsOf(shape)
  return fields ? Object.fromEntries(Object.entries(fields).map(([name, s]) => [name, filledWith(s, value)])) : value
}
