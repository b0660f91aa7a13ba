import { chakra } from '@chakra-ui/react'
import { memo, useEffect, useRef, useState } from 'react'
import type { Choice, State } from '../../../core/sift/decisions'
import { useKeyMap, keyName } from '../../frame/keys'
import { Kbd } from '../../frame/parts'
import { colour as c } from '../../frame/colour'
const STEP = 21
/** Where the stem stands. */
const cx = 112
const LEAF = 'M2 9 C3 3 9 1 14 2 C15 8 10 14 2 9Z'

/**
 * The queue as a vine: kept works grow as leaves to the right, set-aside ones to the left, later ones stay buds on the
 * stem; at the work being read three branches leave it, each with its word and key.
 */
export function Vine({
  decided,
  unread,
  choose,
  active,
}: {
  decided: State[]
  unread: number
  choose: (c: Choice) => void
  active: boolean
}) {
  const box = useRef<HTMLDivElement>(null)
  const [height, setHeight] = useState(716)
  useEffect(() => {
    const watch = new ResizeObserver(([e]) => setHeight(Math.max(360, Math.round(e!.contentRect.height))))
    if (box.current) watch.observe(box.current)
    return () => watch.disconnect()
  }, [])
  const by = Math.round(height * 0.42)
  const shown = decided.slice(-Math.max(1, Math.floor((by - 70) / STEP)))
  const buds = Math.min(unread, Math.max(0, Math.floor((height - by - 76) / 22)))
  const stem = (from: number, to: number, sway: number) =>
    `M${cx} ${from} C${cx - sway} ${from + (to - from) / 3} ${cx + sway} ${from + ((to - from) * 2) / 3} ${cx} ${to}`
  return (
    <div ref={box} style={{ position: 'relative', height: '100%', minHeight: 420 }}>
      <svg width="256" height={height} style={{ position: 'absolute', inset: 0 }} aria-hidden="true">
        <path d={stem(0, by, 6)} stroke={c('vine')} strokeWidth="3" fill="none" />
        <path d={stem(by, height, 5)} stroke={c('hair')} strokeWidth="2.6" fill="none" />
        {shown.map((state, i) => {
          const y = by - 46 - (shown.length - 1 - i) * STEP
          if (state === 'later' || state === 'unread') {
            return (
              <g key={i}>
                <circle cx={cx} cy={y} r="4.6" fill={c('paper')} stroke={c('vine')} strokeWidth="1.6" />
                {state === 'later' && (
                  <path d={`M${cx - 4.6} ${y} A4.6 4.6 0 0 1 ${cx + 4.6} ${y}Z`} fill={c('vine')} />
                )}
              </g>
            )
          }
          const kept = state === 'kept'
          return (
            <g
              key={i}
              transform={
                kept
                  ? `translate(${cx + 2},${y - 9}) rotate(-14)`
                  : `translate(${cx - 2},${y - 9}) scale(-1,1) rotate(-14)`
              }
            >
              <path
                d={LEAF}
                transform="scale(1.15)"
                fill={kept ? c('vine') : c('paper')}
                stroke={kept ? c('vine') : c('line')}
                strokeWidth="1.3"
              />
              {!kept && <path d="M10.6 2.6 L9.6 12.6" stroke={c('line')} strokeWidth="1.2" />}
            </g>
          )
        })}
        {active && (
          <>
            <path
              d={`M${cx} ${by} C${cx + 18} ${by} ${cx + 16} ${by - 24} ${cx + 30} ${by - 24}`}
              stroke={c('vine')}
              strokeWidth="2.4"
              fill="none"
            />
            <path
              d={`M${cx} ${by} C${cx - 8} ${by} ${cx - 4} ${by - 24} ${cx - 12} ${by - 24}`}
              stroke={c('line')}
              strokeWidth="2.4"
              fill="none"
            />
            <path
              d={`M${cx} ${by} C${cx + 14} ${by + 6} ${cx + 16} ${by + 24} ${cx + 30} ${by + 24}`}
              stroke={c('vine')}
              strokeWidth="2"
              strokeDasharray="4 3"
              fill="none"
            />
            <circle cx={cx} cy={by} r="7" fill={c('surface')} stroke={c('vine')} strokeWidth="3" />
          </>
        )}
        {Array.from({ length: buds }, (_, i) => (
          <circle
            key={i}
            cx={cx}
            cy={by + 62 + i * 22}
            r={Math.max(2.2, 4 - i * 0.12)}
            fill={c('paper')}
            stroke={c('line')}
            strokeWidth="1.4"
            opacity={Math.max(0.2, 1 - i * 0.05)}
          />
        ))}
      </svg>
      {shown.length > 0 && (
        <>
          <Label left={`${cx - 92}px`} top="14px">
            set aside
          </Label>
          <Label left={`${cx + 34}px`} top="14px">
            kept
          </Label>
        </>
      )}
      {active && <Branches top={by} choose={choose} />}
      <Label left={`${cx + 18}px`} top={`${by + 56}px`}>
        {unread.toLocaleString('en')} more unread
      </Label>
    </div>
  )
}

/** What leaves the stem at the work that is read: three ways to decide, each with its word and key. */
const Branches = memo(function Branches({ top, choose }: { top: number; choose: (c: Choice) => void }) {
  const map = useKeyMap()
  return (
    <>
      <Branch
        left="4px"
        top={`${top - 39}px`}
        width={`${cx - 16}px`}
        onClick={() => choose('set aside')}
        word="Set aside"
        k={keyName(map.aside)}
      />
      <Branch
        left={`${cx + 30}px`}
        top={`${top - 39}px`}
        width="86px"
        onClick={() => choose('keep')}
        word="Keep"
        k={keyName(map.keep)}
        main
      />
      <Branch
        left={`${cx + 30}px`}
        top={`${top + 9}px`}
        width="108px"
        onClick={() => choose('later')}
        word="Later"
        k={keyName(map.later)}
      />
    </>
  )
})

function Label({ left, top, children }: { left: string; top: string; children: React.ReactNode }) {
  return (
    <div className="vine-label" style={{ left, top }}>
      {children}
    </div>
  )
}

function Branch({
  left,
  top,
  width,
  word,
  k,
  main,
  onClick,
}: {
  left: string
  top: string
  width: string
  word: string
  k: string
  main?: boolean
  onClick: () => void
}) {
  return (
    <chakra.button
      type="button"
      onClick={onClick}
      position="absolute"
      left={left}
      top={top}
      w={width}
      h="30px"
      px="8px"
      display="flex"
      alignItems="center"
      justifyContent="space-between"
      gap="4px"
      borderRadius="md"
      border="1px solid"
      borderColor={main ? 'vine.solid' : 'hair'}
      bg={main ? 'vine.solid' : 'surface'}
      color={main ? 'white' : 'ink'}
      fontWeight="600"
      fontSize="13px"
      whiteSpace="nowrap"
      cursor="pointer"
      _hover={{ borderColor: 'vine' }}
    >
      {word}
      <Kbd>{k}</Kbd>
    </chakra.button>
  )
}
