import type { BibliographyEntry } from '../../../core/schema/api'
import { useHere } from '../../frame/inquiry-frame'
import { useSaved } from '../../outbox/use-outbox'

/** An annotation that saves itself a moment after the last letter, and never over what another window wrote. */
export function useAnnotation(entry: BibliographyEntry) {
  const { inquiry } = useHere()
  return useSaved<string>({
    inquiry: inquiry.id,
    slot: `entry ${entry.id}`,
    method: 'PATCH',
    path: `/entries/${entry.id}`,
    said: `The annotation of “${entry.title}”`,
    stands: { value: entry.annotation, version: entry.version },
    body: asAnnotation,
    read: annotationOf,
  })!
}
const asAnnotation = (annotation: string): unknown => ({ annotation })
const annotationOf = (body: unknown): string => (body as { annotation: string }).annotation
