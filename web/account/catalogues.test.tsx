/** @jest-environment jsdom */
import { expect, test } from '@jest/globals'
import '@testing-library/jest-dom/jest-globals'
import { screen, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { Answer } from '../../core/schema/api'
import { answers, open, posted } from '../test/rig'
import { Catalogues } from './catalogues'

const probed: Answer<'probe'> = {
  title: 'Odd Shelf',
  description: 'Of lamps',
  extent: '90 records',
  assumed: null,
  harvested: false,
  sets: [],
  indexes: [
    { ours: 'title', theirs: 'dc.title' },
    { ours: 'author', theirs: 'author' },
  ],
  schemas: [
    { name: 'dc', identifier: 'info:srw/schema/1/dc-v1.1', readable: true },
    { name: 'own', identifier: '', readable: false },
  ],
  schema: 'dc',
  truncation: false,
  proximity: true,
  scan: true,
  facets: ['year'],
  window: 200,
  setting: '{ "id": "odd" }',
  count: 12,
  asked: 'title = lamp',
  changes: ['It cannot cut endings.'],
  records: [{ title: 'Lamps', authors: 'Sand', year: 2001, kind: 'research article' }],
  unread: [],
  failed: null,
}

test('a catalogue is tried at a press, and what was understood of it is told', async () => {
  answers['GET /catalogues'] = [
    { id: 'odd', name: 'Odd Shelf', address: 'http://odd.example/sru', schema: 'dc', harvested: false },
  ]
  answers['POST /catalogues/tried'] = probed
  open(Catalogues, '/')
  await userEvent.click(await screen.findByRole('button', { name: 'Try Odd Shelf' }))
  const region = within(await screen.findByRole('region', { name: 'What was understood of odd.example' }))
  expect(posted('/catalogues/tried')[0]!.body).toEqual({ address: 'http://odd.example/sru', words: 'history' })
  expect(region.getByText(/It finds 12\. The first of them was read\./)).toBeInTheDocument()
  expect(region.getByText('words near each other, its dictionary, counts by year')).toBeInTheDocument()
  expect(region.getByText('endings; that is done here')).toBeInTheDocument()
  expect(region.getByText(/own \(not read here\)/)).toBeInTheDocument()
  expect(region.getByText('Lamps')).toBeInTheDocument()
})

test('an address that is none is said before anything is asked; a failure says why', async () => {
  answers['GET /catalogues'] = []
  answers['POST /catalogues/tried'] = {
    ...probed,
    title: null,
    records: [],
    count: null,
    assumed: 'It says nothing of itself.',
    failed: 'odd.example does not answer.',
  }
  open(Catalogues, '/')
  await userEvent.type(await screen.findByLabelText('Address of its server'), 'odd')
  await userEvent.click(screen.getByRole('button', { name: 'Try it' }))
  expect(await screen.findByText(/This is no address/)).toBeInTheDocument()
  expect(posted('/catalogues/tried')).toHaveLength(0)
  await userEvent.type(screen.getByLabelText('Address of its server'), '{Control>}a{/Control}http://odd.example/sru')
  await userEvent.click(screen.getByRole('button', { name: 'Try it' }))
  expect(await screen.findByText('odd.example does not answer.')).toBeInTheDocument()
  // of what was never reached nothing is claimed, and the address stands to be mended
  expect(screen.queryByText('It can be asked for')).toBeNull()
  expect(screen.queryByText('For the settings file')).toBeNull()
  expect(screen.getByLabelText('Address of its server')).toHaveValue('http://odd.example/sru')
})

test('a repository is told as what it is: how much would be taken in, and its sets', async () => {
  answers['GET /catalogues'] = []
  answers['POST /catalogues/tried'] = {
    ...probed,
    harvested: true,
    sets: [{ spec: 'art:wells', name: 'Wells' }],
    count: 5214,
    asked: null,
    changes: [],
  }
  open(Catalogues, '/')
  await userEvent.type(await screen.findByLabelText('Address of its server'), 'http://odd.example/oai')
  await userEvent.click(screen.getByRole('button', { name: 'Try it' }))
  const region = within(await screen.findByRole('region', { name: 'What was understood of odd.example' }))
  expect(region.getByText(/its 5,214 records would be taken in once a day and looked through here/)).toBeInTheDocument()
  expect(region.getByText('(art:wells)')).toBeInTheDocument()
})
