import { api } from '../../core/schema/api'
import { Button, chakra, Stack } from '@chakra-ui/react'
import { object, string } from 'yup'
import { call } from '../api/client'
import { Line, useShaped } from './form'
import { Notice } from './parts'

const shape = object({
  current: string().required('Your present password is missing.'),
  password: string().required('The new password is missing.').min(10, 'A password needs 10 letters or more.'),
  again: string()
    .required('Write the new password once more.')
    .test('same', 'The two are not the same.', function (again) {
      return !again || again === (this.parent as { password: string }).password
    }),
})

const fields = [
  { name: 'current', label: 'Present password', complete: 'current-password' },
  {
    name: 'password',
    label: 'New password',
    complete: 'new-password',
    help: 'Ten letters or more. Four words that do not belong together are easy to remember.',
  },
  { name: 'again', label: 'New password, once more', complete: 'new-password' },
] as const

/** Changes one's password; whoever was signed in with the old one elsewhere is signed out. */
export function PasswordForm({ done }: { done: (ended: number) => void }) {
  const empty = { current: '', password: '', again: '' }
  const { form, submit, busy, trouble } = useShaped(shape, empty, async ({ current, password }) => {
    const { ended } = await call(api.changePassword, { body: { current, password } })
    done(ended)
  })
  return (
    <chakra.form onSubmit={e => (e.preventDefault(), submit())} noValidate>
      <Stack gap="14px">
        {fields.map(({ complete, ...f }) => (
          <Line key={f.name} form={form} {...f} type="password" autoComplete={complete} size="sm" />
        ))}
        {trouble && <Notice voice="rust">{trouble.message}</Notice>}
        <Button type="submit" size="sm" colorPalette="vine" alignSelf="flex-start" loading={busy}>
          Change the password
        </Button>
      </Stack>
    </chakra.form>
  )
}
