import { Box, Textarea } from '@chakra-ui/react'
import { Fragment, type Ref } from 'react'
import type { WordingFinding } from '../../../core/write/quotations'

/** The annotation as it is written, with what was found of its wording marked beneath the words. */
export function Annotation({
  text,
  findings,
  isOpen,
  mayWrite,
  area,
  write,
  opened,
  toReading,
}: {
  text: string
  findings: readonly WordingFinding[]
  isOpen: boolean
  mayWrite: boolean
  area: Ref<HTMLTextAreaElement>
  write: (text: string) => void
  opened: () => void
  toReading: () => void
}) {
  return (
    <Box position="relative" mx="-6px" className="annotation" data-open={isOpen || undefined}>
      <div aria-hidden="true" className="annotation-marks">
        {pieces(text, findings)}
      </div>
      <Textarea
        ref={area}
        aria-label="Annotation"
        variant="flushed"
        bg="transparent"
        border="1px solid transparent"
        borderRadius="3px"
        _hover={{ borderColor: 'hair' }}
        _focus={{ borderColor: 'vine' }}
        fontFamily="serif"
        fontSize="16px"
        lineHeight="25px"
        p="4px 6px"
        minH="35px"
        position="relative"
        autoresize
        rows={1}
        readOnly={!mayWrite}
        placeholder="Write your annotation here"
        maxLength={50_000}
        value={text}
        onFocus={opened}
        onKeyDown={e => {
          if (!e.altKey || e.ctrlKey || e.metaKey || e.code !== 'KeyP') return
          e.preventDefault()
          toReading()
        }}
        onChange={e => write(e.target.value)}
      />
    </Box>
  )
}

/** The text cut where something was found: a run is marked word by word, a quotation whole. */
function pieces(text: string, findings: readonly WordingFinding[]) {
  const marks = findings
    .flatMap(f =>
      (f.what === 'close' ? f.run.marks : [f]).map(m => ({ from: m.from, to: m.to, key: f.key, what: f.what })),
    )
    .filter(m => m.to <= text.length)
    .sort((a, b) => a.from - b.from)
  let at = 0
  const out = marks.flatMap((m, i) => {
    if (m.from < at) return []
    const before = text.slice(at, m.from)
    at = m.to
    return [
      <Fragment key={i}>
        {before}
        <span data-tied={m.key} data-what={m.what}>
          {text.slice(m.from, m.to)}
        </span>
      </Fragment>,
    ]
  })
  return [...out, <Fragment key="rest">{text.slice(at)}&#8203;</Fragment>]
}
