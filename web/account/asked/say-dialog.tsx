import { Button, Field, Input, Textarea } from '@chakra-ui/react'
import { useState } from 'react'
import type { LoanAct } from '../../../core/access/loan-acts'
import { FormDialog } from '../../frame/form'

interface Asked {
  title: string
  label: string
  help: string
  word: string
  of: 'day' | 'words'
  /** It cannot be left empty. */
  needed?: boolean
}

/** What is asked of a student who says what became of a request. */
export const SAYS: Partial<Record<LoanAct, Asked>> = {
  'picked up': {
    ...{ title: 'You have it', label: 'Due back on', of: 'day', word: 'I have it' },
    help: 'As the slip in it says. It is shown here, and in your calendar file.',
  },
  'due on': {
    ...{ title: 'Kept longer', label: 'Due back on', of: 'day', word: 'Put it down', needed: true },
    help: 'The office is not asked from here: ask it, then put down the day that it named.',
  },
  'turned down': {
    ...{ title: 'It was refused', label: 'What the office says', of: 'words', word: 'Put it down' },
    help: 'It stands with the request; Obtain offers the next way.',
  },
}

export function SayDialog({
  title,
  asked,
  go,
  close,
}: {
  /** Of the work. */
  title: string
  asked: Asked
  /** Whether it was taken: what was not stays written. */
  go: (said: { said: string; until?: string }) => Promise<boolean>
  close: () => void
}) {
  const [value, setValue] = useState('')
  const [busy, setBusy] = useState(false)
  const submit = async () => {
    if (asked.needed && !value) return
    setBusy(true)
    const taken = await go(asked.of === 'day' ? { said: '', ...(value ? { until: value } : {}) } : { said: value })
    if (taken) close()
    else setBusy(false)
  }
  return (
    <FormDialog
      title={`${asked.title}: ${title}`}
      submit={() => void submit()}
      close={close}
      buttons={
        <>
          <Button variant="outline" onClick={close}>
            Not now
          </Button>
          <Button type="submit" colorPalette="vine" loading={busy} disabled={asked.needed && !value}>
            {asked.word}
          </Button>
        </>
      }
    >
      <Field.Root>
        <Field.Label>{asked.label}</Field.Label>
        {asked.of === 'day' ? (
          <Input type="date" size="sm" w="180px" value={value} onChange={e => setValue(e.target.value)} />
        ) : (
          <Textarea size="sm" rows={3} maxLength={1000} value={value} onChange={e => setValue(e.target.value)} />
        )}
        <Field.HelperText>{asked.help}</Field.HelperText>
      </Field.Root>
    </FormDialog>
  )
}
