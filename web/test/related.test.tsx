/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { beforeEach, expect, test } from '@jest/globals'
import { act, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { Answer } from '../../core/schema/api'
import { emptySheet, type Sheet } from '../../core/query/sheet'
import { Gather } from '../stations/gather/gather'
import { answers, open, posted, sent, tellJob } from './rig'

type Vocabulary = Answer<'vocabularies'>[number]
type Concept = Answer<'vocabularyConcept'>

const vocabulary: Vocabulary = {
  ...{ key: 'night', name: 'Words of the Night', from: 'http://words.example/night.ttl', isOwn: false },
  ...{ state: 'read', said: null, concepts: 1200, labels: 2400, languages: ['en', 'de'], left: [], day: '2026-10-05' },
}
const near = (place: number, name: string, narrower = 0) => ({ place, name, narrower })
const moths: Concept = {
  ...{ vocabulary: 'night', place: 3, iri: 'urn:moths', name: 'moths', by: 'millers', note: 'Fly at night.' },
  names: [
    { text: 'moths', language: 'en', as: 'preferred' },
    { text: 'millers', language: 'en', as: 'other' },
    { text: 'Nachtfalter', language: 'de', as: 'preferred' },
  ],
  above: [near(0, 'animals', 4)],
  broader: [near(1, 'Lepidoptera', 2)],
  narrower: Array.from({ length: 10 }, (_, i) => near(10 + i, `moths of kind ${i}`, i && 2)),
  related: [near(2, 'phototaxis')],
  inAll: { broader: 1, narrower: 312, related: 1 },
  ...{ retired: false, instead: [] },
}
const sheet: Sheet = {
  ...emptySheet(),
  concepts: [
    {
      id: 'c1',
      name: 'insects of the night',
      terms: [{ id: 't1', text: 'moth', ending: true, role: 'main', on: true }],
    },
    { id: 'c2', name: 'lamps', terms: [{ id: 't2', text: 'lamp', role: 'main', on: true }] },
  ],
}

beforeEach(() => {
  answers['GET /inquiries/1/sheet'] = { sheet, offered: [], version: 7, advice: [] }
  answers['PUT /inquiries/1/sheet'] = { version: 8, sheet, offered: [], advice: [] }
  answers['GET /inquiries/1/sweeps'] = []
  answers['POST /inquiries/1/counts'] = { counts: [], least: 5, most: 9 }
  answers['GET /inquiries/1/vocabularies'] = [vocabulary]
  answers['GET /inquiries/1/related-words'] = { words: 'moth', named: [moths], near: [] }
})
const show = async () => {
  open(Gather, 'gather')
  const user = userEvent.setup()
  await user.click(await screen.findByRole('tab', { name: 'Related words' }))
  return user
}

test('the first word of a concept is looked up; a word is put on the sheet with what it is to it', async () => {
  const asked: unknown[] = []
  answers['GET /inquiries/1/related-words'] = (_: unknown, query: URLSearchParams) => {
    asked.push(query.get('words'))
    return { body: { words: 'moth', named: [moths], near: [] } }
  }
  const user = await show()
  const article = await screen.findByRole('article', { name: 'moths, Words of the Night' })
  expect(article).toHaveTextContent('also called millers')
  expect(asked).toEqual(['moth'])
  const names = within(article).getByRole('group', { name: 'Its names' })
  // what is there in its beginning is offered no more
  expect(names).toHaveTextContent('found by moth*')
  await user.click(within(names).getByRole('button', { name: 'Put millers on the sheet' }))
  await user.click(within(article).getByRole('button', { name: 'Put Lepidoptera on the sheet' }))
  await user.click(within(article).getByRole('button', { name: 'Put Nachtfalter on the sheet' }))
  const column = screen.getByRole('group', { name: 'Concept: insects of the night' })
  expect(within(column).getByRole('switch', { name: 'Lepidoptera, broader' })).toBeChecked()
  expect(within(column).getByRole('switch', { name: 'millers, main' })).toHaveAttribute(
    'title',
    expect.stringContaining('from Words of the Night: another name of moths'),
  )
  expect(within(column).getByRole('switch', { name: 'Nachtfalter, main' })).toHaveAttribute(
    'title',
    expect.stringContaining('German for moths'),
  )
  expect(within(names).getByText('on the sheet')).toBeVisible()
})

test('many narrower words are folded; one walks on from word to word, and back', async () => {
  const user = await show()
  const narrower = await screen.findByRole('group', { name: 'Narrower' })
  expect(narrower).toHaveTextContent('312')
  expect(within(narrower).getAllByRole('button', { name: /^Put/ })).toHaveLength(8)
  await user.click(within(narrower).getByRole('button', { name: 'all 10' }))
  expect(within(narrower).getAllByRole('button', { name: /^Put/ })).toHaveLength(10)
  expect(narrower).toHaveTextContent('302 more are not shown')
  answers['GET /inquiries/1/vocabularies/night/concepts/2'] = {
    ...moths,
    ...{ place: 2, name: 'phototaxis', by: null, names: [], above: [], narrower: [], broader: [] },
    ...{ retired: true, instead: [near(7, 'orientation to light')] },
  }
  await user.click(screen.getByRole('button', { name: 'Go to phototaxis' }))
  expect(await screen.findByText(/The vocabulary uses this name no more\./)).toBeVisible()
  expect(screen.getByRole('group', { name: 'Used instead' })).toHaveTextContent('orientation to light')
  await user.click(screen.getByRole('button', { name: 'back to “moth”' }))
  expect(await screen.findByRole('article', { name: 'moths, Words of the Night' })).toBeVisible()
})

test('other words are looked up for another concept; what no vocabulary knows is said, with what is near', async () => {
  const user = await show()
  await screen.findByRole('article')
  answers['GET /inquiries/1/related-words'] = {
    ...{ words: 'glow', named: [] },
    near: [{ vocabulary: 'night', place: 5, name: 'sky glow', by: 'skyglow' }],
  }
  await user.selectOptions(screen.getByLabelText('Into the concept'), 'lamps')
  await user.type(screen.getByLabelText('Words to look up'), 'glow{Enter}')
  expect(await screen.findByText(/No vocabulary knows “glow” by that name\. These come near to it\./)).toBeVisible()
  answers['GET /inquiries/1/vocabularies/night/concepts/5'] = { ...moths, place: 5, name: 'sky glow', by: null }
  await user.click(screen.getByRole('button', { name: 'sky glow (skyglow)' }))
  const article = await screen.findByRole('article', { name: 'sky glow, Words of the Night' })
  await user.click(within(article).getByRole('button', { name: 'Put phototaxis on the sheet' }))
  const column = screen.getByRole('group', { name: 'Concept: lamps' })
  expect(within(column).getByRole('switch', { name: 'phototaxis, related' })).toBeChecked()
  answers['GET /inquiries/1/related-words'] = { words: 'lamps', named: [{ ...moths, name: 'lamps' }], near: [] }
  await user.type(screen.getByLabelText('Words to look up'), 'dim lamps{Enter}')
  expect(await screen.findByText(/This is what they know of “lamps”\./)).toBeVisible()
})

test('without one that is read it is said what a vocabulary is for, and it is read by a press', async () => {
  answers['GET /inquiries/1/vocabularies'] = [{ ...vocabulary, state: 'unread', concepts: 0, labels: 0, day: null }]
  answers['POST /inquiries/1/vocabularies/night/read'] = { job: 5 }
  const user = await show()
  expect(await screen.findByText('No vocabulary is read yet')).toBeVisible()
  await user.click(screen.getByRole('button', { name: 'Read “Words of the Night”: Words of the Night' }))
  await waitFor(() => expect(sent.some(s => s.path.endsWith('/vocabularies/night/read'))).toBe(true))
  const job = { id: 5, kind: 'vocabulary', payload: { vocabularyId: 1, key: 'night' }, cancelAsked: false, error: null }
  act(() => tellJob({ ...job, state: 'running', progress: { step: 'storing', done: 400, of: 1200 } }))
  expect(await screen.findByText('storing 400 of 1,200 …')).toBeVisible()
})

test('one of one’s own is brought, says what is wrong with it, and is taken out after asking', async () => {
  answers['GET /inquiries/1/vocabularies'] = [
    { ...vocabulary, left: [{ said: 'concepts without a label', times: 3 }] },
    {
      ...vocabulary,
      key: '9',
      name: 'mine.rdf',
      from: 'mine.rdf',
      isOwn: true,
      state: 'refused',
      concepts: 0,
      said: 'It is no vocabulary.',
    },
  ]
  answers['POST /inquiries/1/vocabularies'] = { job: 6 }
  answers['DELETE /inquiries/1/vocabularies/9'] = ''
  const user = await show()
  const list = await screen.findByRole('region', { name: 'Vocabularies' })
  expect(list).toHaveTextContent('Not shown: concepts without a label (3).')
  expect(within(list).getByRole('alert')).toHaveTextContent('It is no vocabulary.')
  await user.upload(screen.getByTestId('vocabulary-file'), new File([''], 'empty.ttl'))
  expect(await screen.findByText('“empty.ttl” is empty.')).toBeVisible()
  await user.upload(screen.getByTestId('vocabulary-file'), new File(['<urn:a> a <urn:b> .'], 'night.ttl'))
  expect(await screen.findByText('“night.ttl” has arrived and is being read.')).toBeVisible()
  expect(posted('/inquiries/1/vocabularies')).toBeDefined()
  await user.click(within(list).getByRole('button', { name: 'Take out mine.rdf' }))
  await user.click(await screen.findByRole('button', { name: 'Take it out' }))
  expect(await screen.findByText('“mine.rdf” was taken out.')).toBeVisible()
})
