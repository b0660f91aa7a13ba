/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { beforeEach, expect, jest, test } from '@jest/globals'
import { cleanup, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { Answer } from '../../core/schema/api'
import { FileWithMarks, MarksInFile } from '../stations/read/file-marks'
import { answers, open, posted, sent } from './rig'

type Told = Answer<'marksOfFile'>
const mark = (key: string, more: Partial<Told['marks'][number]> = {}): Told['marks'][number] => ({
  ...{ key, page: 2, label: '147', how: 'highlighted', kind: 'quoted', quote: `Words ${key}.`, note: '', by: 'Mara' },
  ...{ at: '2026-09-12T10:15:00.000Z', colour: '#ffeb66', boxes: [], isNoted: false, ...more },
})
const COPY = { id: 9, title: 'Moths at lamps' }
const give = (marks: Told['marks'], more: Partial<Told> = {}) => {
  answers['GET /inquiries/1/copies/9/marks'] = { marks, drawings: 0, left: 0, unread: 0, ...more }
}
const In = () => <MarksInFile copy={COPY} />
let noted = { isNoted: true, isUnderWay: false }
const Out = () => <FileWithMarks copy={COPY} {...noted} />

beforeEach(() => {
  noted = { isNoted: true, isUnderWay: false }
  answers['GET /inquiries/1/strands'] = [{ id: 4, name: 'Lamps', place: 1 }]
})

test('marks of a file are offered by colour, noted on a strand each, and that is taken back by a key', async () => {
  give(
    [
      mark('a'),
      mark('b', { colour: '#99e6b3', note: 'Which?' }),
      mark('c'),
      mark('d', { isNoted: true }),
      mark('e', { kind: 'figure', quote: '', how: 'boxed', colour: null }),
    ],
    { drawings: 3, unread: 1 },
  )
  answers['POST /inquiries/1/copies/9/marks'] = (body: unknown) => ({
    status: 201,
    body: { noted: (body as { marks: object[] }).marks.map((_, i) => 20 + i) },
  })
  answers['DELETE /inquiries/1/passages'] = () => ({ status: 204, body: undefined })
  open(In, 'read')
  expect(await screen.findByText('4 marks were made in this file elsewhere.')).toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: 'Look through them' }))
  const dialog = await screen.findByRole('dialog')
  expect(dialog).toHaveTextContent('Made by Mara.')
  expect(dialog).toHaveTextContent(
    '3 drawings without words, those of 1 page that cannot be read stay in the file alone.',
  )
  expect(dialog).toHaveTextContent('A part of the page, without a note.')
  const yellow = within(screen.getByRole('group', { name: 'Marks of a colour: 2' }))
  await userEvent.selectOptions(yellow.getByLabelText('Strand of these marks'), 'on “Lamps”')
  await userEvent.click(yellow.getByRole('checkbox', { name: /Words c/ }))
  expect(yellow.getByRole('checkbox', { name: '2 marks' })).toBePartiallyChecked()
  await userEvent.click(within(dialog).getByRole('button', { name: 'Note 3 passages' }))
  await waitFor(() =>
    expect(posted('/inquiries/1/copies/9/marks')[0]?.body).toEqual({
      marks: [
        { key: 'a', strand: 4 },
        { key: 'b', strand: null },
        { key: 'e', strand: null },
      ],
    }),
  )
  const said = (await screen.findByText('Noted: 3 passages.')).closest<HTMLElement>('[data-part=root]')!
  await userEvent.click(within(said).getByRole('button', { name: 'Undo' }))
  await waitFor(() => expect(sent.find(s => s.method === 'DELETE')).toMatchObject({ body: { passages: [20, 21, 22] } }))
})

test('a colour as a whole is left, and of nothing nothing is noted; what is noted already is not offered', async () => {
  give([mark('a', { by: 'Ivo' }), mark('b')])
  open(In, 'read')
  await userEvent.click(await screen.findByRole('button', { name: 'Look through them' }))
  expect(await screen.findByText(/highlighted, Ivo, 12 September 2026/)).toBeInTheDocument()
  await userEvent.click(screen.getByRole('checkbox', { name: '2 marks' }))
  expect(screen.getByRole('button', { name: 'Note them' })).toBeDisabled()
  await userEvent.click(screen.getByRole('checkbox', { name: '2 marks' }))
  expect(screen.getByRole('button', { name: 'Note 2 passages' })).toBeEnabled()
})

test('a file whose marks are noted, and one without any, say nothing', async () => {
  give([mark('a', { isNoted: true })])
  open(In, 'read')
  await waitFor(() => expect(sent.some(s => s.path === '/inquiries/1/copies/9/marks')).toBe(true))
  expect(screen.queryByText(/made in this file/)).toBeNull()
})

test('the marked file is saved; one that is locked asks for its password, and one that cannot be written says why', async () => {
  const saved: string[] = []
  URL.createObjectURL = () => 'blob:1'
  URL.revokeObjectURL = () => undefined
  const click = jest.spyOn(HTMLAnchorElement.prototype, 'click').mockImplementation(function (this: HTMLAnchorElement) {
    saved.push(this.href)
  })
  const refuse = (code: string, title: string) => ({ status: 422, body: { code, title } })
  answers['POST /inquiries/1/copies/9/marked'] = (body: unknown) => {
    const { password } = body as { password?: string }
    if (password === 'moth') return { body: {} }
    return refuse('locked', password ? 'This is not the password that the PDF asks for.' : 'The PDF is locked.')
  }
  open(Out, 'read')
  await userEvent.click(await screen.findByRole('button', { name: 'Marked PDF' }))
  const field = await screen.findByLabelText('Password of the file')
  await userEvent.type(field, 'owl{Enter}')
  expect(await screen.findByText('This is not the password that the PDF asks for.')).toBeInTheDocument()
  await userEvent.clear(field)
  await userEvent.type(field, 'moth{Enter}')
  await waitFor(() => expect(saved).toEqual(['blob:1']))
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull())
  answers['POST /inquiries/1/copies/9/marked'] = () => refuse('not-written', 'Its makers allow no notes in the file.')
  await userEvent.click(screen.getByRole('button', { name: 'Marked PDF' }))
  expect(await screen.findByText('Its makers allow no notes in the file.')).toBeInTheDocument()
  click.mockRestore()
})

test('the marked file waits for what is on its way, and is not there where nothing is noted', async () => {
  noted = { isNoted: true, isUnderWay: true }
  open(Out, 'read')
  expect(await screen.findByRole('button', { name: 'Marked PDF' })).toBeDisabled()
  cleanup()
  noted = { isNoted: false, isUnderWay: false }
  open(
    () => (
      <>
        <Out />
        <p>Beside it</p>
      </>
    ),
    'read',
  )
  expect(await screen.findByText('Beside it')).toBeInTheDocument()
  expect(screen.queryByRole('button', { name: 'Marked PDF' })).toBeNull()
})
