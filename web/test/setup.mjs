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
  window.Element.prototype.scrollIntoView ??= nothing
  // nothing is drawn: to go through all rules of style for each part of each name takes a fifth of the time
  window.getComputedStyle = element => element.style
  // nothing has a place on a page that is not drawn
  window.Range.prototype.getClientRects ??= () => []
  document.elementFromPoint ??= () => null
  window.Range.prototype.getBoundingClientRect ??= () => new DOMRect()
  window.File.prototype.arrayBuffer ??= function () {
    return new Promise(done => {
      const reader = new FileReader()
      reader.onload = () => done(reader.result)
      reader.readAsArrayBuffer(this)
    })
  }
  await import('fake-indexeddb/auto')
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

  const { configure } = await import('@testing-library/dom')
  configure({
    // a machine that is busy with other tests draws late: a limit that only what never comes meets
    asyncUtilTimeout: 120_000,
    // whether something is hidden is for the browser tests: asking for it here takes most of the time
    defaultHidden: true,
    // the name of what was not found says enough, without the whole page
    getElementError: message => new Error(message ?? 'not found'),
  })
}
