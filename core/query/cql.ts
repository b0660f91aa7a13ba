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

export type Comparison = '=' | '==' | '<>' | '<' | '<=' | '>' | '>=' | 'any' | 'all' | 'adj' | 'within'
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
  sort?: { index: string; modifiers: Modifier[] }[]
}

const reserved = /^(and|or|not|prox|sortby|any|all|adj|within|exact)$/i

/** The query as CQL that any SRU server accepts; parsing it gives the same tree again. */
export function printCql(query: Query): string {
  const sort = query.sort?.length
    ? ` sortBy ${query.sort.map(s => quoteIfNeeded(s.index) + s.modifiers.map(printModifier).join('')).join(' ')}`
    : ''
  return printNode(query.root) + sort
}

function printNode(node: QueryNode): string {
  if (node.kind === 'clause') return printClause(node)
  // booleans have equal precedence, left to right: only a boolean on the right needs brackets; another one on the
  // left is given them for the reader's sake
  const bracketed = (n: QueryNode, needs: boolean) => (needs ? `(${printNode(n)})` : printNode(n))
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
