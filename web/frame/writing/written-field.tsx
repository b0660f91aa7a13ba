import { closeHistory } from 'prosemirror-history'
import { Slice } from 'prosemirror-model'
import { EditorState, Plugin, PluginKey, TextSelection, type Command, type Transaction } from 'prosemirror-state'
import { Decoration, DecorationSet, EditorView } from 'prosemirror-view'
import { useImperativeHandle, useLayoutEffect, useRef, type Ref } from 'react'
import type { Stretch } from '../../../core/bib/sentences'
import { citingOf, placesOf, type Citing, type Written } from '../../../core/write/written'
import { useStable } from '../use-stable'
import { chosenCitation, whatIsAt, writingPlugins, type At } from './commands'
import { citesNode, citingAt, docOf, pasted, Places, writtenOfDoc } from './schema'

/** What a text that is written in can be asked for by what stands beside it. */
export interface WritingDesk {
  focus(): void
  /** Does something to what is chosen, and goes back to the text. */
  run(command: Command): void
  /** Puts words in at the caret, parted from what stands around them, with a citation and the sign that ends them. */
  putIn(words: string, cites?: Cites & { end: string }): void
  /** Puts a citation at the caret, or in the place of the one that is chosen. */
  cite(citing: Citing, said: string): void
  /**
   * Puts words in place of a stretch of the text it was found of, a citation behind them; the page of a citation is changed
   * in it. @returns false where another text stands there now, which is left alone
   */
  replace(of: string, at: Stretch, words: string, cites?: Cites): boolean
}
/** A citation, and how it reads. */
interface Cites {
  citing: Citing
  said: string
}

/** A stretch of a text that something was found of. */
export interface FoundMark extends Stretch {
  key: string
  what: string
}

const NONE: readonly FoundMark[] = []
const FOUND = new PluginKey<DecorationSet>('found')
/** What was not written here, so that it is neither told nor taken back here. */
const FROM_OUTSIDE = 'from outside'

const foundOf = (state: EditorState, marks: readonly FoundMark[]): DecorationSet => {
  const places = new Places(state.doc)
  return DecorationSet.create(
    state.doc,
    marks
      .filter(m => m.to <= places.length)
      .map(m =>
        Decoration.inline(places.posOf(m.from), places.posOf(m.to, true), { 'data-tied': m.key, 'data-what': m.what }),
      ),
  )
}
const found = () =>
  new Plugin<DecorationSet>({
    key: FOUND,
    state: {
      init: () => DecorationSet.empty,
      apply: (tr, old) => (tr.getMeta(FOUND) as DecorationSet | undefined) ?? old.map(tr.mapping, tr.doc),
    },
    props: { decorations: state => FOUND.getState(state) },
  })

const areSame = (a: Written, b: Written): boolean =>
  a.text === b.text && JSON.stringify(a.marks) === JSON.stringify(b.marks)

/** A text that is written in with its looks, lists and citations, and with what was found of it marked. */
export function WrittenField({
  value,
  write,
  label,
  placeholder,
  mayWrite,
  most,
  tooLong,
  marks = NONE,
  desk,
  focused,
  at,
  pressed,
  dropped,
  autoFocus = false,
}: {
  value: Written
  write: (value: Written) => void
  label: string
  placeholder: string
  mayWrite: boolean
  /** Letters at most. */
  most: number
  /** More was to be put in than there is room for. */
  tooLong: () => void
  marks?: readonly FoundMark[]
  desk: Ref<WritingDesk>
  focused?: () => void
  /** What stands where the caret is, as it changes. */
  at?: (at: At & { citing: Citing | undefined }) => void
  /** A key with Alt. @returns whether it was one that means something */
  pressed?: (code: string) => boolean
  /** What is dropped. @returns what takes it, once the caret is there; the editor reads all else by itself */
  dropped?: (given: DataTransfer | null) => (() => void) | undefined
  /** The caret is in it as soon as it is there. */
  autoFocus?: boolean
}) {
  const room = useRef<HTMLDivElement>(null)
  const made = useRef<EditorView>(null)
  const told = useStable((view: EditorView, tr: Transaction) => {
    if (tr.docChanged && !tr.getMeta(FROM_OUTSIDE)) write(writtenOfDoc(view.state.doc))
    if (view.hasFocus()) at?.({ ...whatIsAt(view.state), citing: citingIn(view) })
  })
  const act = useStable((code: string) => pressed?.(code) ?? false)
  const taking = useStable((given: DataTransfer | null) => dropped?.(given))
  const isFocused = useStable(() => focused?.())
  const isTooLong = useStable(tooLong)

  useLayoutEffect(() => {
    const view = new EditorView(room.current!, {
      state: EditorState.create({ doc: docOf({ text: '', marks: [] }), plugins: [...writingPlugins(), found()] }),
      clipboardParser: pasted,
      dispatchTransaction(tr) {
        const isLonger = tr.docChanged && tr.doc.content.size > view.state.doc.content.size
        if (isLonger && !tr.getMeta(FROM_OUTSIDE) && new Places(tr.doc).length > most) return isTooLong()
        view.updateState(view.state.apply(tr))
        told(view, tr)
      },
      handleKeyDown: (_, e) => {
        if (!e.altKey || e.ctrlKey || e.metaKey || !act(e.code)) return false
        e.preventDefault()
        return true
      },
      handleDrop(v, e) {
        const take = taking(e.dataTransfer)
        if (!take) return false
        const at = v.posAtCoords({ left: e.clientX, top: e.clientY })
        if (at) v.dispatch(v.state.tr.setSelection(TextSelection.near(v.state.doc.resolve(at.pos))))
        take()
        e.preventDefault()
        return true
      },
      handleDOMEvents: { focus: () => void isFocused() },
    })
    made.current = view
    if (autoFocus) view.focus()
    return () => view.destroy()
  }, [most, told, act, taking, isFocused, isTooLong, autoFocus])

  useLayoutEffect(() => {
    const view = made.current!
    view.setProps({
      editable: () => mayWrite,
      attributes: ({ doc }) => ({
        role: 'textbox',
        'aria-multiline': 'true',
        'aria-label': label,
        ...(mayWrite ? {} : { 'aria-readonly': 'true', tabindex: '0' }),
        ...(doc.childCount === 1 && !doc.firstChild!.content.size ? { 'data-empty': placeholder } : {}),
      }),
    })
  }, [mayWrite, label, placeholder])

  useLayoutEffect(() => {
    const view = made.current!
    if (!areSame(value, writtenOfDoc(view.state.doc))) view.dispatch(takenOver(view.state, value))
  }, [value])
  useLayoutEffect(() => {
    const { state } = made.current!
    made.current!.dispatch(state.tr.setMeta(FOUND, foundOf(state, marks)))
  }, [marks])

  useImperativeHandle(desk, () => deskOf(() => made.current!), [])
  return <div ref={room} className="written" />
}

const citingIn = (view: EditorView): Citing | undefined => {
  const chosen = chosenCitation(view.state)
  return chosen && citingAt(chosen.node)
}

/** Takes over what stands elsewhere, changing no more than differs, so that the caret stays where it is. */
function takenOver(state: EditorState, value: Written): Transaction {
  const doc = docOf(value)
  const tr = state.tr.setMeta(FROM_OUTSIDE, true).setMeta('addToHistory', false)
  const start = state.doc.content.findDiffStart(doc.content)
  const end = state.doc.content.findDiffEnd(doc.content)
  if (start === null || !end) return tr
  // what is repeated around a difference is counted once
  const over = Math.max(0, start - Math.min(end.a, end.b))
  return tr.replace(start, end.a + over, doc.slice(start, end.b + over))
}

/** Pages whatever dash stands in them: a style writes its own. */
const asNamed = (page: string): string => page.replace(/\s*[-–]\s*/g, '-')

function deskOf(view: () => EditorView): WritingDesk {
  const dispatch = (tr: Transaction) => {
    const v = view()
    v.dispatch(closeHistory(tr).scrollIntoView())
    v.focus()
  }
  /** Puts words in a place, a line each, and a citation behind them. */
  const put = (from: number, to: number, words: string, cites?: Cites, end = '') => {
    const { state } = view()
    const doc = docOf({ text: words, marks: [] })
    // open at both ends: the first line goes on in the line that is there, and so does the last
    const tr = state.tr.replace(from, to, new Slice(doc.content, 1, 1))
    if (cites) {
      const at = tr.mapping.map(to)
      const node = citesNode(cites.citing, cites.said)
      tr.insert(at, [state.schema.text(' '), node, ...(end ? [state.schema.text(end)] : [])])
    }
    dispatch(tr.setSelection(TextSelection.near(tr.doc.resolve(tr.mapping.map(to)), -1)))
  }
  return {
    focus: () => view().focus(),
    run: command => {
      const v = view()
      command(v.state, v.dispatch)
      v.focus()
    },
    putIn: (words, cites) => {
      const { selection, doc } = view().state
      const { from, to, $from, $to } = selection
      const before = doc.textBetween($from.start(), from)
      const after = doc.textBetween(to, $to.end())
      const space = before && !/\s$/.test(before) ? ' ' : ''
      const then = /^[\p{L}\p{N}“(]/u.test(after) ? ' ' : ''
      put(from, to, space + words + (cites ? '' : then), cites, cites && cites.end + then)
    },
    cite: (citing, said) => {
      const { state } = view()
      const chosen = chosenCitation(state)
      const node = citesNode(citing, said, chosen?.node.marks)
      const { from, to, $from } = state.selection
      const before = state.doc.textBetween($from.start(), from)
      const nodes = !chosen && before && !/[\s(]$/.test(before) ? [state.schema.text(' '), node] : [node]
      const tr = state.tr.replaceWith(from, to, nodes)
      dispatch(tr.setSelection(TextSelection.near(tr.doc.resolve(tr.mapping.map(to)), -1)))
    },
    replace: (of, at, words, cites) => {
      const { state } = view()
      if (writtenOfDoc(state.doc).text !== of) return false
      const places = new Places(state.doc)
      const around = at.from < at.to ? places.citationAround(at) : undefined
      if (!around) {
        put(places.posOf(at.from), places.posOf(at.to, at.from < at.to), words, cites)
        return true
      }
      const { from, node, pos } = around
      const said = String(node.attrs.said)
      const was = said.slice(at.from - from, at.to - from)
      const now = said.slice(0, at.from - from) + words + said.slice(at.to - from)
      const { named } = citingAt(node)
      const cited = placesOf(citingAt(node))
      const which = Math.max(
        0,
        cited.findIndex(p => asNamed(p.page) === asNamed(was)),
      )
      const citing = citingOf(cited.with(which, { ...cited[which]!, page: words }), named)!
      dispatch(state.tr.replaceWith(pos, pos + 1, citesNode(citing, now, node.marks)))
      return true
    },
  }
}
