import { Box, Button, Grid, Text } from '@chakra-ui/react'
import { useFieldArray, type UseFormReturn } from 'react-hook-form'
import { Line } from '../../frame/form'
import type { ProfileForm } from './profile-form'

/** The calendars of a library, by branch. */
export function ChangeHours({ form }: { form: UseFormReturn<ProfileForm> }) {
  const { fields, append, remove } = useFieldArray({ control: form.control, name: 'hours', keyName: 'key' })
  const wrong = form.formState.errors.hours
  return (
    <Box>
      <Text fontWeight="600" fontSize="14px">
        Opening hours
      </Text>
      <Text fontSize="13px" lineHeight="18px" color="soft" mb="6px">
        Calendars (iCalendar) of the whole library or of a branch: one whose entries are opening hours, one whose
        entries say that it is closed; either alone will do.
      </Text>
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
          <Button size="xs" variant="ghost" aria-label={`Leave out branch ${i + 1}`} onClick={() => remove(i)}>
            Leave out
          </Button>
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
      <Button size="2xs" variant="outline" onClick={() => append({ branch: '', opening: '', closed: '' })}>
        {fields.length ? 'Another branch' : 'Name its calendars'}
      </Button>
    </Box>
  )
}
