/** @jest-environment jsdom */
import { beforeEach, expect, test } from '@jest/globals'
import '@testing-library/jest-dom/jest-globals'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { Answer } from '../../core/schema/api'
import { toAuthor } from '../frame/to-author'
import { Author } from '../stations/trace/author'
import { answers, open, posted, work } from './rig'

type Person = Answer<'author'>['persons'][number]
const pointer = (node: number) => ({
  ...{
    node,
    title: `Of the trail ${node}`,
    authors: 'Lune',
    container: 'Night Papers',
    kind: 'research article' as const,
  },
  ...{ year: 2010, citedBy: 4, reach: 'out of reach' as const },
})
const person = (given: string, works: Person['works'], more: Partial<Person> = {}): Person => ({
  ...{ name: { family: 'Lune', given }, years: [2004, 2010], with: [], words: [], shares: [], isOther: false, works },
  ...{ id: null, withId: 0 },
  ...more,
})
const show = (query = 'family=Lune&given=Mara&of=1') => open(Author, `author?${query}`)

beforeEach(() => {
  answers['GET /inquiries/1/works'] = [
    work(1, { state: 'kept', title: 'Lamps', citedBy: 20 }),
    work(2, { state: 'unread', title: 'Bread', citedBy: null }),
  ]
})

test('their works stand with what they are here; those outside are brought, others of the name stand apart', async () => {
  answers['GET /inquiries/1/author'] = {
    persons: [
      person(
        'Mara H.',
        [
          { work: 1, pointer: null },
          { work: null, pointer: pointer(7) },
        ],
        {
          with: [{ name: { family: 'Vale', given: 'Odo' }, times: 2 }],
          words: [{ word: 'moths', times: 2 }],
        },
      ),
      person('M.', [{ work: 2, pointer: null }], { shares: ['Night Papers'] }),
      person('Mona', [{ work: null, pointer: pointer(8) }], { isOther: true, shares: ['moths'] }),
      person('Mara', [{ work: null, pointer: pointer(9) }]),
    ],
    asked: { of: '', subject: '', last: null },
  }
  answers['POST /inquiries/1/pointers'] = { newWorks: 1, known: 0, works: [], revision: 3 }
  show()
  expect(await screen.findByRole('heading', { level: 1, name: 'Mara H. Lune' })).toBeInTheDocument()
  expect(screen.getByText('2 works known here · 2004–2010 · 1 kept · cited 24 times in all')).toBeInTheDocument()
  expect(screen.getByRole('link', { name: 'Odo Vale' })).toHaveAttribute(
    'href',
    '/inquiries/1/author?family=Vale&given=Odo',
  )
  const theirs = screen.getByRole('list', { name: 'Works of Mara H. Lune' })
  expect(within(theirs).getAllByRole('listitem')[1]).toHaveTextContent('not in your pool')
  await userEvent.click(within(theirs).getByRole('checkbox', { name: 'Choose: Of the trail 7' }))
  await userEvent.click(screen.getByRole('button', { name: 'Bring 1 into the pool' }))
  await waitFor(() => expect(posted('/inquiries/1/pointers').map(s => s.body)).toEqual([{ nodes: [7] }]))
  // others
  expect(screen.getByText('3 more of this name')).toBeInTheDocument()
  expect(screen.getByText(/perhaps the same: also Night Papers/)).toBeInTheDocument()
  expect(screen.getByText(/another given name/)).toBeInTheDocument()
  expect(screen.getByText(/nothing in common but the name/)).toBeInTheDocument()
  expect(screen.getByRole('link', { name: 'M. Lune' })).toHaveAttribute(
    'href',
    '/inquiries/1/author?family=Lune&given=M.&of=2',
  )
  expect(screen.queryByText('Bread')).not.toBeInTheDocument()
  await userEvent.click(screen.getAllByRole('button', { name: '1 work' })[0]!)
  expect(screen.getByText('Bread')).toBeInTheDocument()
})

test('every catalogue is asked for them at once: by the given name where it is written out, else by the family alone', async () => {
  answers['GET /inquiries/1/author'] = { persons: [], asked: { of: '', subject: '', last: null } }
  answers['POST /inquiries/1/sweeps'] = { id: 5, job: 6, repairs: [] }
  show('family=Lune&given=Mara+H.')
  expect(await screen.findByText('Nothing by Mara H. Lune is known here')).toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: /^Look in / }))
  await waitFor(() =>
    expect(posted('/inquiries/1/sweeps').map(s => (s.body as { query: string }).query)).toEqual([
      'author all "Lune Mara"',
    ]),
  )
})

test('an address that names nobody says so; a body is asked for as a whole', async () => {
  show('')
  expect(await screen.findByText('No author is named')).toBeInTheDocument()
  expect(toAuthor(3, { literal: 'Lamp Committee' }, 4)).toBe('/inquiries/3/author?family=Lamp+Committee&body=yes&of=4')
})
