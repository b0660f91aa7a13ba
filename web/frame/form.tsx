import { chakra, Field, Input, NativeSelect, Stack, type InputProps } from '@chakra-ui/react'
import { yupResolver } from '@hookform/resolvers/yup'
import type { ReactNode } from 'react'
import { get, useForm, type DefaultValues, type FieldValues, type Path, type UseFormReturn } from 'react-hook-form'
import type { ObjectSchema } from 'yup'
import { ApiError } from '../api/client'
import { PlainDialog } from './plain-dialog'

/**
 * A form that is checked by the shape by which the server checks it. What the server refuses is said at its field, or
 * for the whole form as `trouble`. What was sent leaves an empty form, or stands (`stays`) where it is asked again.
 */
export function useShaped<T extends FieldValues>(
  shape: ObjectSchema<T>,
  defaultValues: DefaultValues<T>,
  send: (values: T) => Promise<unknown>,
  { stays = false } = {},
) {
  const form = useForm<T>({ resolver: yupResolver(shape) as never, defaultValues })
  const submit = form.handleSubmit(async values => {
    try {
      await send(values)
      if (!stays) form.reset()
    } catch (e) {
      const there = e instanceof ApiError ? e.fields.filter(f => f.field in values) : []
      for (const f of there) form.setError(f.field as Path<T>, { message: f.said })
      // "invalid" says no more than its fields do
      const { message } = e as Error
      if (!there.length || ((e as ApiError).code !== 'invalid' && there.every(f => f.said !== message)))
        form.setError('root', { message })
    }
  })
  return { form, submit: () => void submit(), busy: form.formState.isSubmitting, trouble: form.formState.errors.root }
}

/** A form in a dialog: what is asked, and beneath it what can be done. */
export function FormDialog({
  title,
  submit,
  close,
  children,
  buttons,
  wide = false,
}: {
  title: string
  submit: () => void
  close: () => void
  children: ReactNode
  buttons: ReactNode
  wide?: boolean
}) {
  return (
    <PlainDialog
      {...{ title, close, buttons }}
      size={wide ? 'lg' : 'sm'}
      around={inner => (
        <chakra.form onSubmit={e => (e.preventDefault(), submit())} noValidate>
          {inner}
        </chakra.form>
      )}
    >
      <Stack gap="14px">{children}</Stack>
    </PlainDialog>
  )
}

/** One line of a form, with what is wrong with it. */
export function Line<T extends FieldValues>({
  form,
  name,
  label,
  help,
  w,
  ...input
}: { form: UseFormReturn<T>; name: Path<T>; label: string; help?: ReactNode } & Omit<InputProps, 'form' | 'name'>) {
  const error = get(form.formState.errors, name) as { message?: string } | undefined
  return (
    <Field.Root invalid={Boolean(error)} {...(w ? { w } : {})}>
      {label && <Field.Label>{label}</Field.Label>}
      <Input bg="surface" {...input} {...form.register(name)} />
      {help && !error && <Field.HelperText>{help}</Field.HelperText>}
      <Field.ErrorText>{error?.message}</Field.ErrorText>
    </Field.Root>
  )
}

/** One of a few values of a form. */
export function Choice<T extends FieldValues, V extends string | number>({
  form,
  name,
  label,
  help,
  of,
  say,
}: {
  form: UseFormReturn<T>
  name: Path<T>
  label: string
  help?: ReactNode
  of: readonly V[]
  say: (value: V) => string
}) {
  return (
    <Field.Root>
      <Field.Label>{label}</Field.Label>
      <NativeSelect.Root size="sm">
        <NativeSelect.Field {...form.register(name, { setValueAs: (v: string) => of.find(o => String(o) === v) ?? v })}>
          {of.map(o => (
            <option key={o} value={o}>
              {say(o)}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
      {help && <Field.HelperText>{help}</Field.HelperText>}
    </Field.Root>
  )
}
