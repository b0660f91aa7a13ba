import { Box, Button, chakra, Field, FileUpload, Flex, Input, Stack, Text } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { useDeferredValue, useState } from 'react'
import { object, string } from 'yup'
import { api } from '../../../core/schema/api'
import { isAddress } from '../../../core/bib/identifiers'
import { NO_ADDRESS } from '../../../core/schema/library'
import { ApiError, call } from '../../api/client'
import { Line, useShaped } from '../../frame/form'
import { Notice, tell } from '../../frame/parts'
import { PlainDialog } from '../../frame/plain-dialog'

type Given = { text: string } | { address: string }
const BARE = { text: JSON.stringify({ name: 'A library of mine' }) }

const byAddress = object({
  address: string()
    .trim()
    .required('The address of the file that describes it.')
    .max(500)
    .test('address', NO_ADDRESS, v => isAddress(v ?? '')),
})

/** A library is chosen from the directory, or brought in by its file or its address. */
export function AddLibrary({
  hasDirectory,
  administers,
  close,
  done,
}: {
  hasDirectory: boolean
  administers: boolean
  close: () => void
  done: (key: string) => Promise<void>
}) {
  const [words, setWords] = useState('')
  const [forAll, setForAll] = useState(false)
  const [busy, setBusy] = useState<string>()
  const [failed, setFailed] = useState<ApiError>()
  const wanted = useDeferredValue(words.trim())
  const found = useQuery({
    queryKey: ['directory', wanted],
    queryFn: () => call(api.findLibraries, { body: { words: wanted } }),
    enabled: hasDirectory,
    placeholderData: before => before,
    retry: false,
  })
  const add = async (given: Given, of: string) => {
    setBusy(of)
    setFailed(undefined)
    try {
      const { key, left } = await call(api.addLibrary, { body: { ...given, forAll } })
      tell(
        left.length
          ? `Added. Of its file ${left.map(l => `“${l}”`).join(', ')} ${left.length === 1 ? 'is' : 'are'} not known here.`
          : of === 'bare'
            ? 'Added, and asked last. Change it, and say what it has.'
            : 'Added, and asked last. Its files are being fetched.',
      )
      await done(key)
    } catch (e) {
      setFailed(e as ApiError)
    } finally {
      setBusy(undefined)
    }
  }
  const { form, submit } = useShaped(byAddress, { address: '' }, given => add(given, 'address'), { stays: true })
  return (
    <PlainDialog
      title="Add a library"
      size="md"
      close={close}
      buttons={
        <Button variant="outline" onClick={close}>
          Close
        </Button>
      }
    >
      <Stack gap="16px">
        {failed && (
          <Notice voice="rust">
            {failed.message}
            {failed.fields.map(f => (
              <Text key={f.field}>
                <b>{f.field}</b>: {f.said}
              </Text>
            ))}
          </Notice>
        )}
        {hasDirectory && (
          <Box>
            <Field.Root>
              <Field.Label>From the directory</Field.Label>
              <Input
                size="sm"
                placeholder="Its name or its town"
                value={words}
                onChange={e => setWords(e.target.value)}
                autoFocus
              />
            </Field.Root>
            <Found found={found.data} busy={busy} add={a => void add({ address: a }, a)} />
            {found.isError && (
              <Text fontSize="13px" color="rust" role="alert">
                {found.error.message}
              </Text>
            )}
          </Box>
        )}
        <chakra.form onSubmit={e => (e.preventDefault(), submit())} noValidate>
          <Flex gap="8px" align="flex-start">
            <Line form={form} name="address" label="By the address of its profile" size="sm" placeholder="https://" />
            <Button type="submit" size="sm" variant="outline" mt="26px" loading={busy === 'address'}>
              Fetch
            </Button>
          </Flex>
        </chakra.form>
        <Flex gap="8px" wrap="wrap" align="center">
          <FileUpload.Root
            w="auto"
            onFileAccept={({ files: [file] }) => file && void file.text().then(text => add({ text }, 'file'))}
          >
            <FileUpload.HiddenInput aria-label="The file of a library" />
            <FileUpload.Trigger asChild>
              <Button size="sm" variant="outline" loading={busy === 'file'}>
                Bring its file
              </Button>
            </FileUpload.Trigger>
          </FileUpload.Root>
          <Button size="sm" variant="outline" loading={busy === 'bare'} onClick={() => void add(BARE, 'bare')}>
            Begin with an empty one
          </Button>
        </Flex>
        {administers && (
          <chakra.label fontSize="14px" display="flex" gap="8px" alignItems="center">
            <input type="checkbox" checked={forAll} onChange={e => setForAll(e.target.checked)} />
            For all who work here
          </chakra.label>
        )}
      </Stack>
    </PlainDialog>
  )
}

interface FoundLibraries {
  libraries: readonly { name: string; place: string; address: string }[]
  of: number
  unread: number
}

function Found({
  found,
  busy,
  add,
}: {
  found: FoundLibraries | undefined
  busy: string | undefined
  add: (address: string) => void
}) {
  if (!found) return null
  const more = found.of - found.libraries.length
  return (
    <>
      <chakra.ul listStyleType="none" mt="6px" maxH="220px" overflow="auto" aria-label="Libraries of the directory">
        {found.libraries.map(l => (
          <Flex as="li" key={l.address} align="center" gap="8px" py="4px" borderTop="1px solid" borderColor="hair">
            <Box flex="1" minW="0">
              <Text fontSize="14px" lineHeight="19px" fontWeight="600">
                {l.name}
              </Text>
              <Text fontSize="12.5px" lineHeight="17px" color="soft">
                {l.place}
              </Text>
            </Box>
            <Button
              size="2xs"
              variant="outline"
              aria-label={`Add ${l.name}`}
              loading={busy === l.address}
              onClick={() => add(l.address)}
            >
              Add
            </Button>
          </Flex>
        ))}
      </chakra.ul>
      <Text fontSize="12.5px" color="soft" role="status">
        {!found.of && 'The directory has none of these words.'}
        {more > 0 && `${more} more: give another word. `}
        {found.unread > 0 &&
          `${found.unread} ${found.unread === 1 ? 'entry' : 'entries'} of the directory cannot be read.`}
      </Text>
    </>
  )
}
