/** @jest-environment jsdom */
import { expect, test } from '@jest/globals'
import '@testing-library/jest-dom/jest-globals'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { act, render, screen } from '@testing-library/react'
import { STANDING, type PoolIndex } from '../../core/sift/limits'
import type { WorkLine } from '../../core/sift/line'
import { work } from '../test/rig'
import { repaint, worksKey } from './hooks'
import { usePool } from './pool-store'

const seen: (PoolIndex<WorkLine> | undefined)[] = []
function Pool({ of }: { of: number }) {
  const pool = usePool(of)
  seen.push(pool)
  if (!pool) return <p>none</p>
  const unread = pool.standing.filter(s => s === STANDING.UNREAD).length
  return <p>{`${pool.works.length} works, ${unread} unread`}</p>
}
function open(...inquiries: number[]): QueryClient {
  seen.length = 0
  const client = new QueryClient()
  render(
    <QueryClientProvider client={client}>
      {inquiries.map(i => (
        <Pool key={i} of={i} />
      ))}
    </QueryClientProvider>,
  )
  return client
}

test('follows the lines as they are read and painted; a pool that was handed out never changes', async () => {
  const client = open(1)
  expect(screen.getByText('none')).toBeInTheDocument()
  act(() => client.setQueryData(worksKey(1), [work(1), work(2)]))
  expect(await screen.findByText('2 works, 2 unread')).toBeInTheDocument()
  const before = seen.at(-1)!
  act(() => repaint(client, 1, lines => lines.map(w => (w.id === 2 ? { ...w, state: 'kept' } : w))))
  expect(await screen.findByText('2 works, 1 unread')).toBeInTheDocument()
  const after = seen.at(-1)!
  expect(after).not.toBe(before)
  expect(after.members).toBe(before.members)
  expect([...before.standing]).toEqual([STANDING.UNREAD, STANDING.UNREAD])
  act(() => client.setQueryData(worksKey(1), [work(1), work(2), work(5)]))
  expect(await screen.findByText('3 works, 3 unread')).toBeInTheDocument()
  expect(seen.at(-1)!.members).not.toBe(after.members)
})

test('the same lines are the same pool, for all who ask; each inquiry has its own', async () => {
  const client = open(1, 2)
  act(() => client.setQueryData(worksKey(1), [work(1)]))
  expect(await screen.findByText('1 works, 1 unread')).toBeInTheDocument()
  expect(screen.getByText('none')).toBeInTheDocument()
  const drawn = seen.length
  const [pool] = seen.filter(Boolean)
  // what happens to another query, or to this one without new lines, draws nothing
  act(() => client.setQueryData(['something else'], 1))
  act(() => client.setQueryData(worksKey(1), (lines: unknown) => lines))
  expect(seen).toHaveLength(drawn)
  expect(seen.filter(p => p && p !== pool)).toEqual([])
})
