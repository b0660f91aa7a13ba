/** Said of a PDF that only holds other files. */
export const FOLDER = 'The PDF is a folder of other files. Save the article out of it, and bring that by itself.'

/** What a fetched or dropped file is before its text is read. */
export interface Nature {
  pdf: boolean
  /** A sentence for the student where it is no usable PDF. */
  said?: string
  really?:
    'a sign-in page' | 'a web page' | 'a challenge page' | 'an empty file' | 'half a file' | 'another kind of file'
}

/**
 * Looks at the first and last bytes of a file. `head` is the text of the first 4 KB or more and `tail` of the last
 * 2 KB, both read byte by byte (Latin-1).
 */
export function fileNature(size: number, head: string, tail: string): Nature {
  if (size === 0) return { pdf: false, really: 'an empty file', said: 'The file is empty.' }
  if (!/^[\s\S]{0,1024}?%PDF-\d/.test(head)) {
    if (/<html|<!doctype html|<head|<body/i.test(head)) {
      if (/type=["']?password|sign[ -]?in|log[ -]?in/i.test(head)) {
        return {
          pdf: false,
          really: 'a sign-in page',
          said: 'A sign-in page came in place of the PDF. Sign in at the gate and fetch again.',
        }
      }
      if (/captcha|(are you|you are) (a )?human|challenge/i.test(head)) {
        return {
          pdf: false,
          really: 'a challenge page',
          said: 'The platform asked whether a human is there. Open the article yourself and drop the PDF here.',
        }
      }
      const title = /<title[^>]*>([^<]{1,120})/i.exec(head)?.[1]?.trim()
      return {
        pdf: false,
        really: 'a web page',
        said: `A web page came in place of the PDF${title ? ` ("${title}")` : ''}.`,
      }
    }
    return { pdf: false, really: 'another kind of file', said: 'This is not a PDF: it does not begin as one.' }
  }
  // some servers add a few bytes; where objects follow, the last version of the file is cut off
  if (!/%%EOF(?![\s\S]*\bobj\b)/.test(tail))
    return { pdf: false, really: 'half a file', said: 'The PDF breaks off before its end. Fetch it again.' }
  return { pdf: true }
}
