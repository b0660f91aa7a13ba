import { shelfRoutes } from '../../core/access/shelf'
import { normaliseIsbn, normaliseIssn } from '../../core/bib/identifiers'
import type { Item } from '../../core/bib/item'
import type { Context } from '../base/context'
import { Problem } from '../base/problem'
import { OutsideError } from '../connect/http'
import { deskDay } from '../db/desk-day'
import { titleInFiles } from './holdings'
import type { Library } from './libraries'
import { askShelves, shelvesOf } from './shelves'

/**
 * What a library says of a journal or a book, as its files are read now.
 * @param asked an ISSN or ISBN; a year, or nothing where all of its years are meant
 * @throws Problem 422 where it is neither
 */
export async function titleHeld(
  c: Context,
  library: Library,
  { number, year }: { number: string; year: string },
): Promise<string[]> {
  const ISSN = normaliseIssn(number)
  const ISBN = ISSN ? undefined : normaliseIsbn(number)
  if (!ISSN && !ISBN) {
    const said = 'This is no ISSN and no ISBN: their last digit proves the others.'
    throw new Problem(422, 'invalid', said, { fields: [{ field: 'number', said }] })
  }
  const item: Item = {
    id: '',
    ...(ISSN ? { type: 'article-journal', ISSN } : { type: 'book', ISBN: ISBN! }),
    ...(year ? { issued: { 'date-parts': [[Number(year)]] } } : {}),
  }
  const [inFiles, onShelves] = [await titleInFiles(c, library, item), await saidByShelves(c, library, item)]
  return [...inFiles, ...onShelves]
}

/** What stands on its shelves, or why that is not known. */
async function saidByShelves(c: Context, library: Library, item: Item): Promise<string[]> {
  const shelves = shelvesOf(library)
  if (!shelves) return []
  try {
    const answer = await askShelves(c, shelves, item, await deskDay(c.db))
    if (!answer) return []
    const { routes, closed } = shelfRoutes(item, { ...answer, library })
    return [...routes.map(r => r.evidence), ...closed]
  } catch (e) {
    if (!(e instanceof OutsideError)) throw e
    return [e.message]
  }
}
