import { openDB, type IDBPDatabase } from 'idb'
import type { Letter } from './letter'

/** Letters kept in the browser, for all its windows, over reloads and closed pages. */
export interface LetterStore {
  all(user: number): Promise<Letter[]>
  /** Resolves to false where the browser has no room for it, or keeps nothing at all. */
  put(letter: Letter): Promise<boolean>
  drop(id: string): Promise<void>
}

const TABLE = 'letters'

/** Throws, as a promise does, where the browser keeps nothing. */
const openLetters = async (name: string, terminated: () => void): Promise<IDBPDatabase> =>
  openDB(name, 1, {
    upgrade: db => void db.createObjectStore(TABLE, { keyPath: 'id' }).createIndex('user', 'user'),
    terminated,
  })

/** In IndexedDB. A write is handed over at once, so that a page that closes in the next moment has made it. */
export function openStore(name = 'vine-path'): LetterStore {
  let opening: Promise<IDBPDatabase> | undefined
  const open = () =>
    (opening ??= openLetters(name, () => (opening = undefined)).catch((e: unknown) => {
      opening = undefined
      throw e
    }))
  // opened before it is needed: a put is then handed over in the same moment
  let ready: IDBPDatabase | undefined
  void open().then(
    db => (ready = db),
    () => undefined,
  )
  const write = async (act: (table: IDBObjectStore) => void): Promise<boolean> => {
    try {
      const db = ready ?? (await open())
      const tx = db.transaction(TABLE, 'readwrite')
      act(tx.objectStore(TABLE) as unknown as IDBObjectStore)
      tx.commit()
      await tx.done
      return true
    } catch {
      ready = undefined
      return false
    }
  }
  return {
    all: async user => {
      try {
        const db = ready ?? (await open())
        return ((await db.getAllFromIndex(TABLE, 'user', user)) as Letter[]).sort((a, b) => a.n - b.n)
      } catch {
        return []
      }
    },
    put: letter => write(table => void table.put(letter)),
    drop: async id => void (await write(table => void table.delete(id))),
  }
}
