import { Fragment, type ReactNode } from 'react'
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
        if (r.underlined) node = <u>{node}</u>
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

/**
 * A text with the query's terms marked, each concept in one of three tints.
 * @param found what was looked for beside it, told apart by weight
 */
export function Marked({
  text,
  query,
  found,
}: {
  text: string
  query?: QueryNode | undefined
  found?: QueryNode | undefined
}) {
  const tinted = query ? matchSpans(query, text) : []
  const sought = found ? matchSpans(found, text) : []
  const edges = [...new Set([0, text.length, ...[...tinted, ...sought].flatMap(s => [s.start, s.end])])]
  edges.sort((a, b) => a - b)
  return (
    <>
      {edges.slice(1).map((to, i) => {
        const from = edges[i]!
        const at = (s: { start: number; end: number }) => s.start <= from && s.end >= to
        const tint = tinted.find(at)
        const piece = text.slice(from, to)
        const node = sought.some(at) ? <b className="found">{piece}</b> : piece
        return tint ? (
          <mark key={from} data-tint={tint.concept % 3}>
            {node}
          </mark>
        ) : (
          <Fragment key={from}>{node}</Fragment>
        )
      })}
    </>
  )
}
