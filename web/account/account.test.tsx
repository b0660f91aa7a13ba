/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { expect, test } from '@jest/globals'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { SignedIn } from '../frame/session'
import { answers, open, posted, sent } from '../test/rig'
import { Accounts } from './accounts'
import { browserOf } from './browser'
import { YourAccount } from './your-account'

const user = { id: 1, name: 'Imre', email: 'i@x.example', role: 'student', mustChange: false }
const session = (more: object = {}) => ({ user: { ...user, ...more }, demo: false })
const FIREFOX = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0'

test.each([
  [FIREFOX, 'Firefox on Linux'],
  [
    'Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/150.0 Safari/537.36',
    'Chrome or Chromium on Windows',
  ],
  [
    'Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 Chrome/150.0 Safari/537.36 Edg/150.0',
    'Edge on Windows',
  ],
  [
    'Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) AppleWebKit/605.1 Version/18.0 Safari/604.1',
    'Safari on iOS',
  ],
  ['curl/8.1', 'curl/8.1'],
  ['', 'An unknown browser'],
])('%s is called %s', (agent, name) => {
  expect(browserOf(agent)).toBe(name)
})

test('a password is checked here, refused there with its field, and changed', async () => {
  answers['GET /account/sessions'] = []
  open(YourAccount, '/')
  await userEvent.type(await screen.findByLabelText('Present password'), 'old')
  await userEvent.type(screen.getByLabelText('New password'), 'short')
  await userEvent.type(screen.getByLabelText('New password, once more'), 'other')
  await userEvent.click(screen.getByRole('button', { name: 'Change the password' }))
  expect(await screen.findByText('A password needs 10 letters or more.')).toBeInTheDocument()
  expect(screen.getByText('The two are not the same.')).toBeInTheDocument()
  expect(sent.some(s => s.method === 'PUT')).toBe(false)
  answers['PUT /account/password'] = () => ({
    status: 422,
    body: {
      code: 'wrong-password',
      title: 'x',
      fields: [{ field: 'current', said: 'Your present password is wrong.' }],
    },
  })
  for (const label of ['New password', 'New password, once more']) {
    await userEvent.clear(screen.getByLabelText(label))
    await userEvent.type(screen.getByLabelText(label), 'moth lantern gravel')
  }
  await userEvent.click(screen.getByRole('button', { name: 'Change the password' }))
  expect(await screen.findByText('Your present password is wrong.')).toBeInTheDocument()
  answers['PUT /account/password'] = { ended: 2 }
  await userEvent.click(screen.getByRole('button', { name: 'Change the password' }))
  expect(await screen.findByText(/2 other browsers are signed out/)).toBeInTheDocument()
  expect(sent.findLast(s => s.method === 'PUT')!.body).toEqual({ current: 'old', password: 'moth lantern gravel' })
  expect(screen.getByLabelText('Present password')).toHaveValue('')
})

test('where one is signed in is listed, and ended one by one', async () => {
  const line = (id: string, here: boolean) => ({
    id,
    agent: FIREFOX,
    began: '2026-10-01T08:00:00Z',
    used: '2026-10-05T08:00:00Z',
    here,
  })
  answers['GET /account/sessions'] = [line('a', true), line('b', false), line('c', false)]
  answers['DELETE /account/sessions/b'] = {}
  open(YourAccount, '/')
  expect(await screen.findByText('Firefox on Linux, this one')).toBeInTheDocument()
  expect(screen.getByRole('button', { name: 'End all others' })).toBeInTheDocument()
  await userEvent.click(screen.getAllByRole('button', { name: 'End' })[0]!)
  await waitFor(() => expect(sent.some(s => s.method === 'DELETE' && s.path === '/account/sessions/b')).toBe(true))
})

test('an administrator makes an account, and its password is shown this once', async () => {
  const line = {
    id: 2,
    email: 'ada@x.example',
    name: 'Ada',
    role: 'student',
    mustChange: false,
    inquiries: 1,
    sessions: 2,
  }
  Object.assign(answers, {
    'GET /session': session({ role: 'administrator' }),
    'GET /accounts': [{ ...line, ...user, role: 'administrator' }, line],
    'POST /accounts': () => ({
      status: 409,
      body: {
        code: 'account-there',
        title: 'x',
        fields: [{ field: 'email', said: 'There is an account of this address already.' }],
      },
    }),
  })
  open(Accounts, '/')
  await userEvent.type(await screen.findByLabelText(/^Name/), 'Ada')
  await userEvent.type(screen.getByLabelText(/^E-mail address/), 'ada@x.example')
  await userEvent.click(screen.getByRole('button', { name: 'Make the account' }))
  expect(await screen.findByText('There is an account of this address already.')).toBeInTheDocument()
  answers['POST /accounts'] = { id: 3, password: 'abcd-efgh-jkmn-pqrs' }
  await userEvent.click(screen.getByRole('button', { name: 'Make the account' }))
  expect(await screen.findByText('abcd-efgh-jkmn-pqrs')).toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: 'Done' }))
  expect(screen.queryByText('abcd-efgh-jkmn-pqrs')).toBeNull()
  // nobody resets their own password here
  const mine = screen.getAllByRole('row').find(r => within(r).queryByText('Imre'))!
  expect(within(mine).queryByRole('button')).toBeNull()
  answers['POST /accounts/2/password'] = { password: '2345-6789-abcd-efgh', ended: 2 }
  await userEvent.click(screen.getByRole('button', { name: 'New password for Ada' }))
  expect(await screen.findByText('2345-6789-abcd-efgh')).toBeInTheDocument()
  expect(posted('/accounts/2/password')).toHaveLength(1)
})

test('to a student the page of accounts is not there, and nothing is asked', async () => {
  open(Accounts, '/')
  expect(await screen.findByText('This page is for administrators')).toBeInTheDocument()
  expect(sent.some(s => s.path === '/accounts')).toBe(false)
})

test('who signs in by the form goes on; with a password of an administrator, to choosing one', async () => {
  answers['GET /session'] = { user: null, demo: false }
  answers['POST /session'] = () => ({
    status: 401,
    body: { code: 'wrong-sign-in', title: 'E-mail address or password is wrong.' },
  })
  open(SignedIn, '/')
  await userEvent.type(await screen.findByLabelText(/^E-mail address/), 'i@x.example')
  await userEvent.type(screen.getByLabelText(/^Password/), 'abcd-efgh-jkmn-pqrs')
  await userEvent.click(screen.getByRole('button', { name: 'Sign in' }))
  expect(await screen.findByText('E-mail address or password is wrong.')).toBeInTheDocument()
  answers['POST /session'] = session({ mustChange: true })
  await userEvent.click(screen.getByRole('button', { name: 'Sign in' }))
  expect(await screen.findByText('A password of your own')).toBeInTheDocument()
})
