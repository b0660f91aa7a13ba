import { PDFDocument } from 'pdf-lib'
import { cleanText } from '../../core/bib/clean'

/** Writes into a PDF who made it and what it is called, and that its title stands in the window: all else stays. */
export async function namePdf(bytes: Uint8Array, title: string, author: string): Promise<Uint8Array> {
  const doc = await PDFDocument.load(bytes, { updateMetadata: false })
  doc.setTitle(cleanText(title), { showInWindowTitleBar: true })
  if (author) doc.setAuthor(cleanText(author))
  doc.setCreator('Vine Path')
  return doc.save({ updateFieldAppearances: false })
}
