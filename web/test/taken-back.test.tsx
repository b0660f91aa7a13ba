/** @jest-environment jsdom */
import { expect, test } from '@jest/globals'
import '@testing-library/jest-dom/jest-globals'
import { screen, within } from '@testing-library/react'
import { TakenBack, TakenBackLine } from '../frame/taken-back'
import { answers, open } from './rig'

const told = {
  ...{ work: 1, node: null, title: 'Lamps cure everything', says: 'retracted', by: null, source: 'Broadleaf Index' },
  notice: null,
  ...{ at: '2026-10-05T10:00:00Z', citing: [2, 3] },
}

test('a work says that it was taken back, who says so and who cites it; what leans on it says that', async () => {
  const by = { work: 9, node: null, title: 'Correction to: Lamps cure everything' }
  answers['GET /inquiries/1/taken-back'] = [
    told,
    { ...told, by: { ...by, title: 'Retraction: Lamps cure everything' } },
    { ...told, says: 'corrected', by, citing: [] },
  ]
  open(
    () => (
      <>
        <section aria-label="itself">
          <TakenBack work={1} />
          <TakenBackLine of={{ work: 1 }} />
        </section>
        <section aria-label="leaning">
          <TakenBack work={3} />
        </section>
        <section aria-label="another">
          <TakenBack work={4} />
          <TakenBackLine of={{ node: 4 }} />
        </section>
      </>
    ),
    'trace',
  )
  const itself = await screen.findByRole('region', { name: 'itself' })
  expect((await within(itself).findAllByRole('alert'))[0]).toHaveTextContent(
    /It was retracted: its title says so, in Broadleaf Index, 5 Oct 2026\. 2 of your pool cite it\./,
  )
  expect(within(itself).getByText(/“Correction to: .+ says so, in/)).toBeInTheDocument()
  expect(within(itself).getAllByRole('button', { name: 'Work sheet' })).toHaveLength(2)
  expect(within(itself).getByText('It was retracted; 2 of your pool cite it')).toBeInTheDocument()
  // once, whoever says it
  expect(within(screen.getByRole('region', { name: 'leaning' })).getAllByRole('status')).toHaveLength(1)
  expect(screen.getByRole('region', { name: 'leaning' })).toHaveTextContent(
    'It cites a work that was retracted: “Lamps cure everything”, by Broadleaf Index.',
  )
  expect(screen.getByRole('region', { name: 'another' })).toBeEmptyDOMElement()
})
