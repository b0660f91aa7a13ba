import { Box, Flex, Grid, Text } from '@chakra-ui/react'
import { useFieldArray, type UseFormReturn } from 'react-hook-form'
import { VISITS } from '../../../core/schema/library'
import { Choice, Line } from '../../frame/form'
import { FormPart, LeaveOut } from './form-part'
import { NO_PARTNER, type ProfileForm } from './profile-form'

export const VISIT_SAID = { no: 'not for you', read: 'you may read there', borrow: 'you may borrow there' }

/** Libraries that stand by this one: where their shelves are asked, what they send, and whether one may go there. */
export function ChangePartners({ form }: { form: UseFormReturn<ProfileForm> }) {
  const { fields, append, remove } = useFieldArray({ control: form.control, name: 'partners', keyName: 'key' })
  const wrong = form.formState.errors.partners
  return (
    <FormPart
      title="Partners"
      about="Libraries that send through the loan office of this one, or let its readers in. They are asked for what cannot be had here the same day."
      another={fields.length ? 'Another partner' : 'Name a partner'}
      add={() => append({ ...NO_PARTNER })}
    >
      {fields.map((f, i) => {
        const line = (part: 'name' | 'place' | 'address' | 'named' | 'symbol', label: string, placeholder = '') => (
          <Line form={form} name={`partners.${i}.${part}`} label={label} size="sm" placeholder={placeholder} />
        )
        const days = (kind: 'scan' | 'book', label: string) => (
          <Box>
            <Text fontWeight="500" fontSize="14px" mb="6px" aria-hidden="true">
              {label}
            </Text>
            <Flex gap="6px" align="flex-start">
              {(['low', 'high'] as const).map(end => (
                <Line
                  key={end}
                  form={form}
                  name={`partners.${i}.${kind}.${end}`}
                  label=""
                  size="sm"
                  inputMode="decimal"
                  placeholder={end === 'low' ? 'from' : 'to'}
                  aria-label={`${label}, ${end === 'low' ? 'from' : 'to'}, of partner ${i + 1}`}
                />
              ))}
            </Flex>
          </Box>
        )
        return (
          <Box key={f.key} borderTop="1px solid" borderColor="hair" py="10px">
            <Grid templateColumns={{ base: '1fr', md: '1.3fr 1fr 1fr' }} gap="10px">
              {line('name', 'Its name')}
              {line('place', 'Where it is')}
              <Choice
                form={form}
                name={`partners.${i}.visit`}
                label="Going there"
                of={VISITS}
                say={v => VISIT_SAID[v]}
              />
              {line('address', 'Its shelf catalogue', 'https://catalogue.library.example/sru')}
              {line('named', 'What it is called there', 'all is its own')}
              {line('symbol', 'Its symbol in messages', 'ISIL:XX-3')}
              {days('scan', 'Scans, in working days')}
              {days('book', 'Books, in working days')}
              <Flex align="flex-end" justify="flex-end">
                <LeaveOut what={`partner ${i + 1}`} go={() => remove(i)} />
              </Flex>
            </Grid>
            {wrong?.[i]?.message && (
              <Text color="rust" fontSize="13px" role="alert" mt="4px">
                {wrong[i].message}
              </Text>
            )}
          </Box>
        )
      })}
      {fields.length > 0 && (
        <Text fontSize="13px" lineHeight="18px" color="soft" mb="6px">
          In a catalogue of several libraries, signs or names tell what stands at the partner: separate them by commas.
          Days are left empty for what it does not send.
        </Text>
      )}
      {wrong?.message && (
        <Text color="rust" fontSize="13px" role="alert" mb="6px">
          {wrong.message}
        </Text>
      )}
    </FormPart>
  )
}
