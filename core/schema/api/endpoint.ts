import type { Schema } from 'yup'

export type Method = 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE'

/** One address of the API: what it takes and gives, said once for routes, tests, the browser and the documentation. */
export interface Endpoint {
  method: Method
  /** Below /api, as `/inquiries/:inquiry/works/:work`. */
  path: string
  /** What it does, in a sentence. */
  does: string
  status: readonly number[]
  query?: Schema
  /** JSON of this shape, or the bytes of a file. */
  body?: Schema | typeof BYTES
  /** Bytes of a file at most. */
  most?: number
  /** The file may be locked: its password comes in the header X-File-Password, percent-encoded. */
  locked?: boolean
  /** JSON of this shape; text of these types; nothing where it is left out. */
  answer?: Schema | readonly string[]
  /** Whether it has to be said, by If-Match, which version is changed. */
  ifMatch?: boolean
  /** It changes nothing, so that members who may only look can use it, though it is no GET. */
  forReaders?: boolean
}

/** The body is a file, its name in the header X-File-Name, percent-encoded. */
export const BYTES = 'bytes'

/** Names in paths that stand for texts; all others stand for numbers of rows. */
export const TEXT_PARAMS = [
  'session',
  'catalogue',
  'library',
  'direction',
  'token',
  'code',
  'head',
  'style',
  'place',
  'vocabulary',
  'concept',
] as const
type TextParam = (typeof TEXT_PARAMS)[number]

type Named<P extends string> = P extends `${string}:${infer N}/${infer Rest}`
  ? N | Named<`/${Rest}`>
  : P extends `${string}:${infer N}`
    ? N extends `${infer M}.${string}`
      ? M
      : N
    : never
/** What stands in a path, by name. */
export type Params<P extends string> = { [N in Named<P>]: N extends TextParam ? string : number }

export type ParamsOf<E> = E extends { path: infer P extends string } ? Params<P> : never
export type QueryOf<E> = E extends { query: Schema<infer Q> } ? Q : Record<never, never>
export type BodyOf<E> = E extends { body: Schema<infer B> } ? B : undefined
export type AnswerOf<E> = E extends { answer: Schema<infer A> } ? A : undefined

type Shaped = 'query' | 'body' | 'answer'
type Given = Omit<Endpoint, 'method' | 'path' | 'status'> & { status?: number | readonly number[] }

/** @example endpoint('GET', '/inquiries/:inquiry/strands', { does: 'The strands.', answer: list(strand) }) */
export function endpoint<const P extends string, const G extends Given>(
  method: Method,
  path: P,
  given: G,
): Omit<Endpoint, Shaped> & { path: P } & Pick<G, Extract<keyof G, Shaped>> {
  const usual = method === 'POST' ? 201 : given.answer ? 200 : 204
  return { ...given, method, path, status: ([] as number[]).concat(given.status ?? usual) }
}

/** A path with its names filled in. @example addressOf('/works/:work', { work: 7 }) // '/works/7' */
export const addressOf = (path: string, params: Readonly<Record<string, string | number>> = {}): string =>
  path.replace(/:([a-z]+)/g, (_, name: string) => encodeURIComponent(params[name] ?? ''))
