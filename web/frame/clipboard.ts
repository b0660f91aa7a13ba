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
