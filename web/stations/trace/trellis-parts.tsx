import { Button, chakra, Flex, Slider } from '@chakra-ui/react'
import type { ReactNode } from 'react'
import { api } from '../../../core/schema/api'
import { useChange } from '../../api/hooks'
import { useDecide } from '../../frame/decide'
import { useHere } from '../../frame/inquiry-frame'
import { tell, tellError } from '../../frame/parts'
import type { Overview } from './field-desk'
import { colour as c } from '../../frame/colour'

/** Makes strands of the suggested groups, in the student's name. */
export function TakeStrands({ overview }: { overview: Overview }) {
  const { inquiry } = useHere()
  const { strand } = useDecide(inquiry.id)
  const make = useChange(inquiry.id, api.addStrand, (body: { name: string }) => ({ body }))
  const take = async () => {
    try {
      for (const s of overview.suggested) {
        const made = await make.mutateAsync({ name: s.name.slice(0, 80) })
        const works = s.works.flatMap(at => overview.ends[at]!.work ?? [])
        if (works.length) strand(works, made, true)
      }
      tell(`${overview.suggested.length} strands taken. Name them anew and move works in Sift.`)
    } catch (e) {
      tellError(e)
    }
  }
  return (
    <Button size="xs" variant="outline" loading={make.isPending} onClick={() => void take()}>
      Take these strands
    </Button>
  )
}

/** Two ends by which the years are narrowed. */
export function Years({
  span,
  years,
  set,
}: {
  span: { from: number; to: number }
  years: { from: number; to: number }
  set: (z: [number, number] | undefined) => void
}) {
  return (
    <Slider.Root
      ml="116px"
      mr="14px"
      size="sm"
      colorPalette="grape"
      aria-label={['First year shown', 'Last year shown']}
      min={span.from}
      max={span.to}
      minStepsBetweenThumbs={3}
      value={[Math.max(span.from, years.from), Math.min(span.to, years.to)]}
      onValueChange={({ value: [from, to] }) => set(from === span.from && to === span.to ? undefined : [from!, to!])}
    >
      <Slider.Control>
        <Slider.Track h="3px">
          <Slider.Range />
        </Slider.Track>
        <Slider.Thumbs boxSize="14px" />
      </Slider.Control>
    </Slider.Root>
  )
}
/** What the signs of the trellis mean. */
export function Legend({ each, children }: { each: number; children?: ReactNode }) {
  const bud = (stroke: string, dash?: string) => (
    <svg width="12" height="16" viewBox="-6 -8 12 16" aria-hidden="true">
      <path
        d="M0 -7 C4.6 -3.4 4.6 3.4 0 7 C-4.6 3.4 -4.6 -3.4 0 -7Z"
        fill="none"
        stroke={c(stroke)}
        strokeWidth="1.8"
        strokeDasharray={dash}
      />
    </svg>
  )
  return (
    <Flex gap="6px 16px" wrap="wrap" fontSize="12px" lineHeight="16px" color="soft" pl="116px" mt="4px" align="center">
      {(
        [
          [
            'kept',
            <svg key="k" width="14" height="12" viewBox="0 0 16 12" aria-hidden="true">
              <path d="M2 9 C3 3 9 1 14 2 C15 8 10 14 2 9Z" fill={c('vine')} />
            </svg>,
          ],
          ['it refers to', bud('grape')],
          ['cites it', bud('vine')],
          ['you lack it', bud('grape', '2.4 1.8')],
          [
            each === 1 ? 'a stroke: a work outside your pool' : `a stroke: up to ${each} works outside your pool`,
            <svg key="s" width="10" height="12" aria-hidden="true">
              <path d="M1 3 h7 M1 7 h7" stroke={c('line')} strokeWidth="1.5" />
            </svg>,
          ],
          [
            'main path',
            <svg key="m" width="20" height="8" aria-hidden="true">
              <path d="M1 4 h18" stroke={c('line')} strokeWidth="4" strokeLinecap="round" opacity=".55" />
            </svg>,
          ],
        ] as const
      ).map(([name, mark]) => (
        <chakra.span key={name} display="inline-flex" alignItems="center" gap="5px">
          {mark} {name}
        </chakra.span>
      ))}
      {children}
    </Flex>
  )
}
