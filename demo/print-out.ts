import { PDFDocument, rgb, StandardFonts } from 'pdf-lib'

/** A page printed from a platform: title, place and abstract of an article whose text is for subscribers. */
export async function printOut(title: string, place: string, abstract: string): Promise<Uint8Array> {
  const doc = await PDFDocument.create()
  const page = doc.addPage([595, 842])
  const roman = await doc.embedFont(StandardFonts.Helvetica)
  const bold = await doc.embedFont(StandardFonts.HelveticaBold)
  const draw = (text: string, y: number, size: number, font = roman) =>
    page.drawText(text.replace(/[^\u0020-\u00ff]/g, '-'), {
      ...{ x: 60, y, size, font, maxWidth: 470, lineHeight: size * 1.35 },
      color: rgb(0.15, 0.15, 0.2),
    })
  draw(place, 770, 9)
  draw(title, 735, 17, bold)
  draw('Abstract', 650, 11, bold)
  draw(abstract, 630, 10.5)
  draw('The full text of this article is open to subscribers.', 300, 10.5, bold)
  draw('Printed from the page of the article', 50, 8)
  return doc.save()
}
