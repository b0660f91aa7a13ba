import { api, type Answer } from '../../../core/schema/api'
import { useOf } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { useManySaved } from '../../outbox/use-outbox'

export type Sheets = Answer<'readingTable'>
export type SheetOf = Sheets['works'][number]
export type Head = Sheets['heads'][number]

/** The sheets of reading as they stand here, what is on its way included, and writing in them. */
export function useNotes() {
  const { inquiry } = useHere()
  const table = useOf(inquiry.id, api.readingTable)
  const saved = useManySaved<string>({ inquiry: inquiry.id, method: 'PUT', read: contentOf })
  const slot = (work: number, head: string) => `note ${work} ${head}`
  const stands = (sheet: SheetOf, head: string) => {
    const note = sheet.notes.find(n => n.head === head)
    return { value: note?.content ?? '', version: note?.version ?? 0 }
  }
  return {
    table,
    noteOf: (sheet: SheetOf, head: string): string => saved.now(slot(sheet.id, head), stands(sheet, head)),
    write: (sheet: SheetOf, head: Head, content: string): void =>
      saved.write(slot(sheet.id, head.key), stands(sheet, head.key).version, {
        path: `/works/${sheet.id}/notes/${head.key}`,
        said: `${head.name} of “${sheet.title}”`,
        body: { content },
      }),
  }
}
const contentOf = (body: unknown): string => (body as { content: string }).content
export type Notes = ReturnType<typeof useNotes>
