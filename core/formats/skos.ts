import { Parser, type Quad } from 'n3'
import { RdfXmlParser } from 'rdfxml-streaming-parser'
import { SaxesParser } from 'saxes'
import { firstLetters } from '../bib/clean'
import type { ConceptLabel, VocabularyConcept } from '../query/vocabulary'

export interface Vocabulary {
  name?: string
  concepts: VocabularyConcept[]
  /** What stands in the file and is not shown, with how often. */
  left: { said: string; times: number }[]
}

/** Concepts of a vocabulary, and letters of a label or note, at most. */
const MOST_CONCEPTS = 300_000
const [LONGEST_LABEL, LONGEST_NOTE] = [200, 1000]
/** Labels of one concept at most: some name it in sixty languages. */
const MOST_LABELS = 500

const RDF = 'http://www.w3.org/1999/02/22-rdf-syntax-ns#'
const SKOS = 'http://www.w3.org/2004/02/skos/core#'
const XL = 'http://www.w3.org/2008/05/skos-xl#'
const DCTERMS = 'http://purl.org/dc/terms/'
const THES = 'http://purl.org/iso25964/skos-thes#'

type Relation = 'broader' | 'narrower' | 'related'
/** What says how concepts stand to each other; the narrower kinds of a relation are the relation. */
const RELATIONS = new Map<string, Relation>([
  ...(['broader', 'narrower', 'related'] as const).map(r => [SKOS + r, r] as const),
  ...(['Generic', 'Partitive', 'Instantial'] as const).flatMap(k => [
    [`${THES}broader${k}`, 'broader'] as const,
    [`${THES}narrower${k}`, 'narrower'] as const,
  ]),
  [`${SKOS}broadMatch`, 'broader'],
  [`${SKOS}narrowMatch`, 'narrower'],
  [`${SKOS}relatedMatch`, 'related'],
  [`${SKOS}closeMatch`, 'related'],
  [`${SKOS}exactMatch`, 'related'],
])
/** Said of all that stand above or below, however far: counts only where nothing else is said. */
const FAR = new Map<string, Relation>([
  [`${SKOS}broaderTransitive`, 'broader'],
  [`${SKOS}narrowerTransitive`, 'narrower'],
])
const INVERSE: Record<Relation, Relation> = { broader: 'narrower', narrower: 'broader', related: 'related' }
const LABELS = new Map<string, ConceptLabel['as']>([
  [`${SKOS}prefLabel`, 'preferred'],
  [`${SKOS}altLabel`, 'other'],
  [`${SKOS}hiddenLabel`, 'hidden'],
])
const XL_LABELS = new Map<string, ConceptLabel['as']>([
  [`${XL}prefLabel`, 'preferred'],
  [`${XL}altLabel`, 'other'],
  [`${XL}hiddenLabel`, 'hidden'],
])
/** Notes that tell what a concept is meant for, the most telling last. */
const NOTES = [`${SKOS}note`, `${SKOS}definition`, `${SKOS}scopeNote`]
const TITLES = new Set([
  `${DCTERMS}title`,
  'http://purl.org/dc/elements/1.1/title',
  'http://www.w3.org/2000/01/rdf-schema#label',
  `${SKOS}prefLabel`,
])

interface Literal {
  text: string
  language?: string
}
type Node = string
/** One statement; its object is a node's name or a text. */
type Told = (subject: Node, predicate: string, object: Node | Literal) => void

const isXml = (text: string): boolean => /^\ufeff?\s*<(?:\?xml|!--|!DOCTYPE|(?:[\w.-]+:)?RDF\b)/.test(text)

/**
 * Reads a vocabulary in SKOS (W3C Recommendation of 2009), with labels of SKOS-XL and relations of ISO 25964, from RDF/XML
 * or from Turtle and what is like it (N-Triples, TriG, N-Quads). Where a file breaks off or goes wrong, what stands before
 * is read, and the place is said. A relation that is told from one side holds from both.
 * @throws Error where it is no such file, or has no concept
 */
export async function readVocabulary(text: string): Promise<Vocabulary> {
  if (/^\ufeff?\s*<(?:!DOCTYPE\s+html|html)\b/i.test(text))
    throw new Error('This is a page of the web, perhaps one to sign in, and no vocabulary.')
  if (/^\ufeff?\s*[[{]/.test(text) && /"@(?:context|graph|id)"/.test(text))
    throw new Error('This is JSON-LD. Bring the vocabulary as Turtle or RDF/XML.')
  const draft = new Draft()
  const told: Told = (s, p, o) => draft.take(s, p, o)
  const broken = await (isXml(text) ? readXml : readTurtle)(text, told)
  const vocabulary = draft.vocabulary()
  if (broken) vocabulary.left.unshift({ said: `${broken} What stands behind it was not read.`, times: 1 })
  if (!vocabulary.concepts.length)
    throw new Error(broken ? `It is no vocabulary in SKOS: ${broken}` : 'It has no concept in SKOS with a label.')
  return vocabulary
}

const nodeOf = (t: { termType: string; value: string }): Node => (t.termType === 'BlankNode' ? `_:${t.value}` : t.value)
const objectOf = (t: Quad['object']): Node | Literal =>
  t.termType === 'Literal' ? { text: t.value, ...(t.language ? { language: t.language } : {}) } : nodeOf(t)
const tell = (q: Quad, told: Told): void => told(nodeOf(q.subject), q.predicate.value, objectOf(q.object))

const sentence = (e: Error): string => `${firstLetters(e.message, 200).replace(/[.\s]+$/, '')}.`

/** Whether every element is closed: the reader of RDF takes what came for all there is. */
function isWhole(text: string): boolean {
  const parser = new SaxesParser({ position: false })
  let [open, opened] = [0, false]
  parser.on('error', () => undefined)
  parser.on('opentag', () => {
    opened = true
    open++
  })
  parser.on('closetag', () => open--)
  parser.write(text)
  return opened && open === 0
}

/** @returns what went wrong, where something did */
function readTurtle(text: string, told: Told): Promise<string | undefined> {
  return new Promise(done =>
    new Parser({ baseIRI: 'urn:vocabulary:' }).parse(text.replace(/^\ufeff/, ''), (e: Error | null, q: Quad | null) => {
      if (e) done(sentence(e))
      else if (q) tell(q, told)
      else done(undefined)
    }),
  )
}

/** @returns what went wrong, where something did */
function readXml(text: string, told: Told): Promise<string | undefined> {
  return new Promise(done => {
    const parser = new RdfXmlParser({ baseIRI: 'urn:vocabulary:' })
    parser
      .on('data', (q: Quad) => tell(q, told))
      .on('error', (e: Error) => done(sentence(e)))
      .on('end', () => done(isWhole(text) ? undefined : 'The file ends in the middle.'))
    parser.end(text)
  })
}

class Draft {
  private readonly concepts = new Set<Node>()
  private readonly groups = new Set<Node>()
  private readonly schemes = new Set<Node>()
  private readonly labels = new Map<Node, (ConceptLabel | { as: ConceptLabel['as']; node: Node })[]>()
  private readonly forms = new Map<Node, Literal>()
  private readonly values = new Map<Node, Literal>()
  private readonly notes = new Map<Node, { rank: number; of: Node | Literal }[]>()
  private readonly titles = new Map<Node, Literal[]>()
  private readonly links: { from: Node; as: Relation; to: Node }[] = []
  private readonly far: { from: Node; as: Relation; to: Node }[] = []
  private readonly retired = new Map<Node, Node[]>()

  take(s: Node, p: string, o: Node | Literal): void {
    const isNode = typeof o === 'string'
    const add = <V>(map: Map<Node, V[]>, v: V): void => {
      const have = map.get(s)
      if (have) have.push(v)
      else map.set(s, [v])
    }
    if (!isNode && TITLES.has(p)) add(this.titles, o)
    const as = LABELS.get(p)
    if (as && !isNode) return add(this.labels, { ...o, as })
    const xl = XL_LABELS.get(p)
    if (xl && isNode) return add(this.labels, { as: xl, node: o })
    const relation = RELATIONS.get(p)
    if (relation && isNode) return void this.links.push({ from: s, as: relation, to: o })
    const far = FAR.get(p)
    if (far && isNode) return void this.far.push({ from: s, as: far, to: o })
    const rank = NOTES.indexOf(p)
    if (rank >= 0) return add(this.notes, { rank, of: o })
    if (p === `${RDF}type` && isNode) {
      if (o === `${SKOS}Concept`) this.concepts.add(s)
      else if (o === `${SKOS}ConceptScheme`) this.schemes.add(s)
      else if (o === `${SKOS}Collection` || o === `${SKOS}OrderedCollection`) this.groups.add(s)
    } else if (p === `${XL}literalForm` && !isNode) this.forms.set(s, o)
    else if (p === `${RDF}value` && !isNode) this.values.set(s, o)
    else if (p === `${DCTERMS}isReplacedBy` && isNode) add(this.retired, o)
    else if (p.endsWith('#deprecated') && !isNode && /^(true|1)$/.test(o.text) && !this.retired.has(s))
      this.retired.set(s, [])
    else if (p === `${SKOS}topConceptOf` && isNode) this.concepts.add(s)
    else if (p === `${SKOS}hasTopConcept` && isNode) this.concepts.add(o)
  }

  vocabulary(): Vocabulary {
    const left = new Map<string, number>()
    const leave = (said: string, times = 1): void => {
      if (times) left.set(said, (left.get(said) ?? 0) + times)
    }
    for (const { from, to } of this.links)
      for (const n of [from, to]) if (this.labels.has(n) && !this.schemes.has(n)) this.concepts.add(n)
    const named: { node: Node; labels: ConceptLabel[] }[] = []
    for (const node of this.concepts) {
      if (this.groups.has(node)) continue
      const labels = this.labelsOf(node, leave)
      if (!labels.length) leave('concepts without a label')
      else if (named.length === MOST_CONCEPTS) leave(`concepts beyond the first ${MOST_CONCEPTS}`)
      else named.push({ node, labels })
    }
    const place = new Map(named.map(({ node }, i) => [node, i]))
    const of = named.map(() => ({
      broader: new Set<number>(),
      narrower: new Set<number>(),
      related: new Set<number>(),
    }))
    const link = ({ from, as, to }: { from: Node; as: Relation; to: Node }): boolean => {
      const [a, b] = [place.get(from), place.get(to)]
      if (a === undefined || b === undefined) return false
      if (a !== b) {
        of[a]![as].add(b)
        of[b]![INVERSE[as]].add(a)
      }
      return true
    }
    leave('relations to concepts that are not in the file', this.links.filter(l => !link(l)).length)
    // whoever has no nearer word above it is put under all that are said to be
    const lone = this.far.filter(l => !of[place.get(l.from) ?? -1]?.[l.as].size)
    lone.forEach(link)
    const concepts = named.map(({ node, labels }, i): VocabularyConcept => {
      const note = this.noteOf(node)
      const retired = this.retired.get(node)
      const { broader, narrower, related } = of[i]!
      return {
        ...{ iri: node, labels, broader: [...broader], narrower: [...narrower], related: [...related] },
        ...(note ? { note } : {}),
        ...(retired ? { retired: retired.flatMap(n => place.get(n) ?? []) } : {}),
      }
    })
    leave('groups of concepts', [...this.groups].filter(g => this.labels.has(g)).length)
    const name = this.nameOf()
    return { ...(name ? { name } : {}), concepts, left: [...left].map(([said, times]) => ({ said, times })) }
  }

  private labelsOf(node: Node, leave: (said: string) => void): ConceptLabel[] {
    const out: ConceptLabel[] = []
    const preferred = new Set<string>()
    for (const l of this.labels.get(node) ?? []) {
      const form = 'node' in l ? this.forms.get(l.node) : l
      const text = form?.text.normalize('NFC').replace(/\s+/g, ' ').trim()
      if (!text) leave('labels without words')
      else if (text.length > LONGEST_LABEL) leave(`labels of more than ${LONGEST_LABEL} letters`)
      else if (out.length === MOST_LABELS) leave(`labels beyond the first ${MOST_LABELS} of a concept`)
      else {
        const language = form!.language?.toLowerCase()
        // of two that claim to be the name in one language the first is
        const as = l.as === 'preferred' && preferred.has(language ?? '') ? 'other' : l.as
        if (as === 'preferred') preferred.add(language ?? '')
        if (!out.some(o => o.text === text && o.language === language))
          out.push({ text, ...(language ? { language } : {}), as })
      }
    }
    return out
  }

  private noteOf(node: Node): string | undefined {
    const rated = (this.notes.get(node) ?? []).flatMap(({ rank, of }) => {
      const said = typeof of === 'string' ? this.values.get(of) : of
      const text = said?.text.replace(/\s+/g, ' ').trim()
      return text ? [{ text, rank: rank + (isEnglish(said!.language) ? NOTES.length : 0) }] : []
    })
    const best = rated.reduce<(typeof rated)[number] | undefined>((a, b) => (a && a.rank >= b.rank ? a : b), undefined)
    return best && firstLetters(best.text, LONGEST_NOTE)
  }

  private nameOf(): string | undefined {
    const said = [...this.schemes].flatMap(s => this.titles.get(s) ?? [])
    const text = (said.find(t => isEnglish(t.language)) ?? said[0])?.text.replace(/\s+/g, ' ').trim()
    return text ? firstLetters(text, LONGEST_LABEL) : undefined
  }
}

const isEnglish = (language = ''): boolean => /^en\b/i.test(language)
