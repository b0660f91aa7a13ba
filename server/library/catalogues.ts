import type { Context } from '../base/context'
import { memory } from '../base/memory'
import type { CatalogueSetting } from '../connect/sru-client'
import { leaveOf, librariesOf, setLibraries, type Library } from './libraries'
import { librariesWithCatalogues } from './libraries-model'

/** A catalogue of a library, told from those of other libraries. */
const ofLibrary = (library: Pick<Library, 'key'>, id: string): string => `${library.key}.${id}`

/** The catalogues that can be asked for an inquiry: those that are there for all, then those of its libraries. */
export async function cataloguesFor(c: Context, inquiryId: number): Promise<CatalogueSetting[]> {
  const libraries = await librariesOf(c, inquiryId)
  return [
    ...c.settings.outside.catalogues,
    ...libraries.flatMap(l => l.catalogues.map(x => ({ ...x, id: ofLibrary(l, x.id), ...leaveOf(l) }))),
  ]
}

/** The names hold for a second: each list of works asks for them. */
const names = memory<ReadonlyMap<string, string>>({ holds: 1000 })

/** The names of all catalogues that were ever set up, by their ids: works tell where they came from for ever. */
export const catalogueNames = (c: Context): Promise<ReadonlyMap<string, string>> => names.get(c, '', () => readNames(c))

async function readNames(c: Context): Promise<Map<string, string>> {
  const own = setLibraries(c).map(l => ({ key: l.key, catalogues: l.catalogues }))
  return new Map([
    ...c.settings.outside.catalogues.map(x => [x.id, x.name] as const),
    ...[...own, ...(await librariesWithCatalogues(c))].flatMap(l =>
      l.catalogues.map(x => [ofLibrary(l, x.id), x.name] as const),
    ),
  ])
}

/** Forgets the names that were asked for, where a library changed. */
export const forgetNames = (c: Pick<Context, 'db'>): void => names.forget(c)
