/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { beforeEach, expect, test } from '@jest/globals'
import { screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useSession } from '../api/session'
import { LetterDialog } from '../frame/letter-dialog'
import { answers, open, posted } from './rig'

const OWN = 'i@x.example'
const PARTS = {
  ...{ canMail: true, works: 2, mostBytes: 7_000_000 },
  copies: [
    { work: 3, title: 'Moths', version: 'version of record', bytes: 2_340_000, shared: false },
    { work: 8, title: 'Owls', version: 'preprint', bytes: 1_000_000, shared: true },
  ],
}
let closed = 0
/** It opens over what is shown to who is signed in. */
const Ready = ({ works }: { works?: number[] }) =>
  useSession().data ? <LetterDialog {...(works ? { works } : {})} close={() => closed++} /> : null
const Named = () => <Ready works={[3, 8]} />
const Whole = () => <Ready />
const field = (name: string) => screen.findByRole('textbox', { name })
const sentLetters = () => posted('/inquiries/1/letter').map(s => s.body)

beforeEach(() => {
  closed = 0
  answers['POST /inquiries/1/letter/parts'] = PARTS
  answers['POST /inquiries/1/letter'] = { to: OWN, files: [], left: ['Moths'], kept: [] }
})

test('works go to oneself, with their copies; what had no room is told', async () => {
  open(Named, 'sift')
  expect(await screen.findByRole('dialog', { name: 'Mail 2 works' })).toBeInTheDocument()
  expect(await field('To')).toHaveValue(OWN)
  await userEvent.click(screen.getByRole('checkbox', { name: '2 copies in hand, 3.3 MB' }))
  await userEvent.selectOptions(screen.getByRole('combobox', { name: 'Citations for a program' }), 'RIS')
  await userEvent.type(await field('A note'), 'For Monday.')
  await userEvent.click(screen.getByRole('button', { name: 'Send' }))
  await waitFor(() => expect(closed).toBe(1))
  expect(sentLetters()).toEqual([
    { to: OWN, note: 'For Monday.', document: null, citations: 'ris', copies: true, works: [3, 8] },
  ])
  expect(await screen.findByText(`Mailed to ${OWN}. There was no room for 1 copy.`)).toBeInTheDocument()
})
test('to others the copies go that are open; a letter that was refused keeps what was written', async () => {
  answers['POST /inquiries/1/letter'] = () => ({
    status: 502,
    body: { code: 'mail-failed', title: 'The mail could not be sent.' },
  })
  open(Whole, 'compose/hand-in')
  await userEvent.click(await screen.findByRole('checkbox', { name: /copies in hand/ }))
  await userEvent.clear(await field('To'))
  expect(screen.getByRole('checkbox', { name: '1 copy open to everybody, 1.0 MB' })).toBeChecked()
  expect(screen.getByText('1 copy is here by your own right, and goes to your own address alone.')).toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: 'Send' }))
  expect(await screen.findByText('Say to whom it goes.')).toBeInTheDocument()
  await userEvent.type(await field('To'), 'teacher@halverane.example')
  await userEvent.click(screen.getByRole('button', { name: 'Send' }))
  expect(await screen.findByText('The mail could not be sent.')).toBeInTheDocument()
  expect(sentLetters()).toEqual([
    { to: 'teacher@halverane.example', note: '', document: 'pdf', citations: null, copies: true },
  ])
  expect(await field('To')).toHaveValue('teacher@halverane.example')
  expect(closed).toBe(0)
})
test('without a mail server it says what can be done instead', async () => {
  answers['POST /inquiries/1/letter/parts'] = { ...PARTS, canMail: false }
  open(Whole, 'compose/hand-in')
  expect(await screen.findByText(/No mail is set up here/)).toBeInTheDocument()
})
