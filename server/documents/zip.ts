import { createHash } from 'node:crypto'
import { Readable } from 'node:stream'
import { ZipFile } from 'yazl'

export interface Zipped {
  /** With its folders, parted by slashes. */
  name: string
  /** A text, bytes, or what gives them when it is their turn. */
  body: string | Buffer | (() => AsyncIterable<Buffer>)
}

/** What is packed already is not packed again. */
const PACKED = /\.(?:pdf|docx|zip)$/

/**
 * An archive that is written while it is sent: no file of it is held as a whole. With `sums` a list of the checksums of all
 * files comes last, as `sha256sum --check` reads it. The stream is destroyed where a file cannot be read to its end.
 */
export function zipStream(files: readonly Zipped[], sums?: string): Readable {
  const archive = new ZipFile()
  const out = archive.outputStream as Readable
  const given = (from: AsyncIterable<Buffer> | Buffer[]) => Readable.from(from).on('error', e => out.destroy(e))
  const lines: string[] = []
  /** The bytes of a file, summed on their way. */
  async function* summed({ name, body }: Zipped) {
    const hash = createHash('sha256')
    for await (const part of typeof body === 'function' ? body() : [Buffer.from(body)]) {
      hash.update(part)
      yield part
    }
    lines.push(`${hash.digest('hex')}  ${name}\n`)
  }
  for (const file of files)
    archive.addReadStreamLazy(file.name, { compress: !PACKED.test(file.name) }, give => give(null, given(summed(file))))
  // asked for when all before it were written
  if (sums) archive.addReadStreamLazy(sums, give => give(null, given([Buffer.from(lines.join(''))])))
  archive.end()
  return out
}

export async function zip(files: readonly Zipped[]): Promise<Buffer> {
  const parts: Buffer[] = []
  for await (const part of zipStream(files)) parts.push(part as Buffer)
  return Buffer.concat(parts)
}
