import type { Abilities } from './abilities'
import { join, mapClauses, type BooleanNode, type Clause, type Query, type QueryNode } from './cql'
import { isMasked } from './tokens'

/** What a catalogue has refused, whatever it said of itself. */
export interface Refusals {
  /** Indexes, in our words. */
  indexes?: readonly string[]
  /** Relations, each with its index: "year >=". */
  relations?: readonly string[]
  modifiers?: boolean
  truncation?: boolean
  proximity?: boolean
  not?: boolean
  sort?: boolean
}

/** A catalogue as a query is suited to it. */
export interface Suitable {
  abilities: Abilities
  refused?: Refusals
  /** Words that begin as a masked one does, the commonest first, where somebody knows them. */
  endings?: (masked: string) => readonly string[] | undefined
}

export interface Suited {
  /** The query to ask, in our names of indexes, or undefined where nothing of it can be asked. */
  query?: Query
  /** What the answer has to be sifted by here, since the catalogue cannot. */
  sift?: QueryNode
  /** One sentence for each thing that was changed or left out. */
  changes: string[]
}

/** Indexes whose words stand in any field, so that all fields can be asked in their place. */
const OF_WORDS = /^(title|author|abstract|subject|keyword|journal|place|funder)$/i
/** Endings asked for in a masked word's place. */
const ENDINGS = 40

/**
 * Brings a query into the nearest form that a catalogue understands and that finds at least the same, and says what was
 * changed: nothing is ever dropped in silence.
 */
export function suit(query: Query, to: Suitable): Suited {
  const by = new Suiting(to)
  const root = by.weaken(query.root, true)
  const sift = by.leftToSift(query.root)
  const sorted = query.sort?.length && to.refused?.sort
  if (sorted) by.say('It cannot sort: its records come in its own order.')
  const changes = [...by.changes]
  const left = sift ? { sift } : {}
  if (!root) return { ...left, changes: [...changes, 'Nothing of this query can be asked here.'] }
  const asked: Query = { ...query, root }
  if (sorted) delete asked.sort
  return { query: asked, ...left, changes }
}

/** A query with what a catalogue calls our indexes. */
export function inItsNames(query: Query, names: Readonly<Record<string, string>> = {}): Query {
  const root = mapClauses(query.root, c => {
    const name = c.index && names[c.index.toLowerCase()]
    return name ? { ...c, index: name } : c
  })!
  const sort = query.sort?.map(s => ({ ...s, index: names[s.index.toLowerCase()] ?? s.index }))
  return { ...query, root, ...(sort ? { sort } : {}) }
}

class Suiting {
  readonly changes = new Set<string>()
  /** What became of each node, as far as it was changed. */
  private readonly became = new Map<QueryNode, QueryNode | undefined>()

  constructor(private readonly to: Suitable) {}

  say(sentence: string): void {
    this.changes.add(sentence)
  }

  /**
   * A node in a form that can be asked.
   * @param more whether it may find more than it should; under a "not" it may only find less
   * @returns undefined where nothing of it can be asked: all records then, or none under a "not"
   */
  weaken(n: QueryNode, more: boolean): QueryNode | undefined {
    const to = n.kind === 'clause' ? this.clause(n, more) : this.boolean(n, more)
    if (to !== n) this.became.set(n, to)
    return to
  }

  private boolean(n: BooleanNode, more: boolean): QueryNode | undefined {
    if (n.op === 'prox') return this.nearness(n, more)
    const left = this.weaken(n.left, more)
    const right = this.weaken(n.right, n.op === 'not' ? !more : more)
    if (left === n.left && right === n.right && !(n.op === 'not' && this.to.refused?.not)) return n
    if (n.op === 'not') {
      // what may find more cannot be taken away, and from nothing nothing is taken
      if (!left) return undefined
      if (this.to.refused?.not) {
        this.say('It cannot leave anything out: that is done here, on what it gives.')
        return more ? left : undefined
      }
      if (!right) return more ? left : undefined
    } else {
      // a part that cannot be asked: of "and" the other stays where more may be found, of "or" where less
      if (!left || !right) return (n.op === 'and') === more ? (left ?? right) : undefined
    }
    return { ...n, left, right }
  }

  private nearness(n: BooleanNode, more: boolean): QueryNode | undefined {
    const can = this.to.abilities.proximity && !this.to.refused?.proximity
    const left = this.weaken(n.left, more)
    const right = this.weaken(n.right, more)
    if (can && left === n.left && right === n.right) return n
    if (!can) this.say('It cannot ask how near words stand to each other: both are asked, and it is looked at here.')
    if (!more) return undefined
    if (!left || !right) return left ?? right
    return can ? { ...n, left, right } : { ...n, op: 'and', modifiers: [], left, right }
  }

  private clause(c: Clause, more: boolean): QueryNode | undefined {
    const index = c.index?.toLowerCase()
    const { abilities, refused } = this.to
    const known = !index || (!refused?.indexes?.includes(index) && (abilities.indexes?.includes(index) ?? true))
    if (!known) {
      if (!OF_WORDS.test(index)) {
        this.say(`It cannot limit by ${c.index}: that is looked at here, on what it gives.`)
        return undefined
      }
      if (!more) {
        this.say(`It cannot search ${c.index} alone: "${c.term}" is left out here, of what it gives.`)
        return undefined
      }
      this.say(`It cannot search ${c.index} alone: "${c.term}" is asked in all fields, and looked for here.`)
      const { index: _, ...anywhere } = c
      return this.clause({ ...anywhere, relation: c.relation === '==' ? 'adj' : c.relation }, more)
    }
    const term = this.masked(c)
    if (term !== c) return term && this.weaken(term, more)
    const related = this.relation(c, more)
    if (related !== c) return related && this.weaken(related, more)
    return c
  }

  /** The clause with the endings that there are in place of a mask. */
  private masked(c: Clause): QueryNode | undefined {
    const can = this.to.abilities.truncation && !this.to.refused?.truncation
    if (can || !isMasked(c.term) || c.term.trim() === '*') return c
    const words = c.term.split(/\s+/).filter(Boolean)
    const isPhrase = words.length > 1 && c.relation !== 'all' && c.relation !== 'any'
    const parts = words.map((w): Clause[] => {
      const stem = w.replace(/[*?]/g, '')
      const found = isMasked(w) ? this.to.endings?.(w)?.slice(0, ENDINGS) : [w]
      if (isMasked(w))
        this.say(
          found?.length
            ? `It cannot truncate: "${w}" is asked as ${found.length > 6 ? `${found.slice(0, 5).join(', ')} and ${found.length - 5} more` : found.join(', ')}.`
            : `It cannot truncate: "${w}" is asked as "${stem}", and endings are missed.`,
        )
      return (found?.length ? found : [stem]).filter(Boolean).map(term => ({ ...c, term }))
    })
    if (isPhrase) {
      // a word after the other, each with all its endings
      const phrases = parts.reduce<string[]>(
        (so, part) => so.flatMap(p => part.map(x => `${p} ${x.term}`.trim())).slice(0, ENDINGS),
        [''],
      )
      return join(
        phrases.map(term => ({ ...c, term })),
        'or',
      )
    }
    const any = parts.flatMap(part => join(part.map(plain), 'or') ?? [])
    return join(any, c.relation === 'any' ? 'or' : 'and')
  }

  /** The clause by a relation that was not refused. */
  private relation(c: Clause, more: boolean): QueryNode | undefined {
    const refused = (relation: string) =>
      this.to.refused?.relations?.includes(`${c.index?.toLowerCase() ?? ''} ${relation}`)
    const modified = this.to.refused?.modifiers && c.modifiers.length ? { ...c, modifiers: [] } : c
    if (modified !== c) this.say('It does not know modifiers of relations: they are left out.')
    if (!refused(c.relation)) return modified
    const by = (relation: Clause['relation'], term = c.term): Clause => ({ ...modified, relation, term })
    const each = (op: 'and' | 'or') =>
      join(
        c.term
          .split(/\s+/)
          .filter(Boolean)
          .map(w => by('=', w)),
        op,
      )
    const number = Number(c.term)
    const [from, to] = c.term.split(/\s+/)
    const ways: (QueryNode | undefined)[] =
      c.relation === 'within'
        ? [
            join([by('>=', from), by('<=', to)], 'and'),
            join([by('>', String(Number(from) - 1)), by('<', String(Number(to) + 1))], 'and'),
          ]
        : c.relation === '>=' || c.relation === '<='
          ? [
              by(c.relation === '>=' ? '>' : '<', String(number + (c.relation === '>=' ? -1 : 1))),
              by('within', c.relation === '>=' ? `${number} 9999` : `0 ${number}`),
            ]
          : c.relation === '>' || c.relation === '<'
            ? [by('within', c.relation === '>' ? `${number + 1} 9999` : `0 ${number - 1}`)]
            : c.relation === 'all'
              ? [each('and')]
              : c.relation === 'any'
                ? [each('or')]
                : (c.relation === '==' || c.relation === 'adj') && more
                  ? [by('='), by('all')]
                  : c.relation === '=' && more
                    ? [by('adj'), by('all')]
                    : []
    const fit = ways.find(w => w && !this.names(w, refused))
    if (!fit)
      this.say(
        `It does not know “${c.relation}”${c.index ? ` for ${c.index}` : ''}: that is looked at here, on what it gives.`,
      )
    return fit
  }

  private names(n: QueryNode, refused: (relation: string) => boolean | undefined): boolean {
    return n.kind === 'clause'
      ? Boolean(refused(n.relation))
      : this.names(n.left, refused) || this.names(n.right, refused)
  }

  /** The parts of a query that the answer has still to be looked at by; undefined where it was asked as it stands. */
  leftToSift(n: QueryNode): QueryNode | undefined {
    if (!this.became.has(n)) return undefined
    // what could not be asked at all is looked at whole
    if (n.kind === 'clause' || !this.became.get(n)) return n
    if (n.op === 'and')
      return join(
        [this.leftToSift(n.left), this.leftToSift(n.right)].filter(x => x !== undefined),
        'and',
      )
    if (n.op !== 'not') return n
    const left = this.leftToSift(n.left)
    const isAsked = !this.became.has(n.right) && !this.to.refused?.not
    if (isAsked) return left
    const all: QueryNode = left ?? { kind: 'clause', relation: '=', modifiers: [], term: '*' }
    return { ...n, left: all }
  }
}

/** A single word asked for as it is. */
const plain = (c: Clause): Clause => ({
  ...c,
  relation: c.relation === 'all' || c.relation === 'any' ? '=' : c.relation,
})

/** Indexes in the order in which one is given up where a catalogue does not say which it refuses. */
const GIVEN_UP = [
  'type',
  'language',
  'year',
  'doi',
  'isbn',
  'place',
  'funder',
  'keyword',
  'subject',
  'abstract',
  'journal',
  'author',
  'title',
]

/**
 * What is learned from a refusal, by the standard's number or else by its words.
 * @param said the diagnostic's message and details
 * @param query what was refused, in our names of indexes
 * @param names what the catalogue calls them
 * @returns undefined where it says nothing that a change of the query could help
 */
export function learn(
  refused: Refusals,
  { number, said }: { number?: number; said: string },
  query: Query,
  names: Readonly<Record<string, string>> = {},
): Refusals | undefined {
  const all = flat(query.root)
  const isOf = (...numbers: number[]) => number !== undefined && numbers.includes(number)
  const says = (pattern: RegExp) => number === undefined && pattern.test(said)
  const named = (list: readonly string[]) =>
    list.find(i =>
      new RegExp(`(^|[^\\w.])(${[i, names[i] ?? i].map(escaped).join('|')}|\\w+\\.${escaped(i)})($|[^\\w])`, 'i').test(
        said,
      ),
    )
  const add = (more: Refusals): Refusals => ({ ...refused, ...more })
  const clauses = all.filter((n): n is Clause => n.kind === 'clause')
  if (isOf(15, 16, 17, 18) || says(/\bindex|access point|use attribute/i)) {
    const open = [...new Set(clauses.flatMap(c => c.index?.toLowerCase() ?? []))].filter(
      i => !refused.indexes?.includes(i),
    )
    const one = named(open) ?? GIVEN_UP.find(i => open.includes(i)) ?? open[0]
    return one ? add({ indexes: [...(refused.indexes ?? []), one] }) : undefined
  }
  if (isOf(19, 22) || says(/\brelation\b(?! modifier)/i)) {
    const open = clauses.filter(c => !refused.relations?.includes(pair(c)))
    // the rarest relation first: the plain one is known everywhere
    const rank = (c: Clause) =>
      said.includes(c.relation) && c.relation !== '=' ? 0 : ['=', 'all', 'any'].indexOf(c.relation) < 0 ? 1 : 2
    const one = [...open].sort((a, b) => rank(a) - rank(b))[0]
    return one ? add({ relations: [...(refused.relations ?? []), pair(one)] }) : undefined
  }
  if ((isOf(20, 21) || says(/modifier/i)) && !refused.modifiers) return add({ modifiers: true })
  if ((isOf(28, 29, 30, 31) || says(/truncat|mask|wildcard/i)) && !refused.truncation) return add({ truncation: true })
  if ((isOf(39, 40, 41, 42, 43) || says(/proximity|prox\b/i)) && !refused.proximity) return add({ proximity: true })
  if ((isOf(37) || says(/boolean/i)) && !refused.not && all.some(n => n.kind === 'boolean' && n.op === 'not'))
    return add({ not: true })
  if ((isOf(37) || says(/boolean/i)) && !refused.proximity && all.some(n => n.kind === 'boolean' && n.op === 'prox'))
    return add({ proximity: true })
  if (
    ((number !== undefined && number >= 80 && number <= 96) || says(/\bsort/i)) &&
    query.sort?.length &&
    !refused.sort
  )
    return add({ sort: true })
  return undefined
}
const flat = (n: QueryNode): QueryNode[] => (n.kind === 'clause' ? [n] : [n, ...flat(n.left), ...flat(n.right)])
const pair = (c: Clause): string => `${c.index?.toLowerCase() ?? ''} ${c.relation}`
const escaped = (s: string): string => s.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')
