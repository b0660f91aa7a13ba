import { tasks } from '../../server/child/tasks'

/** The text of a PDF as the product reads it: lines in reading order, and the printed page numbers. */
export const readBlocks = (bytes: Uint8Array) => tasks.pdf(Buffer.from(bytes))
