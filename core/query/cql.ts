/** CQL, the query language of SRU (an open standard): the tree, and the way back to text. */

export const INDEXES = [
  'title',
  'author',
  'abstract',
  'subject',
  'keyword',
  'journal',
  'year',
  'language',
  'type',
  'place',
  'funder',
  'doi',
] as const
export type IndexName = (typeof INDEXES)[number]

export type Comparison = '=' | '==' | '<>' | '<' | '<=' | '>' | '>=' | 'any' | 'all' | 'adj' | 'within' | 'encloses'
export type BooleanName = 'and' | 'or' | 'not' | 'prox'

export interface Modifier {
  name: string
  comparison?: '=' | '==' | '<>' | '<' | '<=' | '>' | '>='
  value?: string
}

/** One search clause. Without an index it asks the server's own choice of fields. */
export interface Clause {
  kind: 'clause'
  index?: string
  relation: Comparison
  modifiers: Modifier[]
  /** The term as it stands between quotes: masks and backslashes kept, quotes plain. */
  term: string
}

export interface BooleanNode {
  kind: 'boolean'
  op: BooleanName
  modifiers: Modifier[]
  left: QueryNode
  right: QueryNode
}

export type QueryNode = Clause | BooleanNode

export interface Query {
  root: QueryNode
  /** Names given to sets of indexes that are not known here; a catalogue may know them. */
  prefixes?: { name?: string; uri: string }[]
  sort?: { index: string; modifiers: Modifier[] }[]
}

/** Sets of indexes by the standard's addresses and by the short names that are in use. */
const SETS: [RegExp, string][] = [
  [/^(dc|dcterms|info:srw\/cql-context-set\/1\/dc-v1\.\d)$/i, 'dc'],
  [/^(cql|srw|info:srw\/cql-context-set\/1\/cql-v1\.\d)$/i, 'cql'],
  [/^(bath|http:\/\/zing\.z3950\.org\/cql\/bath\/2\.0\/?|info:srw\/cql-context-set\/1\/bath-v[\d.]+)$/i, 'bath'],
]
export const setOf = (nameOrAddress: string): string | undefined => SETS.find(([is]) => is.test(nameOrAddress))?.[1]

/** Indexes of those sets in our words; `` is the catalogue's own choice. */
const OURS: Record<string, IndexName | ''> = {
  serverchoice: '', anywhere: '', anyindexes: '', allindexes: '', any: '', keywords: '',
  title: 'title', author: 'author', creator: 'author', contributor: 'author', name: 'author', personalname: 'author',
  subject: 'subject', topicalsubject: 'subject', description: 'abstract', abstract: 'abstract', date: 'year', issued: 'year',
  publicationdate: 'year', language: 'language', type: 'type', coverage: 'place', spatial: 'place',
} // prettier-ignore

/** An index of a known set in our words; undefined where it has none. @example ourIndex('dc', 'creator') // 'author' */
export const ourIndex = (set: string, name: string): IndexName | '' | undefined =>
  set === 'cql' && OURS[name.toLowerCase()] !== '' ? undefined : OURS[name.toLowerCase()]

const reserved = /^((cql\.)?(any|all|adj|within|encloses|exact)|and|or|not|prox|sortby)$/i

/** The query as CQL that any SRU server accepts; parsing it gives the same tree again. */
export const printCql = (query: Query): string => printed(query, printClause)

/** The same as people write it: a phrase is a quoted run, which CQL words with `adj`. */
export const plainCql = (query: Query): string =>
  printed(query, c => {
    const isPhrase = !c.index && c.relation === 'adj' && !c.modifiers.length && /\s/.test(c.term.trim())
    return isPhrase ? quoteIfNeeded(c.term) : printClause(c)
  })

function printed(query: Query, clause: (c: Clause) => string): string {
  const sort = query.sort?.length
    ? ` sortBy ${query.sort.map(s => quoteIfNeeded(s.index) + s.modifiers.map(printModifier).join('')).join(' ')}`
    : ''
  const prefixes = (query.prefixes ?? []).map(
    p => `> ${p.name ? `${quoteIfNeeded(p.name)} = ` : ''}"${p.uri.replaceAll('"', '\\"')}" `,
  )
  return prefixes.join('') + printNode(query.root, clause) + sort
}

function printNode(node: QueryNode, clause: (c: Clause) => string): string {
  if (node.kind === 'clause') return clause(node)
  // booleans have equal precedence, left to right: only a boolean on the right needs brackets; another one on the
  // left is given them for the reader's sake
  const bracketed = (n: QueryNode, needs: boolean) => (needs ? `(${printNode(n, clause)})` : printNode(n, clause))
  const right = bracketed(node.right, node.right.kind === 'boolean')
  const left = bracketed(node.left, node.left.kind === 'boolean' && node.left.op !== node.op)
  return `${left} ${node.op}${node.modifiers.map(printModifier).join('')} ${right}`
}

function printClause(c: Clause): string {
  const bare =
    !c.index && c.relation === '=' && !c.modifiers.length && !/\s/.test(c.term.trim()) && !c.term.startsWith('-')
  if (bare && c.term) return quoteIfNeeded(c.term)
  const spaced = `${c.relation}${c.modifiers.map(printModifier).join('')}`
  return `${c.index ? quoteIfNeeded(c.index) : 'cql.serverChoice'} ${spaced} ${quoteIfNeeded(c.term)}`
}

const printModifier = (m: Modifier): string =>
  `/${quoteIfNeeded(m.name)}${m.comparison ? `${m.comparison}${quoteIfNeeded(m.value ?? '')}` : ''}`

function quoteIfNeeded(term: string): string {
  const plain = /^[^\s()=<>"/“”„]+$/.test(term) && !reserved.test(term) && !term.startsWith('-')
  return plain ? term : `"${term.replaceAll('"', '\\"')}"`
}

export function and(nodes: QueryNode[]): QueryNode | undefined {
  return join(nodes, 'and')
}
export function join(nodes: QueryNode[], op: BooleanName): QueryNode | undefined {
  return nodes.length ? nodes.reduce((left, right) => ({ kind: 'boolean', op, modifiers: [], left, right })) : undefined
}

/** Every clause of a tree from left to right, with whether it stands under a "not". */
export function clauses(node: QueryNode, negated = false): { clause: Clause; negated: boolean }[] {
  if (node.kind === 'clause') return [{ clause: node, negated }]
  return [...clauses(node.left, negated), ...clauses(node.right, negated !== (node.op === 'not'))]
}

/** The tree with every clause replaced; a clause replaced by undefined is dropped with its boolean. */
export function mapClauses(node: QueryNode, change: (c: Clause) => QueryNode | undefined): QueryNode | undefined {
  if (node.kind === 'clause') return change(node)
  const left = mapClauses(node.left, change)
  const right = mapClauses(node.right, change)
  if (!right) return left
  // what "not" would be taken from is gone: nothing is left to ask
  if (!left) return node.op === 'not' ? undefined : right
  return { ...node, left, right }
}
