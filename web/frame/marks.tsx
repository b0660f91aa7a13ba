import type { Reach } from '../../core/access/reach'
import type { State } from '../../core/sift/decisions'
import { colour as c } from './colour'
const LEAF = 'M2 9 C3 3 9 1 14 2 C15 8 10 14 2 9Z'
const words: Record<State, string> = { unread: 'unread', kept: 'kept', 'set aside': 'set aside', later: 'later' }

/** A work's state: bud, filled leaf, folded leaf, half-filled leaf. Never by colour alone. */
export function LeafMark({ state, size = 16 }: { state: State; size?: number }) {
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 16 16"
      role="img"
      aria-label={words[state]}
      style={{ flex: 'none', display: 'block' }}
    >
      <title>{words[state]}</title>
      {state === 'unread' && <circle cx="8" cy="8" r="3.2" fill="none" stroke={c('line')} strokeWidth="1.5" />}
      {state === 'kept' && (
        <>
          <path d={LEAF} fill={c('vine')} stroke={c('vine')} strokeWidth="1.4" />
          <path d="M3.5 8.6 L12 3.6" stroke={c('surface')} strokeWidth="1" />
        </>
      )}
      {state === 'set aside' && (
        <>
          <path d={LEAF} fill="none" stroke={c('line')} strokeWidth="1.4" />
          <path d="M9.6 1.8 L8.4 11.6" stroke={c('line')} strokeWidth="1.4" />
        </>
      )}
      {state === 'later' && (
        <>
          <path d={LEAF} fill="none" stroke={c('vine')} strokeWidth="1.4" />
          <path d="M2 9 C3 3 9 1 14 2 Z" fill={c('vine')} />
        </>
      )}
    </svg>
  )
}

/** Access to the text as a tendril and a post: wound round it, short of it, in dots where it is
 * unsure, cut; a bare post where nobody looked. */
export function ReachMark({ reach, size = 18 }: { reach: Reach; size?: number }) {
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 18 18"
      role="img"
      aria-label={reach}
      style={{ flex: 'none', display: 'block' }}
      fill="none"
      strokeLinecap="round"
    >
      <title>{reach}</title>
      {reach === 'in hand' && (
        <>
          <path d="M12 1.5 V16.5" stroke={c('vine')} strokeWidth="2.2" />
          <path
            d="M1.5 16 C5 16 7 14.6 8.5 12.4 C10 10.4 16.2 12 16.2 9.2 C16.2 7 8 8.6 8 5.8 C8 3.4 14.6 4.8 16 2.4"
            stroke={c('vine')}
            strokeWidth="1.8"
          />
        </>
      )}
      {reach === 'within reach' && (
        <>
          <path d="M16 1.5 V16.5" stroke={c('line')} strokeWidth="2" />
          <path
            d="M1.5 16 C7 16 5 9.4 9 8 C12.4 6.8 11.6 3.2 9 4.4 C7.8 5 8 6.4 9.2 6.2"
            stroke={c('slate')}
            strokeWidth="1.8"
          />
        </>
      )}
      {reach === 'unsure' && (
        <>
          <path d="M16 1.5 V16.5" stroke={c('line')} strokeWidth="2" />
          <path
            d="M1.5 16 C7 16 5 9.4 9 8 C12.4 6.8 11.6 3.2 9 4.4"
            stroke={c('amber')}
            strokeWidth="1.8"
            strokeDasharray="0.1 3"
          />
        </>
      )}
      {reach === 'out of reach' && (
        <>
          <path d="M15 1.5 V16.5" stroke={c('line')} strokeWidth="2" strokeDasharray="2.6 2.6" />
          <path d="M1.5 16 C3.6 16 5 15 6 13.4" stroke={c('rust')} strokeWidth="1.9" />
          <path d="M4.2 8.6 L9.6 14.4 M9.6 8.6 L8.4 9.8" stroke={c('rust')} strokeWidth="1.7" />
        </>
      )}
      {reach === 'not asked' && <path d="M15 1.5 V16.5" stroke={c('hair')} strokeWidth="2" />}
    </svg>
  )
}
