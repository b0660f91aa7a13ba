/** @jest-environment jsdom */
import { expect, jest, test } from '@jest/globals'
import '@testing-library/jest-dom/jest-globals'
import { ChakraProvider } from '@chakra-ui/react'
import { render, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { number, object, string, type InferType } from 'yup'
import '../../core/schema/setup'
import { credentials, newPassword } from '../../core/schema/api/accounts'
import { cardShape } from '../../core/schema/api/libraries'
import { ApiError } from '../api/client'
import { system } from '../theme'
import { Line, useShaped } from './form'

const shape = object({ card: string().required('Your card number is missing.'), town: string().max(5) })
type Values = InferType<typeof shape>

function Form({ send }: { send: (v: Values) => Promise<unknown> }) {
  const { form, submit, trouble } = useShaped<Values>(shape, { card: '', town: '' }, send)
  return (
    <form onSubmit={e => (e.preventDefault(), submit())} noValidate>
      <Line form={form} name="card" label="Card" />
      <Line form={form} name="town" label="Town" help="Where you live." />
      {trouble && <p role="alert">{trouble.message}</p>}
      <button type="submit">Send</button>
    </form>
  )
}
const open = (send: (v: Values) => Promise<unknown>) =>
  render(
    <ChakraProvider value={system}>
      <Form send={send} />
    </ChakraProvider>,
  )
const fill = async (card: string, town = '') => {
  if (card) await userEvent.type(screen.getByLabelText('Card'), card)
  if (town) await userEvent.type(screen.getByLabelText('Town'), town)
  await userEvent.click(screen.getByRole('button', { name: 'Send' }))
}

test('what the shape refuses is said at its line, in sentences, and nothing is sent', async () => {
  const send = jest.fn(async (_: Values) => undefined)
  open(send)
  expect(screen.getByText('Where you live.')).toBeInTheDocument()
  await fill('', 'harbour')
  expect(await screen.findByText('Your card number is missing.')).toBeInTheDocument()
  expect(screen.getByText('At most 5 letters.')).toBeInTheDocument()
  expect(screen.queryByText('Where you live.')).toBeNull()
  expect(send).not.toHaveBeenCalled()
})

test('what was taken leaves an empty form', async () => {
  const send = jest.fn(async (_: Values) => undefined)
  open(send)
  await fill('HV-1', 'Ostin')
  await waitFor(() => expect(send).toHaveBeenCalledWith({ card: 'HV-1', town: 'Ostin' }))
  await waitFor(() => expect(screen.getByLabelText('Card')).toHaveValue(''))
})

/** A refusal that names a field. */
const at = (field: string, of: string, code: string, whole: string) =>
  new ApiError(422, code, whole, { fields: [{ field, said: of }] })
test.each<[string, ApiError, string[], string | undefined]>([
  ['a field of it', at('card', 'No such card.', 'invalid', 'It cannot be used.'), ['No such card.'], undefined],
  [
    'and more',
    at('card', 'No such card.', 'refused', 'The gate refuses it.'),
    ['No such card.'],
    'The gate refuses it.',
  ],
  ['said twice the same', at('card', 'It is there.', 'there', 'It is there.'), ['It is there.'], undefined],
  ['a field of another form', at('zone', 'x', 'invalid', 'It cannot be used.'), [], 'It cannot be used.'],
  ['the server being away', new ApiError(0, 'away', 'Vine Path does not answer.'), [], 'Vine Path does not answer.'],
])('what the server refuses stands where it belongs, and what was typed stays: %s', async (_, error, lines, whole) => {
  open(() => Promise.reject(error))
  await fill('HV-1')
  for (const said of [...lines, ...(whole ? [whole] : [])]) expect(await screen.findByText(said)).toBeInTheDocument()
  expect(screen.queryAllByRole('alert').map(a => a.textContent)).toEqual(whole ? [whole] : [])
  expect(screen.getByLabelText('Card')).toHaveValue('HV-1')
})

test.each([
  ['signing in', credentials, {}],
  ['signing in with nothing', credentials, { email: '', password: '' }],
  ['a password of a page', credentials, { email: 'a@b.example', password: 'x'.repeat(900) }],
  ['another password', newPassword, { current: '', password: 'x'.repeat(2000) }],
  ['the gate', cardShape, { card: '', password: 'x'.repeat(900) }],
  ['a number that is none', object({ n: number().integer().min(1).max(9) }), { n: 1.5 }],
  ['a number too large', object({ n: number().integer().min(1).max(9) }), { n: 10 }],
])('%s: whatever is wrong is said in a sentence, without a name of the program’s', (_, of, given) => {
  let said: string[] = []
  try {
    of.validateSync(given, { abortEarly: false })
  } catch (e) {
    said = (e as { errors: string[] }).errors
  }
  expect(said.length).toBeGreaterThan(0)
  for (const s of said) expect(s).toMatch(/^[A-Z][^`_{}]+\.$/)
})
