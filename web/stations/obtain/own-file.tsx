import { Button, FileUpload, Flex } from '@chakra-ui/react'
import { useState } from 'react'
import { api, type Answer, type Obtainable } from '../../../core/schema/api'
import { useChange } from '../../api/hooks'
import { jobEnd } from '../../api/jobs'
import { useHere } from '../../frame/inquiry-frame'
import { tell, tellError } from '../../frame/parts'
import { PasswordDialog } from '../../frame/password-dialog'

type Got = Answer<'openCopy'>
/** @param give brings the file to the work that it is instead */
const tellGot = ({ outcome, said, other }: Got, give: (work: number) => void) => {
  if (outcome === 'refused' && other)
    tell(`This is “${other.title}”, another work of your pool.`, {
      label: 'Keep it there',
      onClick: () => give(other.id),
    })
  else if (outcome === 'refused') tellError(new Error(said))
  else tell(outcome === 'proved' ? 'Proved: now in hand.' : said)
}

/** A file of the student's own for a work. */
export function OwnFile({ row }: { row: Obtainable }) {
  const { inquiry, mayWrite } = useHere()
  const send = useChange(inquiry.id, api.bringCopy, ({ file, work }: { file: File; work: number }) => ({
    params: { work },
    file,
  }))
  const unlock = useChange(inquiry.id, api.openCopy, (more: { file: File; password: string }) => ({
    params: { work: row.id },
    ...more,
  }))
  const [reading, setReading] = useState(false)
  const [locked, setLocked] = useState<File>()
  const bring = async (file: File, work = row.id) => {
    setReading(true)
    try {
      const { job } = await send.mutateAsync({ file, work })
      const got = (await jobEnd(inquiry.id, job)).result as Got
      if (got.locked) setLocked(file)
      else tellGot(got, other => void bring(file, other))
    } catch (e) {
      tellError(e)
    }
    setReading(false)
  }
  if (!mayWrite) return null
  return (
    <Flex flex="none">
      <FileUpload.Root
        maxFiles={1}
        accept={undefined}
        key={send.submittedAt}
        onFileAccept={e => e.files[0] && void bring(e.files[0])}
      >
        <FileUpload.HiddenInput aria-label={`A PDF of your own for: ${row.title}`} />
        <FileUpload.Trigger asChild>
          <Button size="2xs" variant="ghost" loading={reading}>
            Own PDF
          </Button>
        </FileUpload.Trigger>
      </FileUpload.Root>
      {locked && (
        <PasswordDialog
          file={locked.name}
          why={`to see whether it is “${row.title}”`}
          send={password => unlock.mutateAsync({ file: locked, password })}
          done={got => (tellGot(got, other => void bring(locked, other)), setLocked(undefined))}
          close={() => setLocked(undefined)}
        />
      )}
    </Flex>
  )
}
