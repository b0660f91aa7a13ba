import { XMLBuilder } from 'fast-xml-parser'
import { cleanText } from '../bib/clean'

/** What is told of a node or a link: names with texts or numbers; what is null is not told. */
type Told = Record<string, string | number | null>

export interface GraphFile {
  nodes: { id: number; told: Told }[]
  links: { from: number; to: number; told: Told }[]
}

const builder = new XMLBuilder({ ignoreAttributes: false, attributeNamePrefix: '@', suppressEmptyNode: true })

/** A directed graph in GraphML (http://graphml.graphdrawing.org), each kind of attribute declared by what its values are. */
export function writeGraphml({ nodes, links }: GraphFile): string {
  const keys: object[] = []
  const declare = (of: 'node' | 'edge', all: readonly Told[]): Map<string, string> => {
    const ids = new Map<string, string>()
    for (const name of new Set(all.flatMap(t => Object.keys(t)))) {
      const isNumber = all.every(t => t[name] === null || t[name] === undefined || typeof t[name] === 'number')
      const id = `${of}-${name.replace(/[^a-z0-9]+/gi, '-')}`
      keys.push({ '@id': id, '@for': of, '@attr.name': name, '@attr.type': isNumber ? 'double' : 'string' })
      ids.set(name, id)
    }
    return ids
  }
  const data = (told: Told, ids: ReadonlyMap<string, string>) =>
    Object.entries(told).flatMap(([name, value]) =>
      value === null ? [] : [{ '@key': ids.get(name)!, '#text': typeof value === 'string' ? cleanText(value) : value }],
    )
  const ofNodes = declare(
    'node',
    nodes.map(n => n.told),
  )
  const ofLinks = declare(
    'edge',
    links.map(l => l.told),
  )
  return `<?xml version="1.0" encoding="UTF-8"?>\n${builder.build({
    graphml: {
      '@xmlns': 'http://graphml.graphdrawing.org/xmlns',
      key: keys,
      graph: {
        '@id': 'citations',
        '@edgedefault': 'directed',
        node: nodes.map(n => ({ '@id': `n${n.id}`, data: data(n.told, ofNodes) })),
        edge: links.map(l => ({ '@source': `n${l.from}`, '@target': `n${l.to}`, data: data(l.told, ofLinks) })),
      },
    },
  })}`
}
