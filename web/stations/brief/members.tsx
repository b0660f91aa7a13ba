import { Box, Button, chakra, Flex, NativeSelect, Table, Text } from '@chakra-ui/react'
import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { api, type Answer } from '../../../core/schema/api'
import { memberGiven } from '../../../core/schema/api/inquiries'
import { call } from '../../api/client'
import { useChange, useOf } from '../../api/hooks'
import { AskDialog } from '../../frame/ask-dialog'
import { Choice, Line, useShaped } from '../../frame/form'
import { useHere } from '../../frame/inquiry-frame'
import { Failed, Heading, tell, tellError, Waiting } from '../../frame/parts'

type MemberLine = Answer<'members'>[number]
const ROLES = ['owner', 'reader'] as const
type Role = (typeof ROLES)[number]
const MAY: Record<Role, string> = { owner: 'works on it', reader: 'looks at it' }

/** Who is in the inquiry, and taking others in: to work on it or to look at it. */
export function Members() {
  const { inquiry, mayWrite } = useHere()
  const list = useOf(inquiry.id, api.members)
  return (
    <Box maxW="820px" mx="auto" px="24px" py="28px">
      <chakra.h1 fontFamily="serif" fontSize="24px" lineHeight="32px" fontWeight="600">
        Who is in this inquiry
      </chakra.h1>
      <Text color="soft" mb="20px">
        Who works on it decides, writes and hands in as you do. Who looks at it, a teacher or a librarian, sees all of
        it and changes nothing. Copies open to others where they are open to everybody, or where who brought them passed
        them on.
      </Text>
      {list.isPending && <Waiting />}
      {list.isError && <Failed error={list.error} again={() => void list.refetch()} />}
      {list.data && <Everybody members={list.data} />}
      {mayWrite && <TakeIn />}
      {list.data && <Leave members={list.data} />}
    </Box>
  )
}

function Everybody({ members }: { members: readonly MemberLine[] }) {
  const { inquiry, mayWrite } = useHere()
  const change = useChange(inquiry.id, api.changeMember, ({ id, role }: { id: number; role: Role }) => ({
    ...{ params: { member: id }, body: { role } },
  }))
  const drop = useChange(inquiry.id, api.dropMember, (id: number) => ({ params: { member: id } }))
  const [leaving, setLeaving] = useState<MemberLine>()
  return (
    <>
      <Table.Root size="sm">
        <Table.Header>
          <Table.Row bg="transparent">
            <Table.ColumnHeader>Name</Table.ColumnHeader>
            <Table.ColumnHeader w="150px">What they may do</Table.ColumnHeader>
            <Table.ColumnHeader />
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {members.map(m => (
            <Table.Row key={m.id} bg="transparent">
              <Table.Cell maxW="0" w="full">
                <Text truncate title={m.name} fontWeight={m.isMe ? '600' : undefined}>
                  {m.name}
                  {m.isMe && (
                    <Text as="span" color="soft" fontWeight="400">
                      , you
                    </Text>
                  )}
                </Text>
                <Text truncate color="soft" fontSize="13px" title={m.email}>
                  {m.email}
                </Text>
              </Table.Cell>
              <Table.Cell whiteSpace="nowrap">
                {mayWrite && !m.isFirst && !m.isMe ? (
                  <NativeSelect.Root size="xs">
                    <NativeSelect.Field
                      aria-label={`What ${m.name} may do`}
                      value={m.role}
                      onChange={e =>
                        change.mutate(
                          { id: m.id, role: e.target.value === 'owner' ? 'owner' : 'reader' },
                          { onError: tellError },
                        )
                      }
                    >
                      {ROLES.map(r => (
                        <option key={r} value={r}>
                          {MAY[r]}
                        </option>
                      ))}
                    </NativeSelect.Field>
                    <NativeSelect.Indicator />
                  </NativeSelect.Root>
                ) : (
                  <>
                    {MAY[m.role]}
                    {m.isFirst && (
                      <Text color="soft" fontSize="13px">
                        {m.isMe ? 'your' : 'their'} libraries are asked
                      </Text>
                    )}
                  </>
                )}
              </Table.Cell>
              <Table.Cell textAlign="right">
                {mayWrite && !m.isFirst && !m.isMe && (
                  <Button size="2xs" variant="ghost" onClick={() => setLeaving(m)} aria-label={`Take ${m.name} out`}>
                    Take out
                  </Button>
                )}
              </Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
      <AskDialog
        open={leaving !== undefined}
        close={() => setLeaving(undefined)}
        title={`Take ${leaving?.name ?? ''} out?`}
        leave="Keep them"
        word="Take out"
        go={() => {
          if (leaving) drop.mutate(leaving.id, { onError: tellError })
          setLeaving(undefined)
        }}
      >
        What they decided, noted and wrote stays. Copies that are here by their right alone open to nobody then.
      </AskDialog>
    </>
  )
}

function TakeIn() {
  const { inquiry } = useHere()
  const client = useQueryClient()
  const { form, submit, busy, trouble } = useShaped(memberGiven, { email: '', role: 'reader' as Role }, async body => {
    await call(api.addMember, { params: { inquiry: inquiry.id }, body })
    await client.invalidateQueries({ queryKey: ['inquiry', inquiry.id] })
    tell(`${body.email} is in it now: it is among their inquiries.`)
  })
  return (
    <chakra.form onSubmit={e => (e.preventDefault(), submit())} noValidate mt="28px">
      <Heading>Take somebody in</Heading>
      <Flex gap="12px" align="flex-start" wrap="wrap">
        <Line
          form={form}
          name="email"
          label="E-mail address of their account"
          type="email"
          w="300px"
          size="sm"
          maxLength={190}
          autoComplete="off"
        />
        <Box w="160px">
          <Choice
            form={form}
            name="role"
            label="What they may do"
            of={['reader', 'owner'] as const}
            say={r => MAY[r]}
          />
        </Box>
        <Button type="submit" size="sm" colorPalette="vine" mt="26px" loading={busy}>
          Take in
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

/** Leaves the inquiry, where somebody else goes on with it. */
function Leave({ members }: { members: readonly MemberLine[] }) {
  const { inquiry } = useHere()
  const client = useQueryClient()
  const go = useNavigate()
  const [asking, setAsking] = useState(false)
  if (!members.some(m => m.role === 'owner' && !m.isMe)) return null
  const leave = async () => {
    try {
      await call(api.leave, { params: { inquiry: inquiry.id } })
      await client.invalidateQueries({ queryKey: ['inquiries'] })
      void go('/')
    } catch (e) {
      tellError(e)
    }
  }
  return (
    <Box mt="40px" pt="16px" borderTop="1px solid" borderColor="hair">
      <Button variant="ghost" size="sm" color="rust" onClick={() => setAsking(true)}>
        Leave this inquiry …
      </Button>
      <AskDialog
        open={asking}
        close={() => setAsking(false)}
        title={`Leave “${inquiry.title}”?`}
        leave="Stay"
        word="Leave"
        go={() => void leave()}
      >
        The others go on with it. It is not among your inquiries any more, until one of them takes you in again.
      </AskDialog>
    </Box>
  )
}
