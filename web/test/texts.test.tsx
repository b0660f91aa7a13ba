/** @jest-environment jsdom */
import { beforeEach, expect, test } from '@jest/globals'
import '@testing-library/jest-dom/jest-globals'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { Shelf } from '../stations/read/shelf'
import { MINE, answers, open, sent, work } from './rig'

let copies = 0
/** Copies of their own for each test: their words are kept as long as the inquiry is open. */
const hold = (...texts: string[][]) => {
  const list = texts.map((pages, i) => ({
    ...{ id: ++copies, work: i + 1, title: `Moths at lamp ${i + 1}`, authors: 'Okafor', year: 2001 + i },
    ...{
      version: 'version of record',
      scanned: null,
      outcome: i ? 'doubtful' : 'proved',
      labels: pages.map((_, p) => String(41 + p)),
    },
    pages,
  }))
  answers['GET /inquiries/1/copies'] = list.map(({ pages: _, ...c }) => c)
  for (const { id, pages } of list) answers[`GET /inquiries/1/copies/${id}/text`] = { pages }
  answers['GET /inquiries/1/routes'] = list.map(c => ({
    ...work(c.work, { state: 'kept', title: c.title }),
    ...{ routes: [], closed: [], trouble: null },
    copies: [{ id: c.id, outcome: c.outcome, version: c.version, pages: c.labels.length, said: [], opening: MINE }],
  }))
  return list.map(c => c.id)
}
const box = () => screen.findByRole('searchbox', { name: 'Words in your copies' })
const article = (name: string) => screen.findByRole('article', { name })

beforeEach(() => {
  answers['GET /inquiries/1'] = { ...(answers['GET /inquiries/1'] as object), query: 'moth* and (lamp* or lantern)' }
})

test('words are found in all copies, with their sentences by printed pages, and lead there', async () => {
  const [one] = hold(['Owls hunt by ear. Moths came to lamps.', 'No moths here.'], ['Newts.', 'An owl was heard.'])
  open(Shelf, 'read')
  await userEvent.type(await box(), 'owl or owls')
  const first = await article('Moths at lamp 1')
  expect(within(first).getByText('once, on 1 of 2 pages')).toBeInTheDocument()
  const sentence = within(first).getByRole('link', { name: /p\. 41 ?Owls hunt by ear\./ })
  expect(sentence).toHaveAttribute('href', `/inquiries/1/read/${one}?page=1&words=owl+or+owls`)
  expect(within(await article('Moths at lamp 2')).getByText('p. 42')).toBeInTheDocument()
  expect(within(await article('Moths at lamp 2')).getByText(/whether it is the work is doubtful/)).toBeInTheDocument()
  expect(screen.getByText(/In 2 of 2 copies, 2 places/)).toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: 'Show all copies again' }))
  expect(await screen.findAllByRole('link', { name: /^Read the/ })).toHaveLength(2)
})
test('the concepts of the question are ready, and its terms are tinted in what is found', async () => {
  hold(['A moth came to the lantern and the lamps.'])
  open(Shelf, 'read')
  await userEvent.click(await screen.findByRole('button', { name: 'lamp* and the like' }))
  const found = await article('Moths at lamp 1')
  expect([...found.querySelectorAll('mark')].map(m => `${m.textContent} ${m.dataset.tint}`)).toEqual([
    'moth 0',
    'lantern 1',
    'lamps 1',
  ])
  expect([...found.querySelectorAll('b')].map(b => b.textContent)).toEqual(['lantern', 'lamps'])
  expect(screen.getByRole('button', { name: 'lamp* and the like' })).toHaveAttribute('aria-pressed', 'true')
})
test('more sentences of a copy are asked for', async () => {
  hold([Array.from({ length: 9 }, (_, i) => `Owl number ${i} flew.`).join(' ')])
  open(Shelf, 'read')
  await userEvent.type(await box(), 'owl')
  const found = await article('Moths at lamp 1')
  expect(within(found).getAllByRole('listitem')).toHaveLength(3)
  await userEvent.click(within(found).getByRole('button', { name: 'All 9 sentences' }))
  await waitFor(() => expect(within(found).getAllByRole('listitem')).toHaveLength(9))
})
test('where no copy could be had, that is all that is said', async () => {
  const [one] = hold(['Owls.'])
  answers[`GET /inquiries/1/copies/${one}/text`] = () => ({ status: 500, body: { code: 'broken', title: 'Broken.' } })
  open(Shelf, 'read')
  await userEvent.type(await box(), 'owls')
  expect(await screen.findByText('The words of your copies could not be fetched.')).toBeInTheDocument()
  expect(screen.queryByText(/^In none/)).toBeNull()
})
test('what is not found, not understood or not to be had is said', async () => {
  const [, two] = hold(['Owls.'], ['Newts.'])
  const path = `GET /inquiries/1/copies/${two}/text`
  const { [path]: text } = answers
  answers[path] = () => ({ status: 500, body: { code: 'broken', title: 'Something broke.' } })
  open(Shelf, 'read')
  await userEvent.type(await box(), 'newts')
  expect(await screen.findByText(/The words of 1 copy could not be fetched/)).toBeInTheDocument()
  expect(await screen.findByText(/In none of 1 copies/)).toBeInTheDocument()
  answers[path] = text
  await userEvent.click(screen.getByRole('button', { name: 'Try again' }))
  expect(await article('Moths at lamp 2')).toBeInTheDocument()
  await userEvent.clear(await box())
  await userEvent.type(await box(), 'author=Berg')
  expect(await screen.findByText('Copies are searched by their words alone: leave out “author”.')).toBeInTheDocument()
  await userEvent.clear(await box())
  await userEvent.type(await box(), 'owls and')
  expect(await screen.findByText('After "and" a term is missing.')).toBeInTheDocument()
  // each text is fetched once, and again only where it could not be had
  expect(sent.filter(s => s.path.endsWith('/text'))).toHaveLength(3)
})
