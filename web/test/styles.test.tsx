/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { beforeEach, expect, jest, test } from '@jest/globals'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { Answer } from '../../core/schema/api'
import { StyleField } from '../frame/styles/style-field'
import { answers, open, posted } from './rig'

type Style = Answer<'styles'>['styles'][number]
const style = (id: string, name: string, more: Partial<Style> = {}): Style => ({
  ...{ id, name, manner: 'author-date', fields: ['biology'], language: null, updated: '2021-03-04' },
  ...{ printsAs: null, newer: null, isOwn: false },
  ...more,
})
const told = (styles: Style[], of = styles.length): Answer<'styles'> => ({
  ...{ styles, of, all: 10_380, unread: 0 },
  languages: [{ tag: 'de-DE', name: 'German (Germany)' }],
})
const sample = (text: string): Answer<'styleSample'> => ({
  hangingIndent: true,
  entries: [{ label: null, citation: [{ text }], inText: '(Bergoja, 2021)' }],
})
const newer = { id: 'papers', name: 'Night Papers 9th edition' }

beforeEach(() => {
  answers['GET /styles'] = (_: unknown, query: URLSearchParams) => ({
    body:
      query.get('words') === 'pap'
        ? told([style('papers-8', 'Night Papers 8th edition', { newer }), style('lamps', 'Lamps')], 214)
        : told([style('apa', 'APA, 7th edition'), style('ieee', 'IEEE', { manner: 'numeric' })]),
  })
  for (const id of ['apa', 'ieee', 'papers', 'papers-8'])
    answers[`GET /styles/${id}/sample`] = (_: unknown, query: URLSearchParams) => ({
      body: sample(query.get('language') ? `Wie ${id} es druckt` : `As ${id} prints it`),
    })
})
const chosen = jest.fn()
const Field = () => <StyleField value={{ style: 'apa', name: 'APA, 7th edition', language: null }} onChange={chosen} />
/** The choice, opened. */
async function choice() {
  chosen.mockClear()
  open(Field, '/style')
  await userEvent.click(await screen.findByRole('button', { name: 'Citation style: APA, 7th edition' }))
  const dialog = within(await screen.findByRole('dialog', { name: 'Citation style' }))
  expect(await dialog.findByText('As apa prints it')).toBeVisible()
  return dialog
}

test('a style is found, seen on works, and chosen with a language', async () => {
  const user = userEvent.setup()
  const dialog = await choice()
  expect(await dialog.findByText('Asked for most, of 10,380 styles.')).toBeVisible()
  expect(dialog.getByRole('option', { name: /APA/, selected: true })).toBeVisible()

  await user.type(dialog.getByRole('textbox', { name: /Find a style/ }), 'pap')
  expect(await dialog.findByText('The first 2 of 214: add a word.')).toBeVisible()
  await user.click(dialog.getByRole('option', { name: /8th edition/ }))
  expect(await dialog.findByText('There is a newer edition: Night Papers 9th edition.')).toBeVisible()
  await user.click(dialog.getByRole('button', { name: 'Show that one' }))
  expect(await dialog.findByText('As papers prints it')).toBeVisible()
  await user.selectOptions(dialog.getByLabelText('Language of the citations'), 'German (Germany)')
  expect(await dialog.findByText('Wie papers es druckt')).toBeVisible()
  await user.click(dialog.getByRole('button', { name: 'Use this style' }))
  expect(chosen).toHaveBeenCalledWith({ style: 'papers', name: newer.name, language: 'de-DE' })
  await waitFor(() => expect(screen.queryByRole('dialog')).not.toBeInTheDocument())
})

test('by keyboard alone; left, nothing is chosen', async () => {
  const user = userEvent.setup()
  const dialog = await choice()
  await user.click(dialog.getByRole('textbox', { name: /Find a style/ }))
  await user.keyboard('{ArrowDown}{ArrowDown}{Enter}')
  expect(await dialog.findByText('As ieee prints it')).toBeVisible()
  await user.keyboard('{Escape}')
  await waitFor(() => expect(screen.queryByRole('dialog')).not.toBeInTheDocument())
  expect(chosen).not.toHaveBeenCalled()
})

test('what a style cannot print is said in its words; a file that is no style too', async () => {
  const user = userEvent.setup()
  const refused = (code: string, title: string) => () => ({ status: 422, body: { code, title } })
  answers['GET /styles/ieee/sample'] = refused('style-fails', 'The style cannot print this: it was not done in time.')
  answers['POST /styles'] = refused('not-a-style', 'This file is not taken in. It has no title.')
  const dialog = await choice()
  await user.click(await dialog.findByRole('option', { name: /IEEE/ }))
  expect(await dialog.findByRole('alert')).toHaveTextContent('it was not done in time')
  await user.upload(dialog.getByLabelText('A style file of your own (.csl)'), new File(['x'], 'own.csl'))
  expect(await screen.findByText(/It has no title/)).toBeVisible()
  expect(posted('/styles')).toHaveLength(1)
})
