import { tell, tellError } from './parts'

/**
 * Puts a text where it can be pasted, and says so, or why it could not. Over http a browser gives a page no clipboard: the
 * older way is taken then.
 * @returns whether it is there
 */
export async function copyText(text: string, said: string): Promise<boolean> {
  try {
    const clipboard = navigator.clipboard as Clipboard | undefined
    if (clipboard) await clipboard.writeText(text)
    else if (!copyBySelecting(text)) throw new Error()
    tell(said)
    return true
  } catch {
    tellError(new Error('The browser does not let this page copy. Select the words and copy them by hand.'))
    return false
  }
}

/**
 * Puts a page where it can be pasted with its looks, and its letters alone where only these are taken.
 * @param html of which the main part is taken; it has no script
 */
export async function copyRich(html: string, text: string, said: string): Promise<void> {
  const main = new DOMParser().parseFromString(html, 'text/html').querySelector('main')
  try {
    const clipboard = navigator.clipboard as Clipboard | undefined
    if (clipboard && 'ClipboardItem' in window) {
      const as = (type: string, whole: string) => new Blob([whole], { type })
      const types = { 'text/html': as('text/html', main?.outerHTML ?? html), 'text/plain': as('text/plain', text) }
      await clipboard.write([new ClipboardItem(types)])
    } else if (!main || !copyNode(document.importNode(main, true))) throw new Error()
    tell(said)
  } catch {
    tellError(new Error('The browser does not let this page copy. Take a file instead.'))
  }
}

/** The older way, which keeps the looks of what is selected. */
function copyNode(node: HTMLElement): boolean {
  node.style.position = 'fixed'
  node.style.opacity = '0'
  document.body.append(node)
  const chosen = getSelection()
  const range = document.createRange()
  range.selectNodeContents(node)
  chosen?.removeAllRanges()
  chosen?.addRange(range)
  const done = document.execCommand('copy')
  chosen?.removeAllRanges()
  node.remove()
  return done
}

function copyBySelecting(text: string): boolean {
  const box = document.createElement('textarea')
  const before = document.activeElement
  box.value = text
  box.style.position = 'fixed'
  box.style.opacity = '0'
  document.body.append(box)
  box.select()
  const done = document.execCommand('copy')
  box.remove()
  if (before instanceof HTMLElement) before.focus()
  return done
}
