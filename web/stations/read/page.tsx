import { Box, Flex, Stack, Text } from '@chakra-ui/react'
import * as pdfjs from 'pdfjs-dist'
import { useEffect, useRef, useState } from 'react'
import type { QueryNode } from '../../../core/query/cql'
import type { Copy, Passage } from '../../../core/schema/api'
import { useFoundOn } from './found-on-page'
import { Elsewhere, NewPassage, PassageCard, type Chosen, type PassageElsewhere } from './passages'

/** How large a page of some width is drawn, so that what is noted has its room beside it. */
const scaleFor = (width: number): number =>
  Math.min(1.4, Math.max(0.55, (Math.min(window.innerWidth, 1320) - (window.innerWidth > 900 ? 480 : 16)) / width))

/** A page as it is drawn, with its words to be selected, and what is noted of it. */
export function Page({
  doc,
  number,
  label,
  passages,
  elsewhere,
  draft,
  clear,
  copy,
  mayWrite,
  alone,
  usual,
  found,
}: {
  doc: pdfjs.PDFDocumentProxy
  number: number
  label: string
  passages: Passage[]
  /** Passages of other versions whose words stand on it. */
  elsewhere: PassageElsewhere[]
  draft: Chosen | undefined
  clear: () => void
  copy: Copy
  mayWrite: boolean
  /** Without what is noted of it. */
  alone: boolean
  /** Size of a page of this text in points, until its own is known. */
  usual: { width: number; height: number }
  /** What was looked for, to be marked on it. */
  found: QueryNode | undefined
}) {
  const holder = useRef<HTMLDivElement>(null)
  const canvas = useRef<HTMLCanvasElement>(null)
  const layer = useRef<HTMLDivElement>(null)
  const [near, setNear] = useState(number <= 2)
  const [words, setWords] = useState<HTMLDivElement>()
  useFoundOn(words, found)
  const [size, setSize] = useState<{ width: number; height: number; scale: number }>()
  useEffect(() => {
    const watch = new IntersectionObserver(e => e.some(x => x.isIntersecting) && setNear(true), { rootMargin: '800px' })
    if (holder.current) watch.observe(holder.current)
    return () => watch.disconnect()
  }, [])
  useEffect(() => {
    let gone = false
    let drawing: pdfjs.RenderTask | undefined
    let text: pdfjs.TextLayer | undefined
    void (async () => {
      const page = await doc.getPage(number)
      if (gone) return
      const plain = page.getViewport({ scale: 1 })
      const scale = scaleFor(plain.width)
      const viewport = page.getViewport({ scale })
      setSize({ width: viewport.width, height: viewport.height, scale })
      if (!near || !canvas.current || !layer.current) return
      const ratio = window.devicePixelRatio || 1
      canvas.current.width = viewport.width * ratio
      canvas.current.height = viewport.height * ratio
      drawing = page.render({ canvas: canvas.current, viewport: page.getViewport({ scale: scale * ratio }) })
      layer.current.replaceChildren()
      text = new pdfjs.TextLayer({ textContentSource: page.streamTextContent(), container: layer.current, viewport })
      await Promise.all([drawing.promise, text.render()]).then(
        () => gone || setWords(layer.current ?? undefined),
        () => undefined,
      )
    })()
    return () => {
      gone = true
      drawing?.cancel()
      text?.cancel()
    }
  }, [doc, number, near])
  return (
    <Flex gap="16px" mb="16px" maxW="1180px" mx="auto" direction={{ base: 'column', md: 'row' }}>
      <Box
        ref={holder}
        position="relative"
        bg="white"
        boxShadow="0 1px 3px rgba(31,36,48,.18)"
        flex="none"
        style={{
          width: size?.width ?? usual.width * scaleFor(usual.width),
          height: size?.height ?? usual.height * scaleFor(usual.width),
          ['--scale-factor' as string]: size?.scale ?? 1,
          ['--total-scale-factor' as string]: size?.scale ?? 1,
        }}
        data-page={number}
      >
        <canvas ref={canvas} style={{ width: '100%', height: '100%', display: 'block' }} />
        <div ref={layer} className="textLayer" />
      </Box>
      <Box
        flex="1"
        minW="0"
        fontSize="13.5px"
        lineHeight="19px"
        position="relative"
        display={alone ? 'none' : undefined}
      >
        <Text fontSize="12.5px" color="soft" mb="8px">
          page {label}
          {label !== String(number) && ` · ${number} of the file`}
        </Text>
        <Stack gap="10px">
          {passages.map(p => (
            <PassageCard key={p.ownId ?? p.id} passage={p} mayWrite={mayWrite && p.id > 0} />
          ))}
          {elsewhere.map(e => (
            <Elsewhere key={e.passage.id} copy={copy} told={e} mayWrite={mayWrite} />
          ))}
          {mayWrite && (draft || number === 1) && (
            <NewPassage
              key={draft?.text ?? 'own'}
              copy={copy}
              page={number}
              label={label}
              draft={draft}
              clear={clear}
            />
          )}
        </Stack>
      </Box>
    </Flex>
  )
}
