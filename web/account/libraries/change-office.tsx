import { Field, Grid, Textarea } from '@chakra-ui/react'
import type { UseFormReturn } from 'react-hook-form'
import { Line } from '../../frame/form'
import type { ProfileForm } from './profile-form'

/** The part of the form on the office that gets texts from elsewhere. */
export function ChangeOffice({ form }: { form: UseFormReturn<ProfileForm> }) {
  const days = (kind: 'scan' | 'book', end: 'low' | 'high', label: string) => (
    <Line form={form} name={`office.${kind}.${end}`} label={label} size="sm" inputMode="decimal" />
  )
  return (
    <Grid templateColumns={{ base: '1fr', md: '1fr 1fr' }} gap="14px" ps="24px">
      <Line
        form={form}
        name="office.address"
        label="Address that takes messages"
        size="sm"
        placeholder="https://loans.library.example/"
      />
      <Line form={form} name="office.pickUp" label="Where books wait" size="sm" />
      <Line form={form} name="office.symbol" label="What it is called in messages" size="sm" placeholder="ISIL:XX-1" />
      <Line form={form} name="office.ours" label="What it calls us" size="sm" placeholder="ISIL:XX-2" />
      {days('scan', 'low', 'Scans: one in ten within days')}
      {days('scan', 'high', 'nine in ten within')}
      {days('book', 'low', 'Books: one in ten within days')}
      {days('book', 'high', 'nine in ten within')}
      <Field.Root gridColumn="1 / -1">
        <Field.Label>Its terms</Field.Label>
        <Textarea size="sm" rows={2} {...form.register('office.terms')} />
        <Field.HelperText>
          Whoever asks for something accepts them. Days are working days; leave both empty for what it does not send.
        </Field.HelperText>
      </Field.Root>
    </Grid>
  )
}
