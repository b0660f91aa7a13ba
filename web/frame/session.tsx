import { credentials } from '../../core/schema/api/accounts'
import { Line, useShaped } from './form'
import { api } from '../../core/schema/api'
import { Box, Button, chakra, Flex, Menu, Portal, Stack, Text } from '@chakra-ui/react'
import { useQueryClient } from '@tanstack/react-query'
import { Menu as MenuIcon, Moon, Sun } from 'lucide-react'
import { useState, type ReactNode } from 'react'
import { Link, Outlet } from 'react-router'
import { call } from '../api/client'
import { useSession, type Session } from '../api/session'
import { setMode, useMode } from './colour-mode'
import { AnewDialog, DeskItems } from './desk-menu'
import { useSending } from '../outbox/use-outbox'
import { PasswordForm } from './password-form'
import { KeysDialog } from './keys-dialog'
import { Notice, Waiting } from './parts'

/** Everything stands behind one sign-in. */
export function SignedIn() {
  const session = useSession()
  useSending()
  if (session.isPending)
    return <Waiting what={session.failureReason ? 'Vine Path does not answer; waiting for it' : 'Opening'} />
  if (!session.data?.user) return <SignIn />
  if (session.data.user.mustChange) return <ChoosePassword />
  return (
    <>
      <Outlet />
      <KeysDialog />
    </>
  )
}

/** After a sign-in with a password that an administrator made: nothing else before one of one's own. */
function ChoosePassword() {
  const client = useQueryClient()
  return (
    <Flex minH="100vh" align="center" justify="center" p="24px">
      <Box w="380px">
        <chakra.h1 fontFamily="serif" fontSize="28px" lineHeight="36px" fontWeight="600">
          A password of your own
        </chakra.h1>
        <Text color="soft" mb="20px">
          The one you signed in with was made for you and is good for this once.
        </Text>
        <PasswordForm done={() => void client.invalidateQueries({ queryKey: ['session'] })} />
      </Box>
    </Flex>
  )
}

function SignIn() {
  const client = useQueryClient()
  const { form, submit, busy, trouble } = useShaped(credentials, { email: '', password: '' }, async body => {
    const { user } = await call(api.signIn, { body })
    // what another user was shown is forgotten; who is there now is told to whoever asks already
    client.removeQueries({ predicate: q => q.queryKey[0] !== 'session' })
    client.setQueryData<Session>(['session'], before => ({ demo: before?.demo ?? false, user }))
  })
  return (
    <Flex minH="100vh" align="center" justify="center" p="24px">
      <chakra.form onSubmit={e => (e.preventDefault(), submit())} w="340px" noValidate>
        <chakra.h1 fontFamily="serif" fontSize="28px" lineHeight="36px" fontWeight="600">
          Vine Path
        </chakra.h1>
        <Text color="soft" mb="24px">
          From a question to an annotated bibliography.
        </Text>
        <Stack gap="16px">
          <Line form={form} name="email" label="E-mail address" type="email" autoComplete="username" autoFocus />
          <Line form={form} name="password" label="Password" type="password" autoComplete="current-password" />
          {trouble && <Notice voice="rust">{trouble.message}</Notice>}
          <Button type="submit" colorPalette="vine" loading={busy}>
            Sign in
          </Button>
        </Stack>
      </chakra.form>
    </Flex>
  )
}

/** Light or dark, keys, who is signed in: one menu at the right. */
export function AccountMenu({ children }: { children?: ReactNode }) {
  const session = useSession()
  const client = useQueryClient()
  const mode = useMode()
  const [anew, setAnew] = useState(false)
  const signOut = async () => {
    await call(api.signOut, {})
    client.clear()
    window.location.assign('/')
  }
  return (
    <>
      <AnewDialog open={anew} close={() => setAnew(false)} />
      <Menu.Root positioning={{ placement: 'bottom-end' }}>
        <Menu.Trigger asChild>
          <Button variant="ghost" size="sm" px="8px" aria-label="Menu" color="soft">
            <MenuIcon size={18} />
          </Button>
        </Menu.Trigger>
        <Portal>
          <Menu.Positioner>
            <Menu.Content minW="220px">
              <Box px="12px" py="8px" borderBottom="1px solid" borderColor="hair" mb="4px">
                <Text fontWeight="600" fontSize="14px">
                  {session.data?.user?.name}
                </Text>
                <Text fontSize="12.5px" color="soft">
                  {session.data?.user?.email}
                </Text>
              </Box>
              <DeskItems demo={Boolean(session.data?.demo)} anew={() => setAnew(true)} />
              {children}
              <Menu.Item value="mode" onClick={() => setMode(mode === 'dark' ? 'light' : 'dark')}>
                {mode === 'dark' ? <Sun size={15} /> : <Moon size={15} />}{' '}
                {mode === 'dark' ? 'Light page' : 'Dark page'}
              </Menu.Item>
              <Menu.Item value="keys" onClick={() => window.dispatchEvent(new Event('vine-help'))}>
                Keys
              </Menu.Item>
              <Menu.Item value="catalogues" asChild>
                <Link to="/catalogues">Catalogues</Link>
              </Menu.Item>
              <Menu.Item value="libraries" asChild>
                <Link to="/libraries">Your libraries</Link>
              </Menu.Item>
              <Menu.Item value="asked" asChild>
                <Link to="/asked">Asked for</Link>
              </Menu.Item>
              <Menu.Item value="account" asChild>
                <Link to="/account">Your account</Link>
              </Menu.Item>
              {session.data?.user?.role === 'administrator' && (
                <Menu.Item value="accounts" asChild>
                  <Link to="/accounts">Accounts</Link>
                </Menu.Item>
              )}
              <Menu.Item value="out" onClick={() => void signOut()}>
                Sign out
              </Menu.Item>
            </Menu.Content>
          </Menu.Positioner>
        </Portal>
      </Menu.Root>
    </>
  )
}
