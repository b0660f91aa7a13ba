import type { ReactNode } from 'react'
import type { RichRun } from '../../core/cite/rich-text'
import type { QueryNode } from '../../core/query/cql'
import { matchSpans } from '../../core/query/spans'

/** Formatted runs as elements; nothing of a record is ever markup. */
export function Rich({ runs }: { runs: readonly RichRun[] }) {
  return (
    <>
      {runs.map((r, i) => {
        let node: ReactNode = r.text
        if (r.raised === 'super') node = <sup>{node}</sup>
        if (r.raised === 'sub') node = <sub>{node}</sub>
        if (r.smallCaps) node = <span style={{ fontVariant: 'small-caps' }}>{node}</span>
        if (r.italic) node = <i>{node}</i>
        if (r.bold) node = <b>{node}</b>
        if (r.link)
          node = (
            <a href={r.link} target="_blank" rel="noreferrer noopener" style={{ overflowWrap: 'anywhere' }}>
              {node}
            </a>
          )
        return <span key={i}>{node}</span>
      })}
    </>
  )
}

/** A text with the query's terms marked, each clause in one of three tints. */
export function Marked({ text, query }: { text: string; query?: QueryNode | undefined }) {
  if (!query) return <>{text}</>
  const out: ReactNode[] = []
  let at = 0
  for (const s of matchSpans(query, text)) {
    if (s.start > at) out.push(text.slice(at, s.start))
    out.push(
      <mark key={s.start} data-tint={s.concept % 3}>
        {text.slice(s.start, s.end)}
      </mark>,
    )
    at = s.end
  }
  out.push(text.slice(at))
  return <>{out}</>
}
