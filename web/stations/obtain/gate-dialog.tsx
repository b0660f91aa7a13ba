import { Button, Text } from '@chakra-ui/react'
import { api, type Gate } from '../../../core/schema/api'
import { cardShape } from '../../../core/schema/api/libraries'
import { call } from '../../api/client'
import { FormDialog, Line, useShaped } from '../../frame/form'
import { useHere } from '../../frame/inquiry-frame'
import { Notice, tell } from '../../frame/parts'
import { useTellGates } from './gates'

/** Signing in at the library's gate; what waits for it is fetched afterwards, or as far as it goes without. */
export function GateDialog({
  gate,
  waiting,
  openToAll,
  fetch,
  close,
}: {
  gate: Gate
  /** Works that wait to be fetched, and those of them that need no signing in. */
  waiting: number
  openToAll: number
  fetch: (which: 'all' | 'open') => void
  close: () => void
}) {
  const { inquiry } = useHere()
  const tellGates = useTellGates(inquiry.id)
  const { form, submit, busy, trouble } = useShaped(cardShape, { card: '', password: '' }, async body => {
    tellGates(await call(api.openGate, { params: { inquiry: inquiry.id, library: gate.library }, body }))
    tell('Signed in at the gate.')
    if (waiting) fetch('all')
    close()
  })
  const behind = waiting - openToAll
  return (
    <FormDialog
      title={`Sign in at the gate of ${gate.name}`}
      submit={submit}
      close={close}
      buttons={
        <>
          {openToAll > 0 ? (
            <Button
              variant="outline"
              onClick={() => {
                fetch('open')
                close()
              }}
            >
              Fetch the {openToAll === 1 ? 'open one' : `${openToAll} open ones`} only
            </Button>
          ) : (
            <Button variant="outline" onClick={close}>
              Not now
            </Button>
          )}
          <Button type="submit" colorPalette="vine" loading={busy}>
            Sign in{waiting > 0 && ' and fetch'}
          </Button>
        </>
      }
    >
      {waiting > 0 && (
        <Text fontSize="14px">
          {waiting === 1
            ? 'This text is behind the gate.'
            : `${behind} of the ${waiting} texts ${behind === 1 ? 'is' : 'are'} behind the gate.`}
        </Text>
      )}
      <Text fontSize="13.5px" color="soft">
        Your card is passed on to the library and never kept. {gate.terms}
      </Text>
      {gate.hint && (
        <Text fontSize="13.5px" borderLeft="2px solid" borderColor="vine.line" pl="10px">
          {gate.hint}
        </Text>
      )}
      <Line form={form} name="card" label="Card number" autoComplete="off" autoFocus />
      <Line form={form} name="password" label="Password of the card" type="password" autoComplete="off" />
      {trouble && <Notice voice="rust">{trouble.message}</Notice>}
    </FormDialog>
  )
}
