import { Link } from 'react-router'
import { pagesNamed } from '../../../core/write/sheet-of-reading'
import { useHere } from '../../frame/inquiry-frame'
import type { SheetOf } from './use-notes'

/** A note whose pages lead to them, where its copy has pages of these names. */
export function NoteText({ text, copy }: { text: string; copy: SheetOf['copy'] }) {
  const { inquiry } = useHere()
  const named = copy ? pagesNamed(text).filter(p => copy.labels.includes(p.label)) : []
  const parts = named.map((p, i) => (
    <span key={p.start}>
      {text.slice(named[i - 1]?.end ?? 0, p.start)}
      <Link
        className="plain-link"
        to={`/inquiries/${inquiry.id}/read/${copy!.id}?page=${copy!.labels.indexOf(p.label) + 1}`}
        onClick={e => e.stopPropagation()}
      >
        {text.slice(p.start, p.end)}
      </Link>
    </span>
  ))
  return (
    <span className="note-text">
      {parts}
      {text.slice(named.at(-1)?.end ?? 0)}
    </span>
  )
}
