import type { BooleanName, Clause, Comparison, Modifier, Query, QueryNode } from './cql'
import { ourIndex, printCql, setOf } from './cql'

export interface Repair {
  /** Offset in the text as typed. */
  position: number
  /** One sentence for the student. */
  said: string
}

export type Parsed =
  | { ok: true; query: Query; repairs: Repair[] }
  | { ok: false; error: { position: number; expected: string; message: string; repaired?: string } }

interface Piece {
  type: 'word' | 'quoted' | '(' | ')' | '/' | 'comparison'
  text: string
  at: number
}

class Trouble extends Error {
  constructor(
    readonly position: number,
    readonly expected: string,
    message: string,
  ) {
    super(message)
  }
}

/**
 * Reads CQL, relaxed for people: bare words are and-ed, a quoted run is a phrase, a minus before a word means not,
 * curly quotes are quotes, a missing closing quote or bracket is repaired and said.
 * Errors carry the position, what was expected and, where one can be found, a repaired query.
 */
export function parseCql(text: string): Parsed {
  const repairs: Repair[] = []
  try {
    const pieces = cut(text, repairs)
    if (!pieces.length) throw new Trouble(0, 'a word', 'There is nothing to look for yet. Type at least one word.')
    const query = new Reader(pieces, text.length, repairs).query()
    return { ok: true, query, repairs }
  } catch (e) {
    if (!(e instanceof Trouble)) throw e
    return { ok: false, error: { position: e.position, expected: e.expected, message: e.message, ...repaired(text) } }
  }
}

/** Last resort: the words alone, and-ed. */
function repaired(text: string): { repaired?: string } {
  const words = [...text.matchAll(/[\p{L}\p{N}*?]+/gu)]
    .map(m => m[0])
    .filter(w => !/^(and|or|not|prox|sortby)$/i.test(w))
  if (!words.length) return {}
  const again = parseCql(words.join(' '))
  return again.ok ? { repaired: printCql(again.query) } : {}
}

function cut(text: string, repairs: Repair[]): Piece[] {
  const out: Piece[] = []
  let i = 0
  while (i < text.length) {
    const c = text[i]!
    if (/\s/.test(c)) i++
    else if (/["“”„«»]/.test(c)) {
      if (c !== '"') repairs.push({ position: i, said: 'Curly quotes were read as straight ones.' })
      const start = i++
      let term = ''
      while (i < text.length && !/["“”«»]/.test(text[i]!)) {
        if (text[i] === '\\' && i + 1 < text.length) {
          term += text[i + 1] === '"' ? '"' : text[i]! + text[i + 1]!
          i += 2
        } else term += text[i++]!
      }
      if (i >= text.length) {
        repairs.push({ position: start, said: 'A closing quote was missing; the phrase was taken to run to the end.' })
        term = term.trimEnd()
      }
      i++
      out.push({ type: 'quoted', text: term, at: start })
    } else if (c === '(' || c === ')' || c === '/') {
      out.push({ type: c, text: c, at: i++ })
    } else if (/[=<>]/.test(c)) {
      const m = /^(==|<>|<=|>=|=|<|>)/.exec(text.slice(i))!
      out.push({ type: 'comparison', text: m[0], at: i })
      i += m[0].length
    } else {
      // a slash begins a modifier, but in a DOI it is a letter like any other
      const m = /^(?:10\.\d{4,9}\/[^\s()<>"]+|(?:\\.|[^\s()=<>"“”„«»/])+)/u.exec(text.slice(i))
      const found = m?.[0] ?? c
      out.push({ type: 'word', text: found, at: i })
      i += found.length
    }
  }
  return out
}

const booleans = new Set(['and', 'or', 'not', 'prox'])
/** Relations that are words, with or without the name of the set they come from. */
const wordRelation = /^(?:cql\.)?(any|all|adj|within|encloses|exact)$/i

class Reader {
  private i = 0
  /** Sets of indexes by the names that the query gives them; `` is the set of names without one. */
  private sets = new Map<string, string>()
  private readonly strange: NonNullable<Query['prefixes']> = []
  constructor(
    private readonly pieces: Piece[],
    private readonly length: number,
    private readonly repairs: Repair[],
  ) {}

  private peek(): Piece | undefined {
    return this.pieces[this.i]
  }
  private get here(): number {
    return this.peek()?.at ?? this.length
  }

  query(): Query {
    return { ...this.whole(), ...(this.strange.length ? { prefixes: this.strange } : {}) }
  }

  private whole(): Query {
    const root = this.expression(false)
    if (this.isWord('sortby')) {
      this.i++
      const sort: Query['sort'] = []
      while (this.isTerm()) {
        sort.push({ index: this.pieces[this.i++]!.text, modifiers: this.modifiers() })
      }
      if (!sort.length)
        throw new Trouble(this.here, 'an index to sort by', 'After "sortBy" comes the name of an index, such as year.')
      if (this.peek()) throw new Trouble(this.here, 'the end', 'Nothing can follow the sort order.')
      return { root, sort }
    }
    return { root }
  }

  /** `> dc = "address"`, or `> "address"` alone: names that hold for what follows, as far as its bracket. */
  private assignments(): void {
    for (let p = this.peek(); p?.type === 'comparison' && p.text === '>'; p = this.peek()) {
      const first = this.pieces[++this.i]
      const named = this.pieces[this.i + 1]?.text === '=' && this.pieces[this.i + 1]?.type === 'comparison'
      if (named) this.i += 2
      // an address without quotes is cut at its slashes
      let uri = ''
      for (let at: Piece | undefined; (at = this.peek()) && (at.type !== 'comparison' || uri); this.i++) {
        const end = this.pieces[this.i - 1]
        if (uri && end && at.at > end.at + end.text.length + (end.type === 'quoted' ? 2 : 0)) break
        uri += at.text
      }
      if (!first || !uri)
        throw new Trouble(
          p.at,
          'the address of a set of indexes',
          'After ">" comes a name for a set of indexes: > dc = "address".',
        )
      const name = named ? first.text : ''
      const set = setOf(uri)
      this.sets.set(name.toLowerCase(), set ?? '')
      if (!set) this.strange.push({ ...(name ? { name } : {}), uri })
    }
  }

  /** An index by our word for it, where it is of a set that is known; `` is the catalogue's own choice. */
  private indexNamed(text: string): string | undefined {
    const dot = text.indexOf('.')
    const prefix = dot > 0 ? text.slice(0, dot) : ''
    const name = text.slice(dot > 0 ? dot + 1 : 0)
    const set = this.sets.get(prefix.toLowerCase()) ?? (prefix ? setOf(prefix) : undefined)
    const ours = set ? ourIndex(set, name) : /^(serverchoice|anywhere)$/i.test(text) ? '' : undefined
    return ours === undefined ? text : ours || undefined
  }

  private expression(inBrackets: boolean): QueryNode {
    const outside = this.sets
    this.sets = new Map(outside)
    this.assignments()
    const node = this.joined(inBrackets)
    this.sets = outside
    return node
  }

  private joined(inBrackets: boolean): QueryNode {
    let left = this.first()
    for (;;) {
      const p = this.peek()
      if (!p || this.isWord('sortby')) return left
      if (p.type === ')') {
        if (inBrackets) return left
        this.repairs.push({ position: p.at, said: 'A closing bracket without an opening one was left out.' })
        this.i++
        continue
      }
      let op: BooleanName = 'and'
      let modifiers: Modifier[] = []
      if (p.type === 'word' && booleans.has(p.text.toLowerCase())) {
        op = p.text.toLowerCase() as BooleanName
        this.i++
        modifiers = this.modifiers()
        if (op === 'and' && this.isWord('not')) {
          op = 'not'
          this.i++
          this.repairs.push({ position: p.at, said: '"and not" was read as "not".' })
        }
        if (!this.peek() || this.at(')')) {
          throw new Trouble(this.here, 'a term', `After "${op}" a term is missing.`)
        }
      } else if (p.type === 'word' && p.text.length > 1 && p.text.startsWith('-')) {
        op = 'not'
        this.pieces[this.i] = { ...p, text: p.text.slice(1), at: p.at + 1 }
      } else if (p.type === 'word' && p.text === '-' && this.pieces[this.i + 1]?.at === p.at + 1) {
        op = 'not'
        this.i++
      }
      left = { kind: 'boolean', op, modifiers, left, right: this.operand() }
    }
  }

  /** "not" needs something to be taken from: a leading minus is moved behind the next term. */
  private first(): QueryNode {
    const p = this.peek()
    const minus = p?.type === 'word' && p.text.startsWith('-') && p.text.length > 1
    const not = this.isWord('not')
    if (!p || !(minus || not)) return this.operand()
    if (not) this.i++
    else this.pieces[this.i] = { ...p, text: p.text.slice(1), at: p.at + 1 }
    const taken = this.operand()
    if (!this.peek() || this.at(')') || this.isWord('sortby')) {
      throw new Trouble(
        p.at,
        'a term before "not"',
        'Say first what you want, then what should be left out: "moth not sail".',
      )
    }
    if (this.isWord('and')) this.i++
    this.repairs.push({ position: p.at, said: '"not" was moved behind the term it is taken from.' })
    return { kind: 'boolean', op: 'not', modifiers: [], left: this.operand(), right: taken }
  }

  private operand(): QueryNode {
    const p = this.peek()
    if (!p) throw new Trouble(this.length, 'a term', 'A term is missing at the end.')
    if (p.type === '(') {
      this.i++
      if (this.at(')')) throw new Trouble(this.here, 'a term', 'There is nothing between the brackets.')
      const inner = this.expression(true)
      if (this.at(')')) this.i++
      else this.repairs.push({ position: p.at, said: 'A closing bracket was missing and was put at the end.' })
      return inner
    }
    return this.clause()
  }

  private clause(): Clause {
    const p = this.peek()!
    if (p.type !== 'word' && p.type !== 'quoted') {
      throw new Trouble(
        p.at,
        'a term',
        p.type === ')' ? 'A term is missing before ")".' : `A term is missing before "${p.text}".`,
      )
    }
    if (p.type === 'word' && booleans.has(p.text.toLowerCase())) {
      throw new Trouble(
        p.at,
        'a term',
        `A term is missing before "${p.text}". To look for the word itself, put it in quotes.`,
      )
    }
    this.i++
    const relation = this.relation()
    if (!relation) {
      const phrase = p.type === 'quoted' && /\s/.test(p.text.trim())
      return { kind: 'clause', relation: phrase ? 'adj' : '=', modifiers: [], term: p.text }
    }
    const t = this.peek()
    if (!t || (t.type !== 'word' && t.type !== 'quoted')) {
      throw new Trouble(this.here, 'a term', `After "${p.text} ${relation.relation}" a term is missing.`)
    }
    this.i++
    const index = this.indexNamed(p.text)
    return { kind: 'clause', ...(index !== undefined ? { index } : {}), ...relation, term: t.text }
  }

  private relation(): { relation: Comparison; modifiers: Modifier[] } | undefined {
    const p = this.peek()
    if (!p) return undefined
    const named = p.type === 'word' ? wordRelation.exec(p.text)?.[1]?.toLowerCase() : undefined
    const isWordRelation = named !== undefined
    if (p.type !== 'comparison' && !isWordRelation) return undefined
    // "moth all" at the very end: the word is a term, not a relation
    const after = this.pieces[this.i + 1]
    if (
      isWordRelation &&
      (!after || after.type === ')' || (after.type === 'word' && booleans.has(after.text.toLowerCase())))
    ) {
      return undefined
    }
    this.i++
    const name = named ?? p.text
    return { relation: (name === 'exact' ? '==' : name) as Comparison, modifiers: this.modifiers() }
  }

  private modifiers(): Modifier[] {
    const out: Modifier[] = []
    while (this.peek()?.type === '/') {
      this.i++
      const name = this.peek()
      if (!name || (name.type !== 'word' && name.type !== 'quoted')) {
        throw new Trouble(this.here, 'a modifier', 'After "/" comes the name of a modifier, such as distance<=5.')
      }
      this.i++
      if (this.peek()?.type === 'comparison') {
        const comparison = this.peek()!.text as Modifier['comparison']
        this.i++
        const value = this.peek()
        if (!value || (value.type !== 'word' && value.type !== 'quoted')) {
          throw new Trouble(this.here, 'a value', `The modifier "${name.text}" needs a value.`)
        }
        this.i++
        out.push({ name: name.text, comparison: comparison!, value: value.text })
      } else out.push({ name: name.text })
    }
    return out
  }

  private at(type: Piece['type']): boolean {
    return this.peek()?.type === type
  }
  private isTerm(): boolean {
    return this.at('word') || this.at('quoted')
  }
  private isWord(text: string): boolean {
    return this.peek()?.type === 'word' && this.peek()!.text.toLowerCase() === text
  }
}
