import { printCql, type Clause, type QueryNode } from './cql'
import { sayLanguage } from './languages'

export interface Concept {
  node: QueryNode
  /** Stands behind a "not". */
  negated: boolean
}

/** Parts of a query that are one thing whatever they are made of, such as the query of an earlier sweep. */
export type Whole = (n: QueryNode) => boolean
const nothing: Whole = () => false

/** The ideas of a query: what its outermost run of "and" and "not" holds together. */
export function concepts(root: QueryNode, whole: Whole = nothing): Concept[] {
  const splits = root.kind === 'boolean' && !whole(root)
  if (splits && root.op === 'and') return [...concepts(root.left, whole), ...concepts(root.right, whole)]
  if (splits && root.op === 'not') return [...concepts(root.left, whole), { node: root.right, negated: true }]
  return [{ node: root, negated: false }]
}

/** What a node takes any of. */
export const alternatives = (n: QueryNode, whole: Whole = nothing): QueryNode[] =>
  n.kind === 'boolean' && n.op === 'or' && !n.modifiers.length && !whole(n)
    ? [...alternatives(n.left, whole), ...alternatives(n.right, whole)]
    : [n]

/** The ideas that a query asks for: no limits of year, language or type, nothing left out. */
export const wantedConcepts = (root: QueryNode): QueryNode[] =>
  concepts(root)
    .filter(c => !c.negated && !isLimit(c.node))
    .map(c => c.node)

const isLimit = (n: QueryNode): boolean => n.kind === 'clause' && /^(year|language|type)$/i.test(n.index ?? '')

/** A stretch of a query read out; `concept` numbers the positive concepts from 0. */
export interface SpokenPart {
  text: string
  concept?: number
}

/**
 * The query as a sentence: "Works about lamp… or sky glow and moth…, without sail". Queries of earlier sweeps are
 * called by their names, which are given by their CQL.
 */
export function readOut(root: QueryNode, named: ReadonlyMap<string, string> = new Map()): SpokenPart[] {
  const nameOf = (n: QueryNode): string | undefined => (named.size ? named.get(printCql({ root: n })) : undefined)
  const all = concepts(root, n => nameOf(n) !== undefined)
  const wanted = all.filter(c => !c.negated && !isLimit(c.node)).map(c => c.node)
  const say = (n: QueryNode): string => sayNode(n, nameOf)
  const limits = all.filter(c => !c.negated && isLimit(c.node))
  const unwanted = all.filter(c => c.negated)
  const [first] = wanted
  const isBy = first?.kind === 'clause' && first.index?.toLowerCase() === 'author'
  const parts: SpokenPart[] = [{ text: isBy ? 'Works ' : first ? 'Works about ' : 'All works' }]
  wanted.forEach((c, i) => {
    if (i) parts.push({ text: ' and ' })
    parts.push({ text: say(c), concept: i })
  })
  for (const c of limits) parts.push({ text: `, ${sayLimit(c.node as Clause)}` })
  if (unwanted.length)
    parts.push({
      text: `, without ${list(
        unwanted.map(c => say(c.node)),
        'or',
      )}`,
    })
  parts.push({ text: '.' })
  return parts
}

function sayLimit(c: Clause): string {
  const index = c.index!.toLowerCase()
  if (index === 'language') return `in ${list(c.term.split(' ').map(sayLanguage), 'or')}`
  if (index !== 'year') return sayClause(c)
  const [a, b] = c.term.split(/\D+/)
  const words: Partial<Record<Clause['relation'], string>> = {
    '>=': `since ${a}`,
    '>': `after ${a}`,
    '<=': `up to ${a}`,
    '<': `before ${a}`,
    '=': `of ${a}`,
    '==': `of ${a}`,
    within: `from ${a} to ${b}`,
  }
  return words[c.relation] ?? sayClause(c)
}

const list = (words: string[], last: string): string =>
  words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} ${last} ${words.at(-1)}`

function sayNode(node: QueryNode, nameOf: (n: QueryNode) => string | undefined): string {
  const name = nameOf(node)
  if (name !== undefined) return `what “${name}” asked`
  if (node.kind === 'clause') return sayClause(node)
  const say = (n: QueryNode) => sayNode(n, nameOf)
  if (node.op === 'or') return list(alternatives(node, n => nameOf(n) !== undefined).map(say), 'or')
  const joined = { and: ' with ', not: ' but not ', prox: ' near ' }[node.op as 'and' | 'not' | 'prox']
  const bracketed = node.right.kind === 'boolean' && nameOf(node.right) === undefined
  return `${say(node.left)}${joined}${bracketed ? `(${say(node.right)})` : say(node.right)}`
}

function sayClause(c: Clause): string {
  const term = c.term.replace(/\\(.)/g, '$1').replace(/\*/g, '…')
  const where = c.index
    ? {
        title: 'in the title',
        author: 'by',
        subject: 'as a subject',
        journal: 'in the journal',
        abstract: 'in the abstract',
        keyword: 'as a keyword',
      }[c.index.toLowerCase()]
    : undefined
  if (c.index?.toLowerCase() === 'author') return `by ${term}`
  if (c.index?.toLowerCase() === 'year') {
    const [a, b] = term.split(/\D+/)
    return c.relation === 'within' ? `from ${a} to ${b}` : `year ${c.relation} ${term}`
  }
  if (where) return `${term} ${where}`
  return c.index ? `${c.index} ${c.relation} ${term}` : term
}
