import { QueryTypes } from 'sequelize'
import type { Profile } from '../../core/access/profile'
import { OutsideError, requireSuccess } from '../connect/http'
import type { Context, Db } from '../base/context'
import { inTransaction } from '../db/transaction'
import { readBlob, storeBlob } from '../db/blobs'
import { inThread } from '../threads/threads'
import { decodeText } from '../base/decode'
import { hashOf } from '../base/hash'

/** After so long the files of a library are fetched again. */
const OLD = 'INTERVAL 1 DAY'

interface KeptFile {
  address: string
  hash: string
  old: number
}
const askFiles = (c: Context): Promise<KeptFile[]> =>
  c.db.sequelize.query<KeptFile>(
    `SELECT address, hash, at < NOW(3) - ${OLD} AS old FROM holdings_files
     WHERE address IN (:addresses) ORDER BY address`,
    { type: QueryTypes.SELECT, replacements: { addresses: c.settings.outside.library.holdings } },
  )

/** For so many milliseconds an answer holds: every list asks which files are kept, and they change once a day. */
const HOLDS = 1000
const asked = new WeakMap<Db, { at: number; files: Promise<KeptFile[]> }>()
function keptFiles(c: Context): Promise<KeptFile[]> {
  const have = asked.get(c.db)
  if (have && Date.now() - have.at < HOLDS) return have.files
  const files = askFiles(c)
  files.catch(() => asked.delete(c.db))
  asked.set(c.db, { at: Date.now(), files })
  return files
}

/**
 * Fetches the holdings files of the home library that are missing or old, as a part of some job; where the library is
 * away those that are kept stand.
 * @returns what is missing altogether, in a sentence
 */
export async function refreshHoldings(c: Context): Promise<string | undefined> {
  const { name, holdings: addresses } = c.settings.outside.library
  const kept = new Map((await askFiles(c)).map(f => [f.address, f]))
  const missing: string[] = []
  for (const address of addresses) {
    const have = kept.get(address)
    if (have && !have.old) continue
    try {
      const { body } = requireSuccess(await c.outside(address))
      await inTransaction(c.db.sequelize, async t => {
        const hash = await storeBlob(c.db, body, 'text/tab-separated-values', t)
        await c.db.sequelize.query(
          'INSERT INTO holdings_files (address, hash) VALUES (?, ?) ON DUPLICATE KEY UPDATE hash = VALUES(hash), at = NOW(3)',
          { replacements: [address, hash], transaction: t },
        )
      })
      asked.delete(c.db)
    } catch (e) {
      if (!(e instanceof OutsideError)) throw e
      if (!have) missing.push(e.message)
    }
  }
  return missing.length
    ? `${missing.length} of ${addresses.length} holdings files of ${name} could not be read: ${missing[0]}`
    : undefined
}

/** What is known of a library by its files, under a name made of them all: what has a hash never changes. */
const profiles = new Map<string, Promise<Profile>>()
/** The day's files, and yesterday's for who asks while they are fetched. */
const MOST_PROFILES = 3

/**
 * The home library as it is known here, from what is kept; nothing is asked of the outside. Without a kept file there
 * is no profile. Its files, however many, are read once.
 * @returns `stamp`: a name for these files, by which it is seen that they changed
 */
export async function profilesAtHand(c: Context): Promise<{ profiles: Profile[]; stamp: string }> {
  const files = await keptFiles(c)
  if (!files.length) return { profiles: [], stamp: '' }
  const stamp = hashOf([c.settings.outside.library.name, ...files.map(f => f.hash)].join()).slice(0, 16)
  let profile = profiles.get(stamp)
  if (!profile) {
    profile = readProfile(c, files)
    profile.catch(() => profiles.delete(stamp))
    profiles.set(stamp, profile)
    if (profiles.size > MOST_PROFILES) profiles.delete(profiles.keys().next().value!)
  }
  return { profiles: [await profile], stamp }
}

async function readProfile(c: Context, files: readonly KeptFile[]): Promise<Profile> {
  const read = await Promise.all(
    files.map(async ({ address, hash }) => {
      const { holdings, refused } = await inThread('holdings', { text: decodeText(await readBlob(c.db, hash)).text })
      return { holdings, unread: refused ? [`${fileName(address)}: ${refused}`] : [] }
    }),
  )
  return {
    name: c.settings.outside.library.name,
    holdings: read.flatMap(r => r.holdings),
    unread: read.flatMap(r => r.unread),
  }
}
const fileName = (address: string): string => address.split('/').at(-1) || address
