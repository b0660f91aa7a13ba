import { useMemo } from 'react'
import type { Bibliography, BibliographyEntry } from '../../../core/schema/api'
import { asCited, citingKey, type Mark, type Said, type Written } from '../../../core/write/written'
import { useHere } from '../../frame/inquiry-frame'
import { useSaved, type Saved } from '../../outbox/use-outbox'

/** How the citations of a list's texts read in its style, and the works they are of now. */
export type Cited = ReadonlyMap<string, Said & { works: number[] }>

export const citedOf = (cited: Bibliography['cited']): Cited =>
  new Map(cited.map(({ citing, ...said }) => [citingKey(citing), said]))

type Body = { marks?: Mark[] } & ({ annotation: string } | { content: string })
const asItIs = (body: Body): unknown => body
const asBody = (body: unknown): Body => body as Body
const textOf = (body: Body): string => ('annotation' in body ? body.annotation : body.content)

/** What is written at a place of the list; it saves itself a moment after the last letter. */
export interface SavedWriting {
  /** With its citations as they read now. */
  value: Written
  write: (value: Written) => void
  editor: Saved<Body>
}

function useWriting(
  o: Pick<Parameters<typeof useSaved>[0], 'slot' | 'method' | 'path' | 'said'>,
  stands: { value: Body; version: number },
  cited: Cited,
): SavedWriting {
  const { inquiry } = useHere()
  const editor = useSaved<Body>({ ...o, inquiry: inquiry.id, stands, body: asItIs, read: asBody })!
  const body = editor.value
  const value = useMemo(() => asCited({ text: textOf(body), marks: body.marks ?? [] }, cited), [body, cited])
  const isAnnotation = 'annotation' in stands.value
  const write = ({ text, marks }: Written) =>
    editor.write(isAnnotation ? { annotation: text, marks } : { content: text, marks })
  return { value, write, editor }
}

/** The annotation of an entry. */
export const useAnnotation = (entry: BibliographyEntry, cited: Cited): SavedWriting =>
  useWriting(
    {
      ...{ slot: `entry ${entry.id}`, method: 'PATCH', path: `/entries/${entry.id}` },
      said: `The annotation of “${entry.title}”`,
    },
    { value: entry, version: entry.version },
    cited,
  )

const NOTHING = { content: '', marks: [], version: 0 }

/** A text around the list. */
export const useAroundText = (
  list: Pick<Bibliography, 'texts'>,
  place: string,
  said: string,
  cited: Cited,
): SavedWriting => {
  const stands = list.texts.find(t => t.place === place) ?? NOTHING
  return useWriting(
    { slot: `text ${place}`, method: 'PUT', path: `/texts/${place}`, said },
    { value: stands, version: stands.version },
    cited,
  )
}
