import { spokenName } from '../bib/names'
import { yearOf } from '../bib/dates'
import { plainTitle } from '../bib/clean'
import type { Item } from '../bib/item'

/**
 * A letter by which a student asks an author for a text, to be read over and sent by their own mail.
 * @param from the name of the student
 */
export function letterToAuthor(item: Item, from: string): { subject: string; text: string } {
  const title = plainTitle(item.title)
  const author = item.author?.[0]
  const place = [
    item['container-title'],
    [item.volume, item.issue && `(${item.issue})`].filter(Boolean).join(' '),
    yearOf(item),
  ]
    .filter(Boolean)
    .join(', ')
  return {
    subject: `A copy of “${title}”`,
    text: [
      `Dear ${author ? (author.literal ?? spokenName(author)) : 'author'},`,
      `I am working on an annotated bibliography and would like to read your text “${title}”${place ? ` (${place})` : ''}. It cannot be had through our university in time.`,
      'Could you send me a copy for my own study, for instance your accepted manuscript? I would cite it as yours and pass it to nobody.',
      ...(item.DOI ? [`Its DOI is ${item.DOI}.`] : []),
      `With thanks,\n${from}`,
    ].join('\n\n'),
  }
}

/** The letter for a mail program, its address left to be filled in (RFC 6068). */
export const mailOf = ({ subject, text }: { subject: string; text: string }): string =>
  `mailto:?subject=${encodeURIComponent(subject)}&body=${encodeURIComponent(text.replace(/\n/g, '\r\n'))}`
