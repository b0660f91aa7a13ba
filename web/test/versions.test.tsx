/** @jest-environment jsdom */
import { beforeEach, describe, expect, test } from '@jest/globals'
import '@testing-library/jest-dom/jest-globals'
import { act, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { Copy, Passage } from '../../core/schema/api'
import { CopyPanel } from '../stations/read/copy-panel'
import { Obtain } from '../stations/obtain/obtain'
import { Elsewhere, type PassageElsewhere } from '../stations/read/passages'
import { ScanNotice } from '../stations/read/scan'
import { MINE, answers, open, posted, sent, tellJob, work } from './rig'

const copy: Copy = {
  opening: MINE,
  ...{ id: 8, work: 1, title: 'Moths at lamp 1', outcome: 'doubtful', version: 'version of record', pages: 4 },
  item: { id: '', type: 'article-journal', title: 'Moths at lamp 1' },
  ...{ labels: ['45', '46', '47', '48'], origin: 'your file "a.pdf"', passages: [], scanned: null },
  proof: { outcome: 'doubtful', evidence: [], other: 2 },
}
const nothing = () => undefined
const job = (more: object) => ({
  ...{ id: 7, kind: 'scan', state: 'running', progress: {}, payload: { copy: 8 }, result: null, error: null },
  ...{ at: '2026-10-05T10:00:00Z', cancelAsked: false, ...more },
})

beforeEach(() => {
  answers['GET /inquiries/1/copies/8/parts'] = () => ({ status: 500, body: { code: 'broken', title: 'Broken.' } })
})

describe('a copy that is another work of the pool', () => {
  test('is given to it, and back', async () => {
    answers['POST /inquiries/1/copies/8/work'] = { outcome: 'proved', said: 'Its own text proves it.', copyId: 8 }
    open(() => <CopyPanel copy={copy} go={nothing} />, 'read')
    await userEvent.click(await screen.findByRole('button', { name: 'Give it to “Moths at lamp 2”' }))
    await userEvent.click(await screen.findByRole('button', { name: 'Undo' }))
    await waitFor(() =>
      expect(posted('/inquiries/1/copies/8/work').map(s => s.body)).toEqual([{ work: 2 }, { work: 1 }]),
    )
  })
  test('whose text does not bear it out stays, and says so', async () => {
    answers['POST /inquiries/1/copies/8/work'] = {
      outcome: 'refused',
      said: 'This is not the work: the file is a poem.',
    }
    open(() => <CopyPanel copy={copy} go={nothing} />, 'read')
    await userEvent.click(await screen.findByRole('button', { name: 'Give it to “Moths at lamp 2”' }))
    expect(await screen.findByText('This is not the work: the file is a poem.')).toBeInTheDocument()
  })
  test('and was refused, is kept there from the same file', async () => {
    answers['GET /inquiries/1/routes'] = [
      { ...work(3, { state: 'kept' }), routes: [], closed: [], trouble: null, copies: [] },
    ]
    for (const [w, result] of [
      [3, { outcome: 'refused', said: 'This is not the work.', other: { id: 2, title: 'Moths at lamp 2' } }],
      [2, { outcome: 'proved', said: 'Its own text proves it.', copyId: 9 }],
    ] as const) {
      answers[`POST /inquiries/1/works/${w}/copies`] = { job: w }
      answers[`GET /inquiries/1/jobs/${w}`] = { ...job({ id: w, kind: 'copy', state: 'done' }), result }
    }
    open(Obtain, 'obtain')
    const file = new File(['%PDF-1.7'], 'a.pdf', { type: 'application/pdf' })
    await userEvent.upload(await screen.findByLabelText(/^A PDF of your own for/), file)
    expect(await screen.findByText('This is “Moths at lamp 2”, another work of your pool.')).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'Keep it there' }))
    expect(await screen.findByText('Proved: now in hand.')).toBeInTheDocument()
    expect(posted('/inquiries/1/works/2/copies')).toHaveLength(1)
  })
})

describe('a passage of another version', () => {
  const passage = {
    id: 5,
    copyId: 9,
    page: 2,
    label: '2',
    kind: 'quoted',
    quote: 'All the moths came.',
    note: '',
    strandId: null,
    tags: [] as string[],
  } as Passage
  const told = (more: Partial<PassageElsewhere> = {}): PassageElsewhere => ({
    ...{ passage, version: 'accepted manuscript' },
    here: { page: 3, label: '47', exact: 'The moths came.', fit: 0.9 },
    ...more,
  })
  const show = (t: PassageElsewhere) => open(() => <Elsewhere copy={copy} told={t} mayWrite />, 'read')
  test('is shown with its words as they stand here, and noted here in one press', async () => {
    answers['POST /inquiries/1/copies/8/passages'] = { ...passage, id: 6, copyId: 8 }
    show(told())
    expect(await screen.findByText('Noted in the accepted manuscript, there page 2')).toBeInTheDocument()
    expect(screen.getByText('“The moths came.”')).toBeInTheDocument()
    expect(screen.getByText('There it reads: “All the moths came.”')).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'Note it here, page 47' }))
    await waitFor(() =>
      expect(posted('/inquiries/1/copies/8/passages')[0]!.body).toMatchObject({ page: 3, quote: 'The moths came.' }),
    )
  })
  test('whose words do not stand here says so', async () => {
    show(told({ here: null, version: 'version of record' }))
    expect(await screen.findByText('These words do not stand in this version.')).toBeInTheDocument()
    expect(screen.getByText('Noted in another copy, there page 2')).toBeInTheDocument()
    expect(screen.queryByRole('button', { name: /^Note it here/ })).toBeNull()
  })
})

describe('a scan', () => {
  const show = (scanned: number) => open(() => <ScanNotice copy={{ ...copy, scanned }} />, 'read')
  test('says how much of it is read, is read with progress, and is stopped', async () => {
    answers['POST /inquiries/1/copies/8/scan'] = { job: 7 }
    answers['DELETE /inquiries/1/jobs/7'] = job({ cancelAsked: true })
    show(3)
    expect(await screen.findByText(/3 of its 4 pages are read by machine/)).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'Read all its pages' }))
    act(() => tellJob(job({ progress: { read: 3, of: 4 } })))
    expect(await screen.findByText(/Reading the pages by machine: 3 of 4/)).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'Stop' }))
    await waitFor(() => expect(sent.some(s => s.method === 'DELETE' && s.path === '/inquiries/1/jobs/7')).toBe(true))
    act(() => tellJob(job({ state: 'cancelled' })))
    expect(await screen.findByText(/Stopped; what was read is kept/)).toBeInTheDocument()
    act(() => tellJob(job({ id: 9, state: 'failed', error: 'It took too long to read.' })))
    expect(await screen.findByText(/It took too long to read\. What was read is kept\./)).toBeInTheDocument()
  })
  test('that is read whole says nothing', async () => {
    open(
      () => (
        <>
          <p>The page</p>
          <ScanNotice copy={{ ...copy, scanned: 4 }} />
        </>
      ),
      'read',
    )
    expect(await screen.findByText('The page')).toBeInTheDocument()
    expect(screen.queryByText(/This copy is a scan/)).toBeNull()
  })
})
