import { Grid, Text } from '@chakra-ui/react'
import { useFieldArray, type UseFormReturn } from 'react-hook-form'
import { Line } from '../../frame/form'
import { FormPart, LeaveOut } from './form-part'
import type { ProfileForm } from './profile-form'

/** The calendars of a library, by branch. */
export function ChangeHours({ form }: { form: UseFormReturn<ProfileForm> }) {
  const { fields, append, remove } = useFieldArray({ control: form.control, name: 'hours', keyName: 'key' })
  const wrong = form.formState.errors.hours
  return (
    <FormPart
      title="Opening hours"
      about="Calendars (iCalendar) of the whole library, of a branch or of a partner: one whose entries are opening hours, one whose entries say that it is closed; either alone will do."
      another={fields.length ? 'Another branch' : 'Name its calendars'}
      add={() => append({ branch: '', opening: '', closed: '' })}
    >
      {fields.map((f, i) => (
        <Grid key={f.key} templateColumns={{ base: '1fr', md: '1fr 1.4fr 1.4fr auto' }} gap="6px 8px" mb="8px">
          <Line
            form={form}
            name={`hours.${i}.branch`}
            label=""
            size="sm"
            placeholder="all branches"
            aria-label={`Branch ${i + 1}`}
          />
          <Line
            form={form}
            name={`hours.${i}.opening`}
            label=""
            size="sm"
            placeholder="opening hours: https://"
            aria-label={`Calendar of the opening hours of branch ${i + 1}`}
          />
          <Line
            form={form}
            name={`hours.${i}.closed`}
            label=""
            size="sm"
            placeholder="closed days: https://"
            aria-label={`Calendar of the closed days of branch ${i + 1}`}
          />
          <LeaveOut what={`branch ${i + 1}`} go={() => remove(i)} />
          {wrong?.[i]?.message && (
            <Text color="rust" fontSize="13px" role="alert" gridColumn="1 / -1">
              {wrong[i].message}
            </Text>
          )}
        </Grid>
      ))}
      {wrong?.message && (
        <Text color="rust" fontSize="13px" role="alert" mb="6px">
          {wrong.message}
        </Text>
      )}
    </FormPart>
  )
}
