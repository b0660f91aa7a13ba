import { Field, Grid, Text, Textarea } from '@chakra-ui/react'
import type { UseFormReturn } from 'react-hook-form'
import { OFFICE_MANNERS } from '../../../core/schema/library'
import { Choice, Line } from '../../frame/form'
import type { ProfileForm } from './profile-form'

const SAID = {
  messages: 'by messages (ISO 18626), from here',
  form: 'on its form, in your own window',
  mail: 'by a letter, from your own mail',
}

/** The part of the form on the office that gets texts from elsewhere. */
export function ChangeOffice({ form }: { form: UseFormReturn<ProfileForm> }) {
  const manner = form.watch('office.manner')
  const days = (kind: 'scan' | 'book', end: 'low' | 'high', label: string) => (
    <Line form={form} name={`office.${kind}.${end}`} label={label} size="sm" inputMode="decimal" />
  )
  const line = (field: 'keepsScan' | 'scanLasts' | 'keepsBook', label: string, help?: string) => (
    <Line
      form={form}
      name={`office.${field}`}
      label={label}
      size="sm"
      inputMode="numeric"
      {...(help ? { help } : {})}
    />
  )
  return (
    <Grid templateColumns={{ base: '1fr', md: '1fr 1fr' }} gap="14px" ps="24px">
      <Choice form={form} name="office.manner" label="How it is asked" of={OFFICE_MANNERS} say={m => SAID[m]} />
      {manner === 'mail' ? (
        <Line form={form} name="office.mail" label="Its mail address" size="sm" placeholder="loans@library.example" />
      ) : (
        <Line
          form={form}
          name="office.address"
          label={manner === 'form' ? 'Address of its form' : 'Address that takes messages'}
          size="sm"
          placeholder={manner === 'form' ? 'https://library.example/request' : 'https://loans.library.example/'}
          {...(manner === 'form' ? { help: 'What is asked for is put behind it as an OpenURL 1.0.' } : {})}
        />
      )}
      {manner === 'messages' && (
        <>
          <Line
            form={form}
            name="office.symbol"
            label="What it is called in messages"
            size="sm"
            placeholder="ISIL:XX-1"
          />
          <Line form={form} name="office.ours" label="What it calls us" size="sm" placeholder="ISIL:XX-2" />
        </>
      )}
      <Line form={form} name="office.pickUp" label="Where books wait" size="sm" />
      <span />
      {days('scan', 'low', 'Scans: one in ten within days')}
      {days('scan', 'high', 'nine in ten within')}
      {days('book', 'low', 'Books: one in ten within days')}
      {days('book', 'high', 'nine in ten within')}
      <Text gridColumn="1 / -1" mt="-10px" fontSize="12px" lineHeight="16px" color="soft">
        Working days; leave both empty for what it does not send.
      </Text>
      {line('keepsScan', 'A scan can be fetched for days')}
      {line('keepsBook', 'A book waits for days')}
      {line('scanLasts', 'A scan may be used for days', 'From when it came, by its terms; empty: for good.')}
      <span />
      <Field.Root gridColumn="1 / -1">
        <Field.Label>Its terms</Field.Label>
        <Textarea size="sm" rows={2} {...form.register('office.terms')} />
        <Field.HelperText>Whoever asks for something accepts them.</Field.HelperText>
      </Field.Root>
    </Grid>
  )
}
