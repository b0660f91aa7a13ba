import { createHash } from 'node:crypto'

/** SHA-256 of a text, in hexadecimal digits. */
export const hashOf = (text: string): string => createHash('sha256').update(text).digest('hex')
