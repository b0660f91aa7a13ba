import type { Name } from '../../core/bib/item'
import { familyName } from '../../core/bib/names'

/** The page of an author, asked for from a work that is theirs. */
export function toAuthor(inquiry: number, name: Name, work?: number): string {
  const isBody = !name.family && Boolean(name.literal)
  const asked = new URLSearchParams({
    family: familyName(name),
    ...(name.given && !isBody ? { given: name.given } : {}),
    ...(isBody ? { body: 'yes' } : {}),
    // the frame opens the sheet of a work that is named as such
    ...(work ? { of: String(work) } : {}),
  })
  return `/inquiries/${inquiry}/author?${asked.toString()}`
}
