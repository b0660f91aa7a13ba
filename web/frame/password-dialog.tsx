import { Button, chakra, Flex, Stack, Text } from '@chakra-ui/react'
import { object, string } from 'yup'
import { FormDialog, Line, useShaped } from './form'
import { Notice } from './parts'

const shape = object({ password: string().required('Write the password of the file.') })

/**
 * Asks for the password of a file.
 * @param file its name
 * @param why what it is opened for
 */
export function PasswordDialog<Got extends { locked?: boolean | undefined; said: string }>({
  file,
  why,
  act = 'Open and read it',
  send,
  done,
  close,
}: {
  file: string
  why: string
  /** What the key is called. */
  act?: string
  send: (password: string) => Promise<Got>
  done: (got: Got) => void
  close: () => void
}) {
  const { form, submit, busy, trouble } = useShaped(
    shape,
    { password: '' },
    async ({ password }) => {
      const got = await send(password)
      if (got.locked) throw new Error(got.said)
      done(got)
    },
    { stays: true },
  )
  return (
    <FormDialog
      title="This PDF is locked"
      submit={submit}
      close={close}
      buttons={
        <>
          <Button variant="outline" onClick={close}>
            Leave it
          </Button>
          <Button type="submit" colorPalette="vine" loading={busy}>
            {act}
          </Button>
        </>
      }
    >
      <Text fontSize="14px" overflowWrap="anywhere">
        “{file}” opens with its password alone. It is opened once, {why}; the password is not kept, so that it is asked
        for again whenever the file is opened.
      </Text>
      <Line form={form} name="password" label="Password of the file" type="password" autoComplete="off" autoFocus />
      {trouble && <Notice voice="rust">{trouble.message}</Notice>}
    </FormDialog>
  )
}

/** Asks for the password of a copy that is to be read; it does not leave the browser. */
export function Unlock({ wrong, open }: { wrong: boolean; open: (password: string) => void }) {
  const { form, submit } = useShaped(shape, { password: '' }, ({ password }) => Promise.resolve(open(password)))
  return (
    <chakra.form
      onSubmit={e => (e.preventDefault(), submit())}
      noValidate
      maxW="420px"
      mx="auto"
      mt="40px"
      p="18px"
      bg="surface"
      border="1px solid"
      borderColor="hair"
      borderRadius="md"
    >
      <Stack gap="12px">
        <Text fontSize="14px">
          This copy is locked. Its password was not kept, and does not leave your browser now.
        </Text>
        <Line form={form} name="password" label="Password of the file" type="password" autoComplete="off" autoFocus />
        {wrong && <Notice voice="rust">This is not the password that the PDF asks for.</Notice>}
        <Flex justify="flex-end">
          <Button type="submit" size="sm" colorPalette="vine">
            Open it
          </Button>
        </Flex>
      </Stack>
    </chakra.form>
  )
}
