import { Box, Text, Textarea } from '@chakra-ui/react'
import { useHere } from '../../frame/inquiry-frame'
import { Failed, Waiting } from '../../frame/parts'
import { NoteText } from './note-text'
import { useNotes } from './use-notes'

/** The sheet of reading of a work, to be written beside its pages. */
export function SheetOfReading({ work }: { work: number }) {
  const { mayWrite } = useHere()
  const notes = useNotes()
  const { table } = notes
  if (table.isPending) return <Waiting what="Opening the sheet" />
  if (table.isError) return <Failed error={table.error} again={() => void table.refetch()} />
  const sheet = table.data.works.find(w => w.id === work)
  if (!sheet)
    return (
      <Text p="18px 24px" fontSize="14px" lineHeight="20px" color="soft">
        This work is not kept, so that it has no sheet. Keep it, and what you write here stands in the table of works.
      </Text>
    )
  return (
    <Box overflow="auto" flex="1" minH="0" px="24px" py="12px">
      {table.data.heads.map(h => {
        const text = notes.noteOf(sheet, h.key)
        return (
          <Box key={h.key} mb="12px">
            <Text as="label" fontFamily="serif" fontWeight="600" fontSize="14px" display="block">
              {h.name}
              {mayWrite && (
                <Textarea
                  mt="3px"
                  size="sm"
                  autoresize
                  rows={2}
                  bg="surface"
                  fontFamily="body"
                  fontWeight="400"
                  placeholder={h.asks}
                  value={text}
                  onChange={e => notes.write(sheet, h, e.target.value)}
                />
              )}
            </Text>
            {!mayWrite && (
              <Text fontSize="14px" lineHeight="20px">
                {text ? <NoteText text={text} copy={sheet.copy} /> : '–'}
              </Text>
            )}
          </Box>
        )
      })}
      <Text fontSize="12.5px" lineHeight="17px" color="soft">
        Saved as you write, and set beside the other works in the table of works.
      </Text>
    </Box>
  )
}
