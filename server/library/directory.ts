import { array, object, string } from 'yup'
import { foldTitle } from '../../core/bib/fold'
import type { Answer } from '../../core/schema/api'
import { isAddress } from '../../core/bib/identifiers'
import { NO_ADDRESS } from '../../core/schema/library'
import type { Context } from '../base/context'
import { decodeText } from '../base/decode'
import { memory } from '../base/memory'
import { Problem } from '../base/problem'
import { OutsideError, requireSuccess } from '../connect/http'

const entryShape = object({
  name: string().trim().required().max(200),
  place: string().trim().max(200).default(''),
  /** Address of its profile. */
  profile: string()
    .trim()
    .required()
    .max(500)
    .test('address', v => isAddress(v ?? '')),
})
const directoryShape = object({ libraries: array().required() })

interface Listed {
  name: string
  place: string
  profile: string
}

/** Bytes of a directory, and of a profile, at most; libraries that are told of at once. */
const LARGEST = 20_000_000
const LARGEST_PROFILE = 1_000_000
const MOST = 50

interface Directory {
  listed: Listed[]
  unread: number
}

/** A directory holds for a minute: it is looked through with every letter of a word. */
const directories = memory<Directory>({ holds: 60_000 })

/** The directory as it was a minute ago at most. @throws as where it is read */
const directoryOf = (c: Context): Promise<Directory> => directories.get(c, '', () => readDirectory(c))

/**
 * Reads the directory. An entry that cannot be read costs itself alone, and is counted.
 * @throws Problem 502 where it does not answer, or is none; 422 where there is none
 */
async function readDirectory(c: Context): Promise<Directory> {
  const { directory } = c.settings.outside
  if (!directory) throw new Problem(422, 'no-directory', 'There is no directory of libraries here.')
  const given = await jsonAt(c, directory, LARGEST, undefined)
  if (!directoryShape.isValidSync(given))
    throw new Problem(502, 'outside', 'The directory of libraries sent something that is no directory.')
  const listed: Listed[] = []
  for (const entry of given.libraries as unknown[])
    if (entryShape.isValidSync(entry)) listed.push(entryShape.cast(entry))
  return { listed, unread: given.libraries.length - listed.length }
}

/** Libraries of the directory that have all words in name or place, whatever their accents; those that begin so first. */
export async function findLibraries(c: Context, words: string): Promise<Answer<'findLibraries'>> {
  const { listed, unread } = await directoryOf(c)
  const wanted = foldTitle(words).split(' ').filter(Boolean)
  const found = listed.filter(l => {
    const said = foldTitle(`${l.name} ${l.place}`)
    return wanted.every(w => said.includes(w))
  })
  const begins = (l: Listed) => foldTitle(l.name).startsWith(wanted[0] ?? '')
  const inOrder = found.toSorted((a, b) => Number(begins(b)) - Number(begins(a)) || a.name.localeCompare(b.name))
  return {
    libraries: inOrder.slice(0, MOST).map(({ name, place, profile }) => ({ name, place, address: profile })),
    of: found.length,
    unread,
  }
}

/** The entry of the directory that names an address, if any does. */
export async function listedAt(c: Context, address: string): Promise<Listed | undefined> {
  if (!c.settings.outside.directory) return undefined
  try {
    return (await directoryOf(c)).listed.find(l => l.profile === address)
  } catch (e) {
    // an address can be given while the directory is away; it is then as any other
    if (e instanceof Problem) return undefined
    throw e
  }
}

/** What stands at the address of a profile. @throws Problem 422 where that is no JSON, or may not be fetched */
export async function profileAt(c: Context, address: string, listed: Listed | undefined): Promise<unknown> {
  if (!isAddress(address)) throw new Problem(422, 'invalid', NO_ADDRESS)
  return jsonAt(c, address, LARGEST_PROFILE, listed && { addresses: [address] })
}

async function jsonAt(
  c: Context,
  address: string,
  maxBytes: number,
  also: { addresses: readonly string[] } | undefined,
): Promise<unknown> {
  try {
    const answer = requireSuccess(
      await c.outside(address, { maxBytes, headers: { accept: 'application/json' }, ...(also ? { also } : {}) }),
    )
    return JSON.parse(decodeText(answer.body).text.replace(/^\ufeff/, '')) as unknown
  } catch (e) {
    if (e instanceof SyntaxError)
      throw new Problem(422, 'no-profile', `${new URL(address).hostname} sent something that is no JSON: ${e.message}`)
    if (e instanceof OutsideError) throw new Problem(502, 'outside', e.message)
    throw e
  }
}
