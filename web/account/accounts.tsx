import { newAccount } from '../../core/schema/api/accounts'
import { Line, useShaped } from '../frame/form'
import { api } from '../../core/schema/api'
import { Box, Button, chakra, Flex, Input, Table, Text } from '@chakra-ui/react'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { call } from '../api/client'
import { useSession } from '../api/session'
import { Empty, Failed, Heading, Homeward, tell, tellError, Waiting } from '../frame/parts'
import { Page } from './page'
import { copyText } from '../frame/clipboard'

interface AccountLine {
  id: number
  email: string
  name: string
  role: 'student' | 'administrator'
  mustChange: boolean
  inquiries: number
  sessions: number
}
interface Made {
  name: string
  email: string
  password: string
}

/**
 * Accounts, for administrators: a new one, a new password, ending what is signed in. What is in an inquiry stays its
 * owner's.
 */
export function Accounts() {
  const me = useSession().data?.user
  const client = useQueryClient()
  const list = useQuery({
    queryKey: ['accounts'],
    queryFn: () => call(api.accounts, {}),
    enabled: me?.role === 'administrator',
  })
  const [words, setWords] = useState('')
  const [made, setMade] = useState<Made>()
  const again = () => void client.invalidateQueries({ queryKey: ['accounts'] })
  if (me && me.role !== 'administrator')
    return (
      <Page title="Accounts" about="For administrators">
        <Empty title="This page is for administrators" action={<Homeward />}>
          They make accounts and passwords. Ask one of them if you need either.
        </Empty>
      </Page>
    )
  const reset = async (a: AccountLine) => {
    try {
      const { password } = await call(api.passingPassword, { params: { account: a.id } })
      setMade({ ...a, password })
    } catch (e) {
      tellError(e)
    }
    again()
  }
  const end = async (a: AccountLine) => {
    try {
      await call(api.endAccountSessions, { params: { account: a.id } })
      tell(`${a.name} is signed out everywhere.`)
    } catch (e) {
      tellError(e)
    }
    again()
  }
  const shown = list.data?.filter(a => `${a.name} ${a.email}`.toLowerCase().includes(words.trim().toLowerCase()))
  return (
    <Page title="Accounts" about="Who can sign in. What is in an inquiry stays with its owner: it is not shown here.">
      {made && <Once made={made} close={() => setMade(undefined)} />}
      <NewAccount made={m => (setMade(m), again())} />
      {list.isPending && <Waiting />}
      {list.isError && <Failed error={list.error} again={() => void list.refetch()} />}
      {shown && (
        <>
          <Flex align="flex-end" gap="16px" mt="28px" mb="6px">
            <Box flex="1">
              <Heading aside={`${shown.length} of ${list.data!.length}`}>Everybody</Heading>
            </Box>
            <Input
              size="xs"
              w="220px"
              bg="surface"
              placeholder="a name or address"
              aria-label="Look for an account"
              value={words}
              onChange={e => setWords(e.target.value)}
            />
          </Flex>
          <Table.Root size="sm">
            <Table.Header>
              <Table.Row bg="transparent">
                <Table.ColumnHeader>Name</Table.ColumnHeader>
                <Table.ColumnHeader>E-mail address</Table.ColumnHeader>
                <Table.ColumnHeader>Role</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="right">Inquiries</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="right" whiteSpace="nowrap">
                  Signed in
                </Table.ColumnHeader>
                <Table.ColumnHeader />
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {shown.map(a => (
                <Table.Row key={a.id} bg="transparent">
                  <Table.Cell maxW="180px" truncate title={a.name} fontWeight={a.id === me?.id ? '600' : undefined}>
                    {a.name}
                  </Table.Cell>
                  <Table.Cell maxW="240px" truncate color="soft" title={a.email}>
                    {a.email}
                  </Table.Cell>
                  <Table.Cell whiteSpace="nowrap">
                    {a.role}
                    {a.mustChange && <chakra.span color="amber"> · first sign-in open</chakra.span>}
                  </Table.Cell>
                  <Table.Cell textAlign="right" fontVariantNumeric="tabular-nums">
                    {a.inquiries}
                  </Table.Cell>
                  <Table.Cell textAlign="right" fontVariantNumeric="tabular-nums">
                    {a.sessions}
                  </Table.Cell>
                  <Table.Cell textAlign="right" whiteSpace="nowrap">
                    {a.id === me?.id ? (
                      <Link to="/account">Your account</Link>
                    ) : (
                      <>
                        <Button
                          size="2xs"
                          variant="outline"
                          aria-label={`New password for ${a.name}`}
                          onClick={() => void reset(a)}
                        >
                          New password
                        </Button>{' '}
                        <Button
                          size="2xs"
                          variant="ghost"
                          disabled={!a.sessions}
                          aria-label={`Sign ${a.name} out everywhere`}
                          onClick={() => void end(a)}
                        >
                          Sign out
                        </Button>
                      </>
                    )}
                  </Table.Cell>
                </Table.Row>
              ))}
            </Table.Body>
          </Table.Root>
        </>
      )}
    </Page>
  )
}

/** A password that was made, shown this once. */
function Once({ made, close }: { made: Made; close: () => void }) {
  return (
    <Flex
      bg="vine.soft"
      borderRadius="md"
      px="16px"
      py="12px"
      mb="20px"
      gap="16px"
      align="center"
      role="status"
      fontSize="14px"
      lineHeight="20px"
    >
      <Box flex="1" minW="0">
        <Text>
          A password for one sign-in of <b>{made.name}</b> ({made.email}). It is not shown again; whoever signs in with
          it chooses another at once.
        </Text>
        <Text fontFamily="mono" fontSize="18px" lineHeight="28px" mt="4px" userSelect="all">
          {made.password}
        </Text>
      </Box>
      <Button size="xs" variant="outline" bg="surface" onClick={() => void copyText(made.password, 'Copied.')}>
        Copy
      </Button>
      <Button size="xs" variant="ghost" onClick={close}>
        Done
      </Button>
    </Flex>
  )
}

function NewAccount({ made }: { made: (m: Made) => void }) {
  const { form, submit, busy, trouble } = useShaped(newAccount, { name: '', email: '' }, async body => {
    const { password } = await call(api.addAccount, { body })
    made({ ...body, password })
  })
  return (
    <chakra.form onSubmit={e => (e.preventDefault(), submit())} noValidate>
      <Heading>A new account</Heading>
      <Flex gap="12px" align="flex-start">
        <Line form={form} name="name" label="Name" w="240px" size="sm" maxLength={190} autoComplete="off" />
        <Line
          form={form}
          name="email"
          label="E-mail address"
          type="email"
          w="300px"
          size="sm"
          maxLength={190}
          autoComplete="off"
        />
        <Button type="submit" size="sm" colorPalette="vine" mt="26px" loading={busy}>
          Make the account
        </Button>
      </Flex>
      {trouble && (
        <Text color="rust" fontSize="13px" mt="6px" role="alert">
          {trouble.message}
        </Text>
      )}
    </chakra.form>
  )
}
