/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { beforeEach, expect, test } from '@jest/globals'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { Brief } from '../stations/brief/brief'
import { answers, open, posted, sent } from './rig'

const ADA = { id: 1, name: 'Ada', email: 'ada@x.example', role: 'owner', isMe: true, isFirst: true }
const BRAM = { id: 2, name: 'Bram', email: 'bram@x.example', role: 'reader', isMe: false, isFirst: false }
const to = (method: string, path: string) => sent.filter(s => s.method === method && s.path === path).map(s => s.body)

beforeEach(() => {
  answers['GET /inquiries/1/members'] = [ADA, BRAM]
  answers['POST /inquiries/1/members'] = { id: 3 }
  answers['PUT /inquiries/1/members/2'] = {}
  answers['DELETE /inquiries/1/members/2'] = {}
  open(Brief, 'brief?view=members')
})

test('says who is in it and what each may do, and lets others do more', async () => {
  const rows = await screen.findAllByRole('row')
  expect(rows.map(r => r.textContent)).toEqual([
    expect.stringContaining('Name'),
    expect.stringMatching(/Ada, you.*works on it.*your libraries are asked/),
    expect.stringContaining('Bram'),
  ])
  await userEvent.selectOptions(screen.getByRole('combobox', { name: 'What Bram may do' }), 'works on it')
  await waitFor(() => expect(to('PUT', '/inquiries/1/members/2')).toEqual([{ role: 'owner' }]))
  // nobody else works on it yet
  expect(screen.queryByRole('button', { name: /Leave this inquiry/ })).toBeNull()
})
test('takes somebody in by the address of their account; what is refused is said there, and stays', async () => {
  answers['POST /inquiries/1/members'] = () => ({
    status: 422,
    body: {
      code: 'nobody-there',
      title: 'Nobody has an account.',
      fields: [{ field: 'email', said: 'Nobody has an account.' }],
    },
  })
  const field = await screen.findByRole('textbox', { name: /E-mail address/ })
  await userEvent.type(field, 'cleo')
  await userEvent.click(screen.getByRole('button', { name: 'Take in' }))
  expect(await screen.findByText('This is not an e-mail address.')).toBeInTheDocument()
  expect(posted('/inquiries/1/members')).toEqual([])
  await userEvent.type(field, '@x.example{Enter}')
  expect(await screen.findByText('Nobody has an account.')).toBeInTheDocument()
  expect(field).toHaveValue('cleo@x.example')
  answers['POST /inquiries/1/members'] = { id: 3 }
  await userEvent.selectOptions(screen.getByRole('combobox', { name: 'What they may do' }), 'works on it')
  await userEvent.click(screen.getByRole('button', { name: 'Take in' }))
  await waitFor(() => expect(field).toHaveValue(''))
  expect(posted('/inquiries/1/members').at(-1)!.body).toEqual({ email: 'cleo@x.example', role: 'owner' })
})
test('takes somebody out after asking', async () => {
  await userEvent.click(await screen.findByRole('button', { name: 'Take Bram out' }))
  const dialog = await screen.findByRole('alertdialog', { name: 'Take Bram out?' })
  await userEvent.click(within(dialog).getByRole('button', { name: 'Take out' }))
  await waitFor(() => expect(to('DELETE', '/inquiries/1/members/2')).toHaveLength(1))
})
