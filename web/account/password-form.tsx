import { Button, chakra, Field, Input, Stack } from '@chakra-ui/react'
import { yupResolver } from '@hookform/resolvers/yup'
import { useForm } from 'react-hook-form'
import { object, ref, string } from 'yup'
import { api, ApiError } from '../api/client'
import { Notice } from '../frame/parts'

const shape = object({
  current: string().required('Your present password is missing.'),
  password: string().min(10, 'A password needs 10 letters or more.').required('The new password is missing.'),
  again: string()
    .oneOf([ref('password')], 'The two are not the same.')
    .required('Write the new password once more.'),
})

const fields = [
  { name: 'current', label: 'Present password', complete: 'current-password' },
  { name: 'password', label: 'New password', complete: 'new-password' },
  { name: 'again', label: 'New password, once more', complete: 'new-password' },
] as const

/** Changes one's password; whoever was signed in with the old one elsewhere is signed out. */
export function PasswordForm({ done }: { done: (ended: number) => void }) {
  const form = useForm({ resolver: yupResolver(shape), defaultValues: { current: '', password: '', again: '' } })
  const { errors, isSubmitting } = form.formState
  const send = form.handleSubmit(async ({ current, password }) => {
    try {
      const { ended } = await api<{ ended: number }>('PUT', '/account/password', { body: { current, password } })
      form.reset()
      done(ended)
    } catch (e) {
      const told = e instanceof ApiError ? e.fields : []
      for (const f of told) form.setError(f.field as 'current', { message: f.said })
      if (!told.length) form.setError('root', { message: (e as Error).message })
    }
  })
  return (
    <chakra.form onSubmit={e => void send(e)} noValidate>
      <Stack gap="14px">
        {fields.map(f => (
          <Field.Root key={f.name} invalid={Boolean(errors[f.name])}>
            <Field.Label>{f.label}</Field.Label>
            <Input type="password" autoComplete={f.complete} bg="surface" size="sm" {...form.register(f.name)} />
            {f.name === 'password' && !errors.password && (
              <Field.HelperText>
                Ten letters or more. Four words that do not belong together are easy to remember.
              </Field.HelperText>
            )}
            <Field.ErrorText>{errors[f.name]?.message}</Field.ErrorText>
          </Field.Root>
        ))}
        {errors.root && <Notice voice="rust">{errors.root.message}</Notice>}
        <Button type="submit" size="sm" colorPalette="vine" alignSelf="flex-start" loading={isSubmitting}>
          Change the password
        </Button>
      </Stack>
    </chakra.form>
  )
}
