import { XMLBuilder } from 'fast-xml-parser'

export interface FeedEntry {
  /** An address that stays the entry's own. */
  id: string
  title: string
  /** ISO moment at which it came. */
  at: string
  authors: string[]
  link: string
  summary: string
}
export interface Feed {
  id: string
  title: string
  /** Address of the feed itself. */
  self: string
  entries: FeedEntry[]
  /** ISO moment of the last change; that of the newest entry where not given. */
  at?: string
}

const builder = new XMLBuilder({ ignoreAttributes: false, attributeNamePrefix: '@', suppressEmptyNode: true })
/** XML has no place for most control characters. */
const clean = (s: string): string => s.replace(/[^\t\n\r\P{Cc}]|[\ufffe\uffff]/gu, '')

/** An Atom feed (RFC 4287). */
export function writeAtom(feed: Feed): string {
  const newest =
    feed.at ??
    feed.entries
      .map(e => e.at)
      .sort()
      .at(-1) ??
    '1970-01-01T00:00:00Z'
  return `<?xml version="1.0" encoding="UTF-8"?>\n${builder.build({
    feed: {
      '@xmlns': 'http://www.w3.org/2005/Atom',
      id: feed.id,
      title: clean(feed.title),
      updated: newest,
      author: { name: 'Vine Path' },
      link: { '@rel': 'self', '@href': feed.self },
      entry: feed.entries.map(e => ({
        id: e.id,
        title: clean(e.title),
        updated: e.at,
        author: e.authors.map(name => ({ name: clean(name) })),
        link: { '@rel': 'alternate', '@href': e.link },
        summary: clean(e.summary),
      })),
    },
  })}`
}
