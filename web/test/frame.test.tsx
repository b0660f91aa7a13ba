/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals'
import { cleanup, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useLayoutEffect } from 'react'
import { REACHES } from '../../core/access/reach'
import { parseCql } from '../../core/query/parse-cql'
import type { Inquiry } from '../../core/schema/api'
import { keyMap, keyName, resetKeys, setKey, useKeys } from '../frame/keys'
import { LeafMark, ReachMark } from '../frame/marks'
import { Empty, Failed, Tick, withMember } from '../frame/parts'
import { PathBar } from '../frame/path-bar'
import { RecordLine, type RecordLineProps } from '../frame/record-line'
import { Marked, Rich } from '../frame/rich'
import { ApiError } from '../api/client'
import { draw } from './render'

beforeEach(() => localStorage.clear())
afterEach(cleanup)

describe('marks', () => {
  test.each(['unread', 'kept', 'set aside', 'later'] as const)('a leaf mark says %s in words too', state => {
    draw(<LeafMark state={state} />)
    expect(screen.getByRole('img', { name: state })).toBeInTheDocument()
  })
  test.each(REACHES)('a reach mark says %s in words too', reach => {
    draw(<ReachMark reach={reach} />)
    expect(screen.getByRole('img', { name: reach })).toBeInTheDocument()
  })
  test('no two states are drawn alike', () => {
    const shapes = (['unread', 'kept', 'set aside', 'later'] as const).map(state => {
      const { container } = draw(<LeafMark state={state} />)
      return container.querySelector('svg')!.innerHTML.replace(/<title>.*<\/title>/, '')
    })
    expect(new Set(shapes).size).toBe(4)
  })
})

const line: RecordLineProps = {
  title: 'Lamps and moths',
  authors: 'Okafor, Bee',
  container: 'Night Papers',
  year: 2020,
  pages: 12,
  kind: 'research article',
  confidence: 0.96,
  perYear: 3.25,
  state: 'kept',
  reach: 'in hand',
}

describe('the record line', () => {
  test('shows state, title, source, kind with confidence, citations a year and reach', () => {
    draw(<RecordLine {...line} />)
    for (const text of [
      'Lamps and moths',
      'Okafor, Bee · Night Papers',
      '2020',
      '12 pages',
      'research article',
      '3.3 a year',
    ])
      expect(screen.getByText(text)).toBeInTheDocument()
    expect(screen.getByText('2020')).toHaveClass('line-year')
    expect(screen.getByRole('img', { name: 'kept' })).toBeInTheDocument()
    expect(screen.getByRole('img', { name: 'in hand' })).toBeInTheDocument()
    // what is plain needs no number
    expect(screen.queryByText(/% sure/)).toBeNull()
    cleanup()
    draw(<RecordLine {...line} confidence={0.62} />)
    expect(screen.getByText('62% sure')).toBeInTheDocument()
  })
  test('says too new to tell only where citations are known', () => {
    const { rerender } = draw(<RecordLine {...line} perYear={null} citedBy={3} />)
    expect(screen.getByText('too new to tell')).toBeInTheDocument()
    cleanup()
    draw(<RecordLine {...line} perYear={null} citedBy={null} />)
    expect(screen.queryByText('too new to tell')).toBeNull()
    expect(rerender).toBeDefined()
  })
  test('opens as a whole, by mouse and by key', async () => {
    const open = jest.fn()
    draw(<RecordLine {...line} onOpen={open} />)
    await userEvent.click(screen.getByRole('button', { name: 'Lamps and moths' }))
    screen.getByRole('button').focus()
    await userEvent.keyboard('{Enter}')
    expect(open).toHaveBeenCalledTimes(2)
  })
})

describe('text from records', () => {
  test('is never markup', () => {
    const { container } = draw(
      <Rich runs={[{ text: '<img src=x onerror=alert(1)>' }, { text: 'Noctua', italic: true }]} />,
    )
    expect(container.querySelector('img')).toBeNull()
    expect(screen.getByText('Noctua').tagName).toBe('I')
  })
  test('has the query’s terms marked, a tint for each concept', () => {
    const p = parseCql('"street light*" and moth* not sail')
    draw(<p data-testid="t">{p.ok && <Marked text="Moths sail under street lights" query={p.query.root} />}</p>)
    const marks = [...screen.getByTestId('t').querySelectorAll('mark')].map(m => [m.textContent, m.dataset.tint])
    expect(marks).toEqual([
      ['Moths', '1'],
      ['street lights', '0'],
    ])
    expect(screen.getByTestId('t')).toHaveTextContent('Moths sail under street lights')
  })
})

describe('the path bar', () => {
  const inquiry = {
    id: 7,
    numbers: {
      rules: 1,
      found: [207, 267],
      unread: 1112,
      kept: 16,
      pool: 30,
      trails: 2,
      inHand: 3,
      read: 1,
      annotated: 2,
      entries: 7,
    },
  } as unknown as Inquiry
  test('gives each station its live number and its address', () => {
    draw(<PathBar inquiry={inquiry} />, '/inquiries/7/sift')
    const links = screen.getAllByRole('link')
    expect(links.map(l => l.getAttribute('href'))).toEqual(
      ['brief', 'gather', 'sift', 'trace', 'obtain', 'read', 'compose'].map(s => `/inquiries/7/${s}`),
    )
    expect(links.map(l => l.textContent)).toEqual([
      'Brief1 rule',
      'Gather207–267 found',
      'Sift1,112 unread',
      'Tracetrails of 2 works',
      'Obtain3 of 16 in hand',
      'Read1 of 3 marked',
      'Compose2 of 7 begun',
    ])
    expect(screen.getByRole('link', { current: 'page' })).toHaveTextContent('Sift')
  })
})

function Keyed({ on }: { on: Parameters<typeof useKeys>[0] }) {
  useKeys(on)
  return <input aria-label="text" />
}

describe('keys', () => {
  test('call what belongs to them, unless someone is typing', async () => {
    const keep = jest.fn()
    draw(<Keyed on={{ keep }} />)
    await userEvent.keyboard('j')
    await userEvent.keyboard('J')
    await userEvent.type(screen.getByLabelText('text'), 'jjj')
    expect(keep).toHaveBeenCalledTimes(2)
  })
  test('are there with what they belong to, not a moment later', () => {
    const keep = jest.fn()
    // what is done the moment the work is on the page
    const Shown = () => {
      useLayoutEffect(() => void window.dispatchEvent(new KeyboardEvent('keydown', { key: 'j' })), [])
      return <Keyed on={{ keep }} />
    }
    draw(<Shown />)
    expect(keep).toHaveBeenCalledTimes(1)
  })
  test('can be changed and put back', async () => {
    const keep = jest.fn()
    draw(<Keyed on={{ keep }} />)
    setKey('keep', 'l')
    await userEvent.keyboard('j')
    expect(keep).not.toHaveBeenCalled()
    await userEvent.keyboard('l')
    expect(keep).toHaveBeenCalledTimes(1)
    resetKeys()
    expect(keyMap().keep).toBe('j')
  })
  test('leave shortcuts of the browser alone, and survive a broken setting', async () => {
    const keep = jest.fn()
    localStorage.setItem('vine-keys', '{broken')
    draw(<Keyed on={{ keep }} />)
    await userEvent.keyboard('{Control>}j{/Control}')
    expect(keep).not.toHaveBeenCalled()
    await userEvent.keyboard('j')
    expect(keep).toHaveBeenCalled()
    expect([keyName(' '), keyName('ArrowDown'), keyName('j')]).toEqual(['Space', '↓', 'J'])
  })
})

describe('small parts', () => {
  test('an empty view says what belongs there and what to do next', () => {
    draw(
      <Empty title="No sweep yet" action={<button>Go</button>}>
        Type words.
      </Empty>,
    )
    expect(screen.getByText('No sweep yet')).toBeInTheDocument()
    expect(screen.getByRole('button', { name: 'Go' })).toBeInTheDocument()
  })
  test('a failure says why and offers to try again', async () => {
    const again = jest.fn()
    draw(<Failed error={new ApiError(502, 'outside', 'The index does not answer.')} again={again} />)
    expect(screen.getByText('The index does not answer.')).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'Try again' }))
    expect(again).toHaveBeenCalled()
  })
  test('what is not there is said to be not there, and leads home', () => {
    draw(<Failed error={new ApiError(404, 'not-found', 'Nothing.')} again={jest.fn()} />)
    expect(screen.getByText('There is nothing here')).toBeInTheDocument()
    expect(screen.getByRole('link', { name: 'To your inquiries' })).toHaveAttribute('href', '/')
    expect(screen.queryByRole('button', { name: 'Try again' })).toBeNull()
  })
  test('a tick is a checkbox with a name', async () => {
    const set = jest.fn()
    draw(<Tick checked={false} set={set} label="Choose: Lamps" />)
    await userEvent.click(screen.getByRole('checkbox', { name: 'Choose: Lamps' }))
    expect(set).toHaveBeenCalledWith(true)
  })
  test('members of a set', () => {
    const before = new Set([1])
    expect([withMember(before, 2, true), withMember(before, 1, false), before]).toEqual([
      new Set([1, 2]),
      new Set(),
      new Set([1]),
    ])
  })
})
