import { DOMParser, Fragment, Schema, type Mark, type Node, type ParseOptions, type Slice } from 'prosemirror-model'
import type { Stretch } from '../../../core/bib/sentences'
import {
  citingOf,
  linesOf,
  placesOf,
  writtenOf,
  type CitedPlace,
  type Citing,
  type LineKind,
  type Look,
  type Written,
} from '../../../core/write/written'

const LISTS: Record<string, LineKind> = { OL: 'number', UL: 'bullet' }

/** What a line is that is brought from elsewhere: an item of a list, a quotation, or none of these. */
function kindAround(el: HTMLElement): LineKind | null {
  const of = el.closest('li, blockquote')
  if (!of) return null
  return of.tagName === 'BLOCKQUOTE' ? 'quotation' : (LISTS[of.closest('ol, ul')?.tagName ?? ''] ?? 'bullet')
}
/** An element of lines leaves them to the lines in it. */
const ofItself = (el: HTMLElement) => (el.querySelector('p, div, li, blockquote') ? false : { kind: kindAround(el) })

/** What a citation is in what is copied and pasted: its works by number with their pages, and its form. */
function citedBy(el: HTMLElement): { places: CitedPlace[]; named: boolean; said: string } | false {
  let places: unknown
  try {
    places = JSON.parse(el.dataset.cites ?? '')
  } catch {
    return false
  }
  return el.textContent && Array.isArray(places) && places.length && places.every(isPlace)
    ? { places, named: el.dataset.named === 'true', said: el.textContent }
    : false
}
const isPlace = (p: unknown): p is CitedPlace =>
  typeof p === 'object' && p !== null && 'work' in p && Number(p.work) > 0 && 'page' in p && typeof p.page === 'string'

/** What can be written: lines, each of a kind, with looks and citations in them. */
export const schema = new Schema({
  nodes: {
    doc: { content: 'line+' },
    line: {
      content: 'inline*',
      attrs: { kind: { default: null as LineKind | null } },
      toDOM: n => ['p', n.attrs.kind ? { 'data-kind': String(n.attrs.kind) } : {}, 0],
      parseDOM: [
        { tag: 'p[data-kind]', getAttrs: el => ({ kind: el.dataset.kind }) },
        { tag: 'p', getAttrs: el => ({ kind: kindAround(el) }) },
        { tag: 'li', getAttrs: ofItself },
        { tag: 'blockquote', getAttrs: ofItself },
        { tag: 'td, th', getAttrs: ofItself },
      ],
    },
    cites: {
      group: 'inline',
      inline: true,
      atom: true,
      attrs: { places: {}, named: {}, said: {} },
      leafText: n => String(n.attrs.said),
      toDOM: ({ attrs: { places, named, said } }) => [
        'span',
        { class: 'cites', 'data-cites': JSON.stringify(places), 'data-named': String(named) },
        String(said),
      ],
      parseDOM: [{ tag: 'span[data-cites]', getAttrs: citedBy, priority: 60 }],
    },
    text: { group: 'inline' },
  },
  marks: {
    emphasis: {
      toDOM: () => ['em', 0],
      parseDOM: [{ tag: 'em' }, { tag: 'i' }, { style: 'font-style=italic' }],
    },
    strong: {
      toDOM: () => ['strong', 0],
      parseDOM: [
        { tag: 'strong' },
        // some programs wrap all that is copied into such an element and say that it is none
        { tag: 'b', getAttrs: el => (el.style.fontWeight === 'normal' ? false : null) },
        { style: 'font-weight', getAttrs: w => (/^(bold|[6-9]00)/.test(w) ? null : false) },
      ],
    },
    raised: {
      excludes: 'lowered',
      toDOM: () => ['sup', 0],
      parseDOM: [{ tag: 'sup' }, { style: 'vertical-align=super' }],
    },
    lowered: {
      excludes: 'raised',
      toDOM: () => ['sub', 0],
      parseDOM: [{ tag: 'sub' }, { style: 'vertical-align=sub' }],
    },
  },
})

/** Cuts the blocks of a piece of a page where lines are broken off in them, so that each line is one. */
function cutLines(dom: Element | DocumentFragment): void {
  for (const br of dom.querySelectorAll('br')) {
    const block = br.parentElement?.closest('p, li, div, blockquote, h1, h2, h3, h4, h5, h6, td')
    if (block && block !== dom && dom.contains(block)) {
      const rest = document.createRange()
      rest.setStartAfter(br)
      rest.setEndAfter(block.lastChild!)
      const next = block.cloneNode(false) as Element
      next.append(rest.extractContents())
      block.after(next)
      br.remove()
    } else br.replaceWith(document.createElement('div'))
  }
}
class PasteParser extends DOMParser {
  override parseSlice(dom: globalThis.Node, options?: ParseOptions): Slice {
    if (dom instanceof Element || dom instanceof DocumentFragment) cutLines(dom)
    return super.parseSlice(dom, options)
  }
}
export const pasted = new PasteParser(schema, DOMParser.fromSchema(schema).rules)

export const citesNode = (citing: Citing, said: string, looks: readonly Mark[] = []): Node =>
  schema.nodes.cites.create({ places: placesOf(citing), named: citing.named, said }, null, looks)

/** A text as it is edited. */
export function docOf(written: Written): Node {
  const lines = linesOf(written).map(({ kind, runs }) => {
    const inline = runs
      .filter(r => r.text)
      .map(({ text, looks, cites }) => {
        const marks = looks.map(l => schema.marks[l].create())
        return cites ? citesNode(cites, text, marks) : schema.text(text, marks)
      })
    return schema.nodes.line.create({ kind: kind ?? null }, Fragment.from(inline))
  })
  return schema.nodes.doc.create(null, lines)
}

/** What was edited as a text with its marks. */
export const writtenOfDoc = (doc: Node): Written =>
  writtenOf(
    doc.children.map(line => ({
      kind: (line.attrs.kind as LineKind | null) ?? undefined,
      runs: line.children.map(n => ({
        text: n.isText ? n.text! : String(n.attrs.said),
        looks: n.marks.map(m => m.type.name as Look),
        ...(n.isText ? {} : { cites: citingAt(n) }),
      })),
    })),
  )

export const citingAt = ({ attrs }: Node): Citing => citingOf(attrs.places as CitedPlace[], Boolean(attrs.named))!

/** A node of a text, where it stands in what is edited and in the text. */
interface Piece extends Stretch {
  pos: number
  node: Node
}

/** Where the letters of a text stand in what is edited. */
export class Places {
  /** Letters of the whole text. */
  readonly length: number
  private readonly pieces: Piece[] = []

  constructor(doc: Node) {
    let at = 0
    doc.forEach((line, offset) => {
      // an empty line has its place too
      this.pieces.push({ from: at, to: at, pos: offset + 1, node: line })
      line.forEach((node, within) => {
        const to = at + (node.isText ? node.text!.length : String(node.attrs.said).length)
        this.pieces.push({ from: at, to, pos: offset + 1 + within, node })
        at = to
      })
      at++
    })
    this.length = at - 1
  }

  /** The place before a letter; of a letter within a citation before it, or behind where something ends there. */
  posOf(letter: number, isEnd = false): number {
    // behind a letter rather than before the next, where a stretch ends
    const piece = this.pieces.findLast(p => (isEnd ? p.from < letter : p.from <= letter)) ?? this.pieces[0]!
    const within = Math.min(letter, piece.to) - piece.from
    if (piece.node.isText || within <= 0) return piece.pos + Math.max(0, within)
    return isEnd || letter >= piece.to ? piece.pos + 1 : piece.pos
  }

  /** The citation within which a stretch lies, if it does. */
  citationAround({ from, to }: Stretch): Piece | undefined {
    return this.pieces.find(p => p.node.type === schema.nodes.cites && p.from <= from && to <= p.to)
  }
}
