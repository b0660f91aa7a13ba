import { useLayoutEffect, useMemo, useSyncExternalStore } from 'react'

export type Action =
  | 'keep'
  | 'aside'
  | 'later'
  | 'undo'
  | 'list'
  | 'next'
  | 'previous'
  | 'open'
  | 'lead'
  | 'isIt'
  | 'isNot'
  | 'parts'
  | 'find'
  | 'quote'
  | 'meet'
  | 'finding'
  | 'larger'
  | 'smaller'
  | 'fit'
  | 'help'

export const actions: { action: Action; said: string; first: string }[] = [
  { action: 'keep', said: 'Keep the work', first: 'j' },
  { action: 'aside', said: 'Set the work aside', first: 'f' },
  { action: 'later', said: 'Leave the work for later', first: ' ' },
  { action: 'undo', said: 'Undo the last decision', first: 'u' },
  { action: 'list', said: 'All as a list, or one at a time', first: 'g' },
  { action: 'next', said: 'Next work', first: 'ArrowDown' },
  { action: 'previous', said: 'Work before', first: 'ArrowUp' },
  { action: 'open', said: 'Open the work sheet', first: 'Enter' },
  { action: 'lead', said: 'Look for what the work leads to', first: 'l' },
  { action: 'isIt', said: 'A doubtful copy: it is the work', first: 'y' },
  { action: 'isNot', said: 'A doubtful copy: it is not the work', first: 'n' },
  { action: 'parts', said: 'What is in a copy: headings and references', first: 'c' },
  { action: 'find', said: 'Look for words in the text that is open', first: '/' },
  { action: 'quote', said: 'Keep the chosen words as quoted', first: 'q' },
  { action: 'meet', said: 'Next place where the concepts of the question meet', first: 'm' },
  { action: 'finding', said: 'Next finding of the bibliography', first: 'd' },
  { action: 'larger', said: 'Larger pages', first: '+' },
  { action: 'smaller', said: 'Smaller pages', first: '-' },
  { action: 'fit', said: 'Pages as wide as their room', first: '0' },
  { action: 'help', said: 'Show the keys', first: '?' },
]

const STORE = 'vine-keys'

/** The keys as the student has set them, else as they come. */
export const keyMap = (): Record<Action, string> => read(localStorage.getItem(STORE))
function read(set: string | null): Record<Action, string> {
  let own: Partial<Record<Action, string>> = {}
  try {
    own = JSON.parse(set ?? '{}') as typeof own
  } catch {
    // a broken setting is no setting
  }
  return Object.fromEntries(actions.map(a => [a.action, own[a.action] ?? a.first])) as Record<Action, string>
}
/** The keys as they are set now, drawn anew when they are changed. */
export function useKeyMap(): Record<Action, string> {
  const set = useSyncExternalStore(
    told => {
      window.addEventListener('vine-keys', told)
      return () => window.removeEventListener('vine-keys', told)
    },
    () => localStorage.getItem(STORE),
  )
  return useMemo(() => read(set), [set])
}
export function setKey(action: Action, key: string): void {
  localStorage.setItem(STORE, JSON.stringify({ ...keyMap(), [action]: key }))
  window.dispatchEvent(new Event('vine-keys'))
}
export function resetKeys(): void {
  localStorage.removeItem(STORE)
  window.dispatchEvent(new Event('vine-keys'))
}

export const keyName = (key: string): string =>
  ({ ' ': 'Space', ArrowDown: '↓', ArrowUp: '↑', Enter: '↵' })[key] ?? key.toUpperCase()

/** Calls what belongs to a key, unless someone is typing. */
export function useKeys(on: Partial<Record<Action, () => void>>, enabled = true): void {
  // with what is shown, not a moment after it: a key pressed as soon as a work is there is meant for that work
  useLayoutEffect(() => {
    if (!enabled) return
    const pressed = (e: KeyboardEvent) => {
      if (e.ctrlKey || e.metaKey || e.altKey || e.defaultPrevented) return
      const target = e.target as HTMLElement
      if (/^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName) || target.isContentEditable) return
      // a button in focus keeps its own Space and Enter
      if (target.tagName === 'BUTTON' && (e.key === ' ' || e.key === 'Enter')) return
      const map = keyMap()
      const hit = actions.find(a => map[a.action].toLowerCase() === e.key.toLowerCase() && on[a.action])
      if (!hit) return
      e.preventDefault()
      on[hit.action]!()
    }
    window.addEventListener('keydown', pressed)
    return () => window.removeEventListener('keydown', pressed)
  })
}
