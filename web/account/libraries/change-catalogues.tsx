import { chakra, Field, Grid, NativeSelect } from '@chakra-ui/react'
import { useFieldArray, type UseFormReturn } from 'react-hook-form'
import { SCHEMAS } from '../../../core/formats/records'
import { Line } from '../../frame/form'
import { FormPart, LeaveOut } from './form-part'
import type { ProfileForm } from './profile-form'

const BY = { sru: 'searched (SRU)', oai: 'taken in (OAI-PMH)' }
const RECORDS = { marcxml: 'MARC 21 in XML', mods: 'MODS', dc: 'Dublin Core' }

/** The catalogues of a library, one beneath the other. */
export function ChangeCatalogues({ form }: { form: UseFormReturn<ProfileForm> }) {
  const { fields, append, remove } = useFieldArray({ control: form.control, name: 'catalogues', keyName: 'key' })
  return (
    <FormPart
      title="Catalogues"
      about="Where its books and articles are searched. Gather asks them too, for all your inquiries."
      another="Another catalogue"
      add={() => append({ id: '', name: '', address: '', by: 'sru', schema: 'marcxml', set: '', openCopies: false })}
    >
      {fields.map((f, i) => (
        <Grid
          key={f.key}
          templateColumns={{ base: '1fr', md: '1fr 1fr auto' }}
          gap="6px 8px"
          pb="8px"
          mb="8px"
          borderBottom="1px solid"
          borderColor="hair"
        >
          <Line
            form={form}
            name={`catalogues.${i}.name`}
            label=""
            size="sm"
            placeholder="Name"
            aria-label={`Name of catalogue ${i + 1}`}
          />
          <Line
            form={form}
            name={`catalogues.${i}.address`}
            label=""
            size="sm"
            placeholder="https://"
            aria-label={`Address of catalogue ${i + 1}`}
          />
          <LeaveOut what={`catalogue ${i + 1}`} go={() => remove(i)} />
          <Choice label={`How catalogue ${i + 1} is asked`} of={BY} {...form.register(`catalogues.${i}.by`)} />
          <Choice
            label={`Records of catalogue ${i + 1}`}
            of={Object.fromEntries(SCHEMAS.map(s => [s, RECORDS[s]]))}
            {...form.register(`catalogues.${i}.schema`)}
          />
          <chakra.label fontSize="13px" lineHeight="17px" display="flex" gap="6px" alignItems="center">
            <input type="checkbox" {...form.register(`catalogues.${i}.openCopies`)} /> has open copies
          </chakra.label>
        </Grid>
      ))}
    </FormPart>
  )
}

function Choice({
  label,
  of,
  ...field
}: { label: string; of: Record<string, string> } & Parameters<typeof NativeSelect.Field>[0]) {
  return (
    <Field.Root>
      <NativeSelect.Root size="sm">
        <NativeSelect.Field aria-label={label} {...field}>
          {Object.entries(of).map(([value, said]) => (
            <chakra.option key={value} value={value}>
              {said}
            </chakra.option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Field.Root>
  )
}
