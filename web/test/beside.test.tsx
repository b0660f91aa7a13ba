/** @jest-environment jsdom */
import { beforeEach, expect, test } from '@jest/globals'
import '@testing-library/jest-dom/jest-globals'
import { act, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { Answer } from '../../core/schema/api'
import { DataBehind, PaidBy } from '../frame/beside'
import { Author } from '../stations/trace/author'
import { GrantPage } from '../stations/trace/grant'
import { answers, open, posted, tellJob, work } from './rig'

const NOBODY = { of: '', subject: '', last: null }
const asked = (subject: string, last: Partial<NonNullable<Answer<'beside'>['asked']['last']>> | null = null) => ({
  of: 'Index of Quays',
  subject,
  last: last && { source: 'Index of Quays', day: '2026-10-05', total: 2, got: 2, trouble: null, ...last },
})
const data = (more: Partial<Answer<'beside'>['data'][number]>) => ({
  ...{ work: null, node: null, title: null, year: null, doi: null, address: null, licence: null, says: 'index' },
  ...more,
})
const beside = (more: object = {}) => ({
  ...{ grants: [], licence: null, data: [], dataOf: [], said: null, asked: NOBODY, ...more },
})
const show = () =>
  open(
    () => (
      <>
        <PaidBy work={1} />
        <DataBehind work={1} />
      </>
    ),
    'trace',
  )
const pointer = (node: number) => ({
  ...{ node, title: `Of the trail ${node}`, authors: 'Lune', container: '', kind: 'research article', year: 2010 },
  ...{ citedBy: 4, reach: 'out of reach' },
})
const job = (of: object) => ({
  id: 7,
  kind: 'follow',
  progress: {},
  result: null,
  error: null,
  cancelAsked: false,
  ...of,
})

beforeEach(() => {
  answers['GET /inquiries/1/works'] = [
    work(1, { state: 'kept', title: 'Lamps' }),
    work(2, { title: 'Counts of moths' }),
  ]
})

test('data stand with their licence and where they lie, those of the pool as works, others to be brought', async () => {
  answers['GET /inquiries/1/works/1/beside'] = beside({
    data: [
      data({
        work: 2,
        title: 'Counts of moths',
        licence: 'CC0',
        says: 'data',
        address: 'http://doi.example/10.5555/c',
      }),
      data({ node: 8, title: 'Maps of lamps', year: 2019, doi: '10.5555/m', address: 'http://doi.example/10.5555/m' }),
      data({ address: 'https://store.example/t', says: 'copy' }),
    ],
    said: { copy: 4, page: 9, label: '117', said: 'The counts are kept at https://store.example/t.' },
  })
  answers['POST /inquiries/1/pointers'] = { newWorks: 1, known: 0, works: [], revision: 3 }
  show()
  const told = await screen.findByRole('region', { name: 'Data' })
  expect(await within(told).findByRole('button', { name: 'Counts of moths' })).toBeInTheDocument()
  expect(within(told).getByText('CC0')).toBeInTheDocument()
  expect(within(told).getByText('no licence is said · 2019 · DOI 10.5555/m · named by the index')).toBeInTheDocument()
  expect(within(told).getByText('no licence is said · named in its own text')).toBeInTheDocument()
  expect(
    within(told)
      .getAllByRole('link', { name: 'Go there' })
      .map(a => a.getAttribute('href')),
  ).toEqual(['http://doi.example/10.5555/c', 'http://doi.example/10.5555/m', 'https://store.example/t'])
  expect(within(told).getByRole('link', { name: 'p. 117' })).toHaveAttribute('href', '/inquiries/1/read/4?page=9')
  await userEvent.click(within(told).getByRole('button', { name: 'Bring into the pool' }))
  await waitFor(() => expect(posted('/inquiries/1/pointers').at(-1)?.body).toEqual({ nodes: [8] }))
  // nobody can be asked
  expect(within(told).queryByRole('button', { name: /^Ask/ })).not.toBeInTheDocument()
})

test('who may be asked is asked by the work, with its progress, what came and what went wrong', async () => {
  answers['GET /inquiries/1/works/1/beside'] = beside({ asked: asked('10.5555/a') })
  answers['POST /inquiries/1/follow'] = { status: 202, body: { job: 7 } }
  show()
  await userEvent.click(await screen.findByRole('button', { name: 'Ask Index of Quays for data' }))
  expect(posted('/inquiries/1/follow').at(-1)?.body).toEqual({ what: 'data', work: 1 })
  const payload = { what: 'data', subject: '10.5555/a', values: {} }
  act(() => tellJob(job({ state: 'running', payload, progress: { done: 1, of: 2 } })))
  expect(await screen.findByText('Asking Index of Quays')).toBeInTheDocument()
  // of another work it says nothing here
  act(() => tellJob(job({ id: 8, state: 'failed', payload: { ...payload, subject: '10.5555/b' }, error: 'Gone.' })))
  expect(screen.queryByText('Gone.')).not.toBeInTheDocument()
  answers['GET /inquiries/1/works/1/beside'] = beside({ asked: asked('10.5555/a', {}) })
  act(() => tellJob(job({ state: 'failed', payload, error: 'Index of Quays does not answer.' })))
  expect(await screen.findByRole('alert')).toHaveTextContent('Index of Quays does not answer.')
  act(() => tellJob(job({ state: 'done', payload })))
  expect(await screen.findByText('Index of Quays, 5 Oct: 2 found')).toBeInTheDocument()
  expect(screen.getByRole('button', { name: 'Ask again' })).toBeInTheDocument()
})

test('data lead to the works behind which they stand, and are not asked for data', async () => {
  answers['GET /inquiries/1/works/1/beside'] = beside({
    asked: asked('10.5555/a'),
    dataOf: [
      { work: 2, title: 'Counts of moths', doi: '10.5555/c' },
      { work: null, title: null, doi: '10.5555/far' },
    ],
  })
  show()
  const told = await screen.findByRole('region', { name: 'Data' })
  expect(within(told).getByRole('button', { name: 'Counts of moths' })).toBeInTheDocument()
  expect(within(told).getByText('DOI 10.5555/far, not in your pool')).toBeInTheDocument()
  expect(within(told).queryByRole('button', { name: /^Ask/ })).not.toBeInTheDocument()
})

test('a grant with a number leads to its works; one without stands as its source has it; a licence is named', async () => {
  answers['GET /inquiries/1/works/1/beside'] = beside({
    licence: 'CC BY 4.0',
    grants: [{ number: 'NLF-7/2', funder: 'Night Land Foundation', title: 'Lamps' }, { said: 'Paid by friends' }],
  })
  show()
  expect(await screen.findByRole('link', { name: 'Night Land Foundation, NLF-7/2' })).toHaveAttribute(
    'href',
    '/inquiries/1/grant?number=NLF-7%2F2&funder=Night+Land+Foundation',
  )
  expect(screen.getByText('Paid by friends')).toBeInTheDocument()
  expect(screen.getByText('CC BY 4.0')).toBeInTheDocument()
})

test('the page of a grant has its works, known and outside, and asks for the others', async () => {
  answers['GET /inquiries/1/grant'] = (_: unknown, query: URLSearchParams) => ({
    status: 200,
    body: {
      grant: { number: query.get('number'), funder: 'Night Land Foundation' },
      works: [
        { work: 1, pointer: null },
        { work: null, pointer: pointer(7) },
      ],
      asked: asked('nlf72', { total: 0, got: 0, trouble: 'Index of Quays does not know it.' }),
    },
  })
  open(GrantPage, 'grant?number=NLF-7%2F2')
  expect(await screen.findByRole('heading', { level: 1, name: 'NLF-7/2' })).toBeInTheDocument()
  expect(screen.getByText(/^2 works known here · 1 kept · cited \d+ times in all$/)).toBeInTheDocument()
  expect(screen.getByText('Index of Quays, 5 Oct: Index of Quays does not know it.')).toBeInTheDocument()
  expect(within(screen.getByRole('list', { name: 'Works of this grant' })).getAllByRole('listitem')).toHaveLength(2)
  answers['POST /inquiries/1/follow'] = { status: 202, body: { job: 7 } }
  await userEvent.click(screen.getByRole('button', { name: 'Ask again' }))
  expect(posted('/inquiries/1/follow').at(-1)?.body).toEqual({ what: 'grant', number: 'NLF-7/2' })
})
test('an address that names no grant says so', async () => {
  open(GrantPage, 'grant')
  expect(await screen.findByText('No grant is named')).toBeInTheDocument()
})

test('an author with an identifier says in how many works it stands, and is asked for by it', async () => {
  const id = '9999-0001-2345-618X'
  const person = (given: string, of: number, more: object) => ({
    ...{ name: { family: 'Lune', given }, years: [2010, 2010], with: [], words: [], shares: [], isOther: false },
    ...{ works: [{ work: of, pointer: null }], withId: 1, ...more },
  })
  answers['GET /inquiries/1/author'] = {
    persons: [person('Mara', 1, { id }), person('Mara', 2, { id: '9999-0001-2345-6016', isOther: true })],
    asked: asked(id),
  }
  answers['POST /inquiries/1/follow'] = { status: 202, body: { job: 7 } }
  open(Author, 'author?family=Lune&given=Mara&of=1')
  expect(await screen.findByText(`${id}, in all of these works`)).toBeInTheDocument()
  expect(screen.getByText(/another person, 9999-0001-2345-6016/)).toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: 'Ask Index of Quays for all under this identifier' }))
  expect(posted('/inquiries/1/follow').at(-1)?.body).toEqual({ what: 'author', author: id })
})
