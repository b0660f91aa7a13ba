import { Box, Button, FileUpload, Text } from '@chakra-ui/react'
import { useState, type ReactNode } from 'react'
import { api, type Answer } from '../../../core/schema/api'
import { useChange } from '../../api/hooks'
import { some } from '../../frame/counted'
import { useHere } from '../../frame/inquiry-frame'
import { tell, tellError } from '../../frame/parts'
import { PlainDialog } from '../../frame/plain-dialog'

type Got = Answer<'bringAnnotations'>
/** Documents, and places in the file, that are named one by one. */
const FEW = 6

/** Brings annotations that were made elsewhere, and says what came of each. */
export function BringAnnotations({ children }: { children: ReactNode }) {
  const { inquiry } = useHere()
  const bring = useChange(inquiry.id, api.bringAnnotations, (file: File) => ({ file }))
  const drop = useChange(inquiry.id, api.dropPassages, (passages: number[]) => ({ body: { passages } }))
  const [left, setLeft] = useState<Got>()
  const take = (file: File) =>
    bring.mutate(file, {
      onSuccess: got => {
        const { noted, there } = got
        const undo = { label: 'Undo', onClick: () => drop.mutate(noted, { onError: tellError }) }
        if (noted.length)
          tell(`Noted: ${some(noted.length, 'passage')}${there ? `; ${there} noted already` : ''}.`, undo)
        else if (there)
          tell(`Nothing new: ${there === 1 ? 'one passage, which is' : `all ${there} are`} noted already.`)
        if (got.elsewhere.length || got.unread.length || got.left) setLeft(got)
      },
      onError: tellError,
    })
  return (
    <>
      <FileUpload.Root w="auto" maxFiles={1} key={bring.submittedAt} onFileAccept={e => e.files[0] && take(e.files[0])}>
        <FileUpload.HiddenInput aria-label="A file of web annotations" />
        <FileUpload.Trigger asChild>
          <Button size="xs" variant="outline" bg="surface" loading={bring.isPending}>
            {children}
          </Button>
        </FileUpload.Trigger>
      </FileUpload.Root>
      {left && <WhatIsLeft got={left} close={() => setLeft(undefined)} />}
    </>
  )
}

/** What of a file was not noted, and what to do for it. */
function WhatIsLeft({ got, close }: { got: Got; close: () => void }) {
  const { elsewhere, unread, left, noted } = got
  const all = elsewhere.reduce((n, e) => n + e.annotations, 0)
  return (
    <PlainDialog
      close={close}
      size="md"
      title={noted.length ? `${some(noted.length, 'passage')} noted, and some were not` : 'Nothing was noted'}
      buttons={
        <Button colorPalette="vine" onClick={close}>
          Close
        </Button>
      }
    >
      {all > 0 && (
        <Box mb="14px">
          <Text>
            {all === 1 ? 'One annotation is' : `${some(all, 'annotation')} are`} of a text of which there is no copy
            here. Bring the text in Obtain, then this file once more: what is noted already stays as it is.
          </Text>
          {elsewhere.slice(0, FEW).map(e => (
            <Text key={e.source} color="soft" fontSize="13px" overflowWrap="anywhere">
              {e.annotations} of {e.source}
            </Text>
          ))}
          {elsewhere.length > FEW && (
            <Text color="soft" fontSize="13px">
              and of {elsewhere.length - FEW} others
            </Text>
          )}
        </Box>
      )}
      {unread.length > 0 && (
        <Box mb="14px">
          <Text>{unread.length === 1 ? 'One piece' : some(unread.length, 'piece')} of the file cannot be read.</Text>
          {unread.slice(0, FEW).map(u => (
            <Text key={u.n} color="soft" fontSize="13px">
              Number {u.n}: {u.why}
            </Text>
          ))}
          {unread.length > FEW && (
            <Text color="soft" fontSize="13px">
              and {unread.length - FEW} more
            </Text>
          )}
        </Box>
      )}
      {left > 0 && <Text>{some(left, 'annotation')} beyond the first 2,000 were not read: part the file.</Text>}
    </PlainDialog>
  )
}
