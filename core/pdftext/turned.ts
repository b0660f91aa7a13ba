import type { PageBox } from './anchor'

type Box = Omit<PageBox, 'page'>
/** Quarter turns of a page to the right, in degrees. */
export type Turn = 0 | 90 | 180 | 270

/**
 * A box of a page as it lies when the page is turned.
 * @param size of the page as it stands unturned, in points
 */
export function turned<B extends Box>(box: B, turn: Turn, size: { width: number; height: number }): B {
  const { x, y, width, height } = box
  const across = { width: height, height: width }
  switch (turn) {
    case 90:
      return { ...box, ...across, x: size.height - y - height, y: x }
    case 180:
      return { ...box, x: size.width - x - width, y: size.height - y - height }
    case 270:
      return { ...box, ...across, x: y, y: size.width - x - width }
    default:
      return box
  }
}

/** The box that lies so when its page is turned, as it stands unturned. */
export const unturned = <B extends Box>(box: B, turn: Turn, size: { width: number; height: number }): B =>
  turned(box, ((360 - turn) % 360) as Turn, turn % 180 ? { width: size.height, height: size.width } : size)

/** Boxes of words beside each other on a line, as one a line: a selection comes in as many pieces as the file has. */
export function linesOf(boxes: readonly PageBox[]): PageBox[] {
  const lines: PageBox[] = []
  for (const b of boxes) {
    const last = lines.at(-1)
    const middle = b.y + b.height / 2
    const isBeside =
      last?.page === b.page &&
      middle > last.y &&
      middle < last.y + last.height &&
      b.x < last.x + last.width + b.height * 2 &&
      b.x + b.width > last.x - b.height
    if (!isBeside) lines.push({ ...b })
    else {
      const [right, foot] = [
        Math.max(last.x + last.width, b.x + b.width),
        Math.max(last.y + last.height, b.y + b.height),
      ]
      last.x = Math.min(last.x, b.x)
      last.y = Math.min(last.y, b.y)
      last.width = right - last.x
      last.height = foot - last.y
    }
  }
  return lines
}
