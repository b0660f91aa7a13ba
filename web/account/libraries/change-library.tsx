import { Box, Button, chakra, Field, Flex, Grid, Text, Textarea } from '@chakra-ui/react'
import { useState } from 'react'
import { get, set, useFieldArray, useForm, type FieldErrors, type Resolver } from 'react-hook-form'
import { ValidationError } from 'yup'
import { api, type LibraryInFull } from '../../../core/schema/api'
import { BROUGHT, libraryShape, MANNERS } from '../../../core/schema/library'
import { call } from '../../api/client'
import { ChangeHours } from './change-hours'
import { ChangeOffice } from './change-office'
import { ChangeCatalogues } from './change-catalogues'
import { ChangePartners } from './change-partners'
import { FormPart, LeaveOut } from './form-part'
import { atField, formOf, profileOf, type ProfileForm } from './profile-form'
import { Choice, FormDialog, Line } from '../../frame/form'
import { Notice } from '../../frame/parts'

const SAID = { form: 'by card and password, from here', window: 'on its own pages, in your window' }

/** What a profile says wrongly, at the fields of the form. */
const resolver: Resolver<ProfileForm> = async values => {
  try {
    await libraryShape.validate(profileOf(values), { abortEarly: false })
    return { values, errors: {} }
  } catch (e) {
    if (!(e instanceof ValidationError)) throw e
    const errors: FieldErrors<ProfileForm> = {}
    for (const { path = '', message } of e.inner.length ? e.inner : [e]) {
      const field = atField(path)
      // what is wrong with a whole part stands beside what is wrong in it
      set(errors, field, { ...(get(errors, field) as object | undefined), type: 'shape', message })
    }
    return { values: {}, errors }
  }
}

/** Changes what a library is known by. */
export function ChangeLibrary({
  library,
  close,
  save,
}: {
  library: LibraryInFull
  close: () => void
  save: (doing: Promise<LibraryInFull>) => Promise<void>
}) {
  const form = useForm<ProfileForm>({ defaultValues: formOf(library.profile), resolver })
  const files = useFieldArray({ control: form.control, name: 'holdings' })
  const [failed, setFailed] = useState<Error>()
  const submit = form.handleSubmit(async values => {
    setFailed(undefined)
    const changing = call(api.changeLibrary, {
      params: { library: library.key },
      version: library.version,
      body: libraryShape.cast(profileOf(values)),
    })
    try {
      await changing
    } catch (e) {
      return setFailed(e as Error)
    }
    await save(changing)
    close()
  })
  const [hasGate, manner, hasOffice] = form.watch(['hasGate', 'gate.manner', 'hasOffice'])
  const { errors } = form.formState
  const gateWrong = (errors.gate as { message?: string; type?: string } | undefined)?.message
  return (
    <FormDialog
      wide
      title={`Change ${library.profile.name}`}
      submit={() => void submit()}
      close={close}
      buttons={
        <>
          <Button variant="outline" onClick={close}>
            Leave it as it is
          </Button>
          <Button type="submit" colorPalette="vine" loading={form.formState.isSubmitting}>
            Save
          </Button>
        </>
      }
    >
      {failed && <Notice voice="rust">{failed.message}</Notice>}
      <Grid templateColumns={{ base: '1fr', md: '1fr 1fr' }} gap="14px">
        <Line form={form} name="name" label="Name" />
        <Line form={form} name="place" label="Place" />
      </Grid>
      <ChangeCatalogues form={form} />
      <FormPart
        title="Holdings files"
        about="Addresses of its KBART files, one a package. Ask the library for them; many publish them."
        another="Another file"
        add={() => files.append({ name: '', address: '' })}
      >
        <Box maxH="240px" overflow="auto">
          {files.fields.map((f, i) => (
            <Flex key={f.id} gap="8px" mb="6px" align="flex-start">
              {f.address.startsWith(BROUGHT) ? (
                <Text flex="1" fontSize="14px" py="6px">
                  {f.name} <chakra.span color="soft">brought by hand</chakra.span>
                </Text>
              ) : (
                <Line
                  form={form}
                  name={`holdings.${i}.address`}
                  label=""
                  size="sm"
                  aria-label={`Address of file ${i + 1}`}
                />
              )}
              <LeaveOut what={`file ${i + 1}`} go={() => files.remove(i)} />
            </Flex>
          ))}
        </Box>
      </FormPart>
      <Grid templateColumns={{ base: '1fr', md: '2fr 1fr' }} gap="14px">
        <Line
          form={form}
          name="shelf"
          label="Shelf catalogue"
          size="sm"
          placeholder="https://catalogue.library.example/sru"
          help="The address (SRU) at which it tells what stands on its shelves and what is out: often that of its catalogue."
        />
        <Line
          form={form}
          name="named"
          label="What it is called there"
          size="sm"
          placeholder="all is its own"
          help="In a catalogue of several libraries: its signs or names, by commas."
        />
      </Grid>
      <chakra.label display="flex" gap="8px" alignItems="center" fontWeight="600" fontSize="14px">
        <input type="checkbox" {...form.register('hasGate')} /> It has a gate for readers outside
      </chakra.label>
      {hasGate && (
        <Grid templateColumns={{ base: '1fr', md: '1fr 1fr' }} gap="14px" ps="24px">
          <Choice form={form} name="gate.manner" label="How one signs in" of={MANNERS} say={m => SAID[m]} />
          <Line
            form={form}
            name="gate.template"
            label="Address that opens others"
            size="sm"
            placeholder="https://gate.library.example/open{?url}"
          />
          <Line form={form} name="gate.signIn" label="Address that takes card and password" size="sm" />
          <Line form={form} name="gate.suffix" label="Host behind that of each page" size="sm" />
          {manner === 'form' && (
            <>
              <Line form={form} name="gate.fields.card" label="Its name for the card" size="sm" />
              <Line form={form} name="gate.fields.password" label="Its name for the password" size="sm" />
            </>
          )}
          <Line form={form} name="gate.terms" label="Its terms" size="sm" />
          {gateWrong && (
            <Text color="rust" fontSize="13px" role="alert" gridColumn="1 / -1">
              {gateWrong}
            </Text>
          )}
        </Grid>
      )}
      <chakra.label display="flex" gap="8px" alignItems="center" fontWeight="600" fontSize="14px">
        <input type="checkbox" {...form.register('hasOffice')} /> It gets scans and books from elsewhere
      </chakra.label>
      {hasOffice && <ChangeOffice form={form} />}
      <ChangePartners form={form} />
      <ChangeHours form={form} />
      <Line
        form={form}
        name="resolver"
        label="Link resolver"
        size="sm"
        help="The address that takes OpenURL 1.0, where it has one."
      />
      <Field.Root invalid={Boolean(errors.networks)}>
        <Field.Label>Its networks</Field.Label>
        <Textarea size="sm" rows={2} placeholder="192.0.2.0/24" {...form.register('networks')} />
        <Field.HelperText>Where addresses open without the gate, one a line.</Field.HelperText>
        <Field.ErrorText>{errors.networks?.message}</Field.ErrorText>
      </Field.Root>
      <Line
        form={form}
        name="contact"
        label="Its address for help"
        size="sm"
        help="To which you write where one of its ways does not lead to a text."
      />
      <Field.Root>
        <Field.Label>Note</Field.Label>
        <Textarea size="sm" rows={2} {...form.register('note')} />
      </Field.Root>
    </FormDialog>
  )
}
