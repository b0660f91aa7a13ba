import { createHash } from 'node:crypto'

/** SHA-256 of a text or of bytes, in hexadecimal digits. */
export const hashOf = (of: string | Uint8Array): string => createHash('sha256').update(of).digest('hex')
