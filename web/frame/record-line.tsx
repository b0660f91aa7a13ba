import { memo, type ReactNode } from 'react'
import type { Reach } from '../../core/access/reach'
import type { QueryNode } from '../../core/query/cql'
import type { State } from '../../core/sift/decisions'
import { LeafMark, ReachMark } from './marks'
import { Marked } from './rich'

export interface RecordLineProps {
  title: string
  authors: string
  container: string
  year: number | null
  pages?: number | null
  kind: string
  confidence: number
  /** The kind is the student's word. */
  ownKind?: boolean
  perYear: number | null
  citedBy?: number | null
  state: State
  reach?: Reach | undefined
  query?: QueryNode | undefined
  /** Before the leaf mark: a box to choose by. */
  choose?: ReactNode
  /** In place of the citations: where it was found. */
  aside?: ReactNode
  /** After the sources: why it was set aside. */
  note?: ReactNode
  /** Under the sources: the abstract. */
  below?: ReactNode
  current?: boolean
  onOpen?: (() => void) | undefined
}

const voiceOf = (kind: string): string =>
  kind === 'research article' || kind === 'literature review' ? 'slate' : kind === 'unknown' ? 'rust' : 'amber'

/** From here on a number says nothing more. */
const CERTAIN = 0.9
/** How sure a kind is, where that says something: the student's word needs no number, nor does what is plain. */
export const sureness = (kind: string, confidence: number, own = false): string =>
  own
    ? 'as you say'
    : kind === 'unknown'
      ? 'too little to tell'
      : confidence >= CERTAIN
        ? ''
        : `${Math.round(confidence * 100)}% sure`

/**
 * A record, the same everywhere: state, title, source, year, length, kind with its confidence, citations a year, reach. Of plain
 * elements that the theme gives their look, since a list draws hundreds of them while it is scrolled.
 */
export const RecordLine = memo(function RecordLine(p: RecordLineProps) {
  const pages = p.pages ? `${p.pages} ${p.pages === 1 ? 'page' : 'pages'}` : ''
  // year and length are columns where there is room for them, else they stand behind the source
  const source = [p.authors, p.container].filter(Boolean).join(' · ')
  return (
    <div className="line" data-current={p.current || undefined} data-opens={p.onOpen ? true : undefined}>
      {p.choose}
      <div className="line-mark">
        <LeafMark state={p.state} />
      </div>
      <div className="line-main">
        <button
          type="button"
          className="line-title"
          title={p.title.length > 200 ? p.title : undefined}
          dir="auto"
          onClick={p.onOpen}
        >
          <Marked text={p.title} query={p.query} />
        </button>
        <p className="line-source" title={source}>
          {source || 'no source given'}
          {p.year && <span className="line-more"> · {p.year}</span>}
          {pages && <span className={p.aside ? undefined : 'line-more'}> · {pages}</span>}
          {p.note}
        </p>
        {p.below}
      </div>
      <div className="line-year">{p.year}</div>
      {!p.aside && <div className="line-pages">{pages}</div>}
      <div className="line-kind">
        <span data-voice={voiceOf(p.kind)}>{p.kind}</span>
        <p>{sureness(p.kind, p.confidence, p.ownKind)}</p>
      </div>
      <div className="line-aside">
        {p.aside ??
          (p.perYear !== null ? `${p.perYear.toFixed(1)} a year` : p.citedBy != null ? 'too new to tell' : '')}
      </div>
      <div className="line-reach">{p.reach && <ReachMark reach={p.reach} />}</div>
    </div>
  )
})

/** A box to choose a line by: the browser's own, as there are many of them. */
export function LineTick({
  label,
  checked,
  disabled,
  set,
}: {
  label: string
  checked: boolean
  disabled?: boolean
  set: (on: boolean) => void
}) {
  return (
    <input
      type="checkbox"
      className="line-tick"
      aria-label={label}
      checked={checked}
      disabled={disabled}
      onChange={e => set(e.target.checked)}
    />
  )
}
