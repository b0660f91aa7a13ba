import { TextDecoder, TextEncoder } from 'node:util'
import { randomUUID } from 'node:crypto'

/** What browsers have and jsdom lacks. */
if (typeof window !== 'undefined') {
  const nothing = () => undefined
  globalThis.TextEncoder ??= TextEncoder
  globalThis.TextDecoder ??= TextDecoder
  globalThis.structuredClone ??= v => JSON.parse(JSON.stringify(v))
  globalThis.ResizeObserver ??= class {
    observe() {}
    unobserve() {}
    disconnect() {}
  }
  window.PointerEvent ??= class extends MouseEvent {}
  globalThis.crypto.randomUUID ??= randomUUID
  window.matchMedia ??= media => ({
    media,
    matches: false,
    addEventListener: nothing,
    removeEventListener: nothing,
    addListener: nothing,
    removeListener: nothing,
  })
}
