import { chainCommands, baseKeymap, toggleMark } from 'prosemirror-commands'
import { dropCursor } from 'prosemirror-dropcursor'
import { history, redo, undo } from 'prosemirror-history'
import { InputRule, inputRules } from 'prosemirror-inputrules'
import { keymap } from 'prosemirror-keymap'
import { NodeSelection, type Command, type EditorState, type Plugin } from 'prosemirror-state'
import type { LineKind, Look } from '../../../core/write/written'
import { schema } from './schema'

const { line, cites } = schema.nodes

/** The lines that are chosen. */
function chosen({ doc, selection: { from, to } }: EditorState) {
  const out: { pos: number; kind: LineKind | null }[] = []
  doc.nodesBetween(from, to, (node, pos) => {
    if (node.type === line) out.push({ pos, kind: node.attrs.kind as LineKind | null })
    return node.type !== line
  })
  return out
}

/** Makes the chosen lines lines of a kind, or plain ones where they all are of it. */
export const toggleLines =
  (kind: LineKind): Command =>
  (state, dispatch) => {
    const lines = chosen(state)
    const to = lines.every(l => l.kind === kind) ? null : kind
    if (dispatch) {
      const tr = state.tr
      for (const { pos } of lines) tr.setNodeAttribute(pos, 'kind', to)
      dispatch(tr.scrollIntoView())
    }
    return true
  }
export const toggleLook = (look: Look): Command => toggleMark(schema.marks[look])

/** Which looks stand where the caret is, or over all that is chosen, and of which kind its lines are. */
export interface At {
  looks: Look[]
  kind: LineKind | null
}
export function whatIsAt(state: EditorState): At {
  const { $from, from, to, empty } = state.selection
  const lines = chosen(state)
  const has = (look: Look) =>
    empty
      ? schema.marks[look].isInSet(state.storedMarks ?? $from.marks()) !== undefined
      : state.doc.rangeHasMark(from, to, schema.marks[look])
  const kind = lines[0]?.kind ?? null
  return {
    looks: (Object.keys(schema.marks) as Look[]).filter(has),
    kind: lines.every(l => l.kind === kind) ? kind : null,
  }
}

/** An empty item of a list ends it; another begins the next of its kind. */
const nextLine: Command = (state, dispatch) => {
  const { $from, $to } = state.selection
  const kind = $from.parent.attrs.kind as LineKind | null
  if (kind && !$from.parent.content.size) {
    dispatch?.(state.tr.setNodeAttribute($from.before(), 'kind', null))
    return true
  }
  dispatch?.(
    state.tr
      .delete($from.pos, $to.pos)
      .split($from.pos, 1, [{ type: line, attrs: { kind } }])
      .scrollIntoView(),
  )
  return true
}

/** At the beginning of a list's line, what is taken back first is that it is one. */
const plainFirst: Command = (state, dispatch) => {
  const { $from, empty } = state.selection
  if (!empty || $from.parentOffset > 0 || !$from.parent.attrs.kind) return false
  dispatch?.(state.tr.setNodeAttribute($from.before(), 'kind', null))
  return true
}

/** The citation that is chosen, with its place. */
export function chosenCitation({ selection }: EditorState) {
  return selection instanceof NodeSelection && selection.node.type === cites
    ? { node: selection.node, pos: selection.from }
    : undefined
}

/** What begins a list as it is typed: a dash, or the first number. */
const begins = (pattern: RegExp, kind: LineKind) =>
  new InputRule(pattern, (state, _match, start, end) =>
    state.doc.resolve(start).parent.attrs.kind
      ? null
      : state.tr.delete(start, end).setNodeAttribute(state.doc.resolve(start).before(), 'kind', kind),
  )

export const writingPlugins = (): Plugin[] => [
  inputRules({ rules: [begins(/^\s?[-–•]\s$/, 'bullet'), begins(/^\s?1[.)]\s$/, 'number')] }),
  history(),
  // where something that is dragged would be put
  dropCursor({ color: 'var(--chakra-colors-vine)', width: 2 }),
  keymap({
    'Mod-i': toggleLook('emphasis'),
    'Mod-b': toggleLook('strong'),
    'Mod-z': undo,
    'Mod-y': redo,
    'Shift-Mod-z': redo,
    Enter: nextLine,
    'Shift-Enter': nextLine,
    Backspace: chainCommands(plainFirst, baseKeymap.Backspace!),
  }),
  keymap(baseKeymap),
]
