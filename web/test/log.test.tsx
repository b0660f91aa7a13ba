/** @jest-environment jsdom */
import { expect, test } from '@jest/globals'
import '@testing-library/jest-dom/jest-globals'
import { screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { Sweep } from '../../core/schema/api'
import { emptySheet } from '../../core/query/sheet'
import { askedBefore } from '../stations/gather/asked-before'
import { Log } from '../stations/gather/log'
import type { SheetHandle } from '../stations/gather/use-sheet'
import { answers, open } from './rig'

const sweep = (id: number, deskDay: string, counts: Record<string, number | null>, cql = 'moth*'): Sweep => ({
  ...{ id, query: cql, cql, repairs: [], deskDay, name: null, note: null, standingId: null, foundNew: null },
  ...{ toldAt: null, at: `2026-10-05T10:0${id}:00Z` },
  catalogues: Object.entries(counts).map(([catalogue, count]) => ({
    ...{ catalogue, name: catalogue === 'civic' ? 'Civic Paper File' : 'Broadleaf Index', asked: null, changes: [] },
    ...{ state: 'done' as const, count, fetched: 2, unread: 0, error: null },
  })),
})
const handle: SheetHandle = { sheet: emptySheet(), offered: [], edit: () => undefined, state: 'saved' }

test('a sweep that was asked before says what each catalogue counts otherwise, and what came and went', async () => {
  const list = [
    sweep(4, '2026-10-12', { civic: 9, broadleaf: 1352 }),
    sweep(3, '2026-10-12', { broadleaf: 5 }),
    sweep(2, '2026-10-05', { broadleaf: 1349, civic: 10 }),
    sweep(1, '2026-09-01', { broadleaf: 1300, civic: 10 }),
  ]
  answers['GET /inquiries/1/standing'] = []
  answers['GET /inquiries/1/sweeps/4/against/2'] = {
    came: [{ id: 7, title: 'Lit moths', catalogue: 'broadleaf' }],
    went: [{ id: 8, title: 'Dark moths', catalogue: 'civic' }],
  }
  open(() => <Log sweeps={list} current={undefined} show={() => undefined} handle={handle} />, 'gather')
  // of several the latest; one of other catalogues is another sweep
  expect(await screen.findByText('Civic Paper File −1 · Broadleaf Index +3')).toBeInTheDocument()
  expect(screen.getByText('Broadleaf Index +49')).toBeInTheDocument()
  expect(screen.getAllByText(/^Against /).map(e => e.textContent)).toEqual([
    'Against 5 Oct: Civic Paper File −1 · Broadleaf Index +3',
    'Against 1 Sep: Broadleaf Index +49',
  ])
  await userEvent.click(screen.getAllByRole('button', { name: 'What came and went' })[0]!)
  expect(await screen.findByText('Lit moths')).toBeInTheDocument()
  expect(screen.getByText('Dark moths')).toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: 'Fold' }))
  expect(screen.queryByText('Lit moths')).not.toBeInTheDocument()
})

test('what counts the same says so, what did not count is left out, and another query is another sweep', async () => {
  answers['GET /inquiries/1/standing'] = []
  const list = [
    sweep(2, '2026-10-05', { broadleaf: 4, civic: null }),
    sweep(1, '2026-10-05', { broadleaf: 4, civic: 3 }),
  ]
  open(() => <Log sweeps={list} current={undefined} show={() => undefined} handle={handle} />, 'gather')
  expect(await screen.findByText(/^Against \d\d:\d\d: all count the same$/)).toBeInTheDocument()
  expect(askedBefore(list[0]!, [sweep(1, '2026-10-05', { broadleaf: 4, civic: 3 }, 'owl*')])).toBeUndefined()
})
