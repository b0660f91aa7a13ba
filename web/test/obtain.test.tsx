/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { describe, expect, test } from '@jest/globals'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { Obtain } from '../stations/obtain/obtain'
import { ShelfList } from '../stations/obtain/shelf-list'
import { MINE, answers, gate, inquiry, open, posted, work } from './rig'

describe('Obtain', () => {
  const route = (more = {}) => ({
    way: 'gate',
    version: 'version of record',
    from: 'Tessary Journals',
    url: 'http://doi.example/x',
    evidence: 'Held from 2004; yours is of 2020: yes.',
    expected: '2026-10-05',
    likely: 0.95,
    asks: 'signing in',
    ...more,
  })
  test('sets each work’s best way against the due date', async () => {
    answers['GET /inquiries/1/routes'] = [
      {
        ...work(3, { state: 'kept', reach: 'within reach' }),
        routes: [route()],
        closed: [],
        trouble: null,
        copies: [],
      },
      {
        ...work(4, { state: 'kept', reach: 'out of reach' }),
        routes: [],
        closed: ['Held from 1951 to 1999; yours is of 2024: no.'],
        trouble: null,
        copies: [],
      },
      {
        ...work(5, { state: 'kept', reach: 'in hand' }),
        routes: [],
        closed: [],
        trouble: null,
        copies: [{ id: 8, outcome: 'proved', version: 'preprint', pages: 7, said: [], opening: MINE }],
      },
    ]
    answers['POST /inquiries/1/retrievals'] = { job: 3 }
    answers['GET /inquiries/1/gates'] = [gate({ hint: 'Take the card of the lamp.' })]
    open(Obtain, 'obtain')
    expect(await screen.findByText('1 of 3 in hand.')).toBeInTheDocument()
    expect(screen.getByText('Through the gate')).toBeInTheDocument()
    expect(within(screen.getByRole('region', { name: 'no way in time' })).getAllByText('No way in time')).toHaveLength(
      2,
    )
    // what needs nothing any more is folded
    expect(screen.queryByRole('link', { name: 'Read it' })).toBeNull()
    await userEvent.click(screen.getByRole('button', { name: 'In hand, 1' }))
    expect(screen.getByRole('link', { name: 'Read it' })).toHaveAttribute('href', '/inquiries/1/read/8')
    // what is behind the gate waits for signing in, and is fetched with it
    await userEvent.click(screen.getByRole('button', { name: 'Fetch 1 now' }))
    expect(await screen.findByText('This text is behind the gate.')).toBeInTheDocument()
    expect(screen.getByText('Take the card of the lamp.')).toBeInTheDocument()
    expect(posted('/inquiries/1/retrievals')).toHaveLength(0)
    answers['POST /inquiries/1/gates/home'] = [gate({ until: '2026-10-05T12:00:00.000Z' })]
    await userEvent.type(screen.getByLabelText('Card number'), 'HV-204417')
    await userEvent.type(screen.getByLabelText('Password of the card'), 'moonlit-garden')
    await userEvent.click(screen.getByRole('button', { name: 'Sign in and fetch' }))
    await waitFor(() => expect(posted('/inquiries/1/retrievals')[0]!.body).toEqual({ works: [3] }))
  })
  test('without signing in, what is open to all can be fetched alone', async () => {
    const row = (id: number, way: string) => ({
      ...work(id, { state: 'kept', reach: 'within reach' }),
      routes: [route({ way })],
      closed: [],
      trouble: null,
      copies: [],
    })
    answers['GET /inquiries/1/routes'] = [row(3, 'gate'), row(4, 'open'), row(5, 'gate')]
    answers['POST /inquiries/1/retrievals'] = { job: 3 }
    open(Obtain, 'obtain')
    await userEvent.click(await screen.findByRole('button', { name: 'Fetch 3 now' }))
    expect(await screen.findByText('2 of the 3 texts are behind the gate.')).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'Fetch the open one only' }))
    await waitFor(() => expect(posted('/inquiries/1/retrievals')[0]!.body).toEqual({ works: [4] }))
  })
  test('without a due date a work with no way is simply out of reach', async () => {
    const out = {
      ...work(4, { state: 'kept', reach: 'out of reach' }),
      routes: [],
      closed: [],
      trouble: null,
      copies: [],
    }
    answers['GET /inquiries/1/routes'] = [out]
    answers['GET /inquiries/1'] = { ...inquiry, due: null }
    open(Obtain, 'obtain')
    expect(await screen.findByRole('button', { name: 'No way, 1' })).toBeInTheDocument()
    expect(screen.getByText('· 1 out of reach')).toBeInTheDocument()
    expect(screen.queryByText(/in time/)).toBeNull()
  })
  test('a way that is not sure is called so wherever it stands, and is not fetched with the others', async () => {
    const why = 'Not sure: its file says “1 year” of an embargo. Held from 1998; yours is of 2024.'
    answers['GET /inquiries/1/routes'] = [
      {
        ...work(3, { state: 'kept', reach: 'unsure' }),
        routes: [route({ likely: 0.5, evidence: why })],
        closed: [],
        trouble: null,
        copies: [],
      },
    ]
    open(Obtain, 'obtain')
    expect(await screen.findByText('perhaps today, through the gate')).toBeInTheDocument()
    expect(screen.getByRole('button', { name: 'Not sure, 1' })).toBeInTheDocument()
    expect(screen.getByTitle(why)).toHaveTextContent('Not sure: its file says')
    expect(screen.queryByRole('button', { name: /^Fetch \d+ now/ })).toBeNull()
  })
  test('looks for ways of what was not looked up', async () => {
    answers['GET /inquiries/1/routes'] = [
      { ...work(3, { state: 'kept' }), routes: null, closed: [], trouble: null, copies: [] },
    ]
    answers['POST /inquiries/1/routes'] = { job: 3 }
    open(Obtain, 'obtain')
    await userEvent.click(await screen.findByRole('button', { name: 'Look for ways (1)' }))
    await waitFor(() => expect(posted('/inquiries/1/routes')[0]!.body).toEqual({ works: [3] }))
  })

  const row = (id: number, routes: object[], more = {}) => ({
    ...work(id, { state: 'kept', reach: 'within reach' }),
    ...{ routes, addresses: routes.map(() => 'http://gate.example/open?url=x'), closed: [], trouble: null, copies: [] },
    ...more,
  })
  const signedIn = () => [gate({ until: '2026-10-05T12:00:00.000Z', today: 3, daily: 60 })]
  test('of two libraries each has its gate, and one signs in at that of the text', async () => {
    const town = { key: '7', name: 'Ostermoor Town Library' }
    answers['GET /inquiries/1/routes'] = [row(3, [route({ library: town })])]
    answers['GET /inquiries/1/gates'] = [...signedIn(), gate({ library: '7', name: town.name })]
    answers['POST /inquiries/1/gates/look'] = answers['GET /inquiries/1/gates']
    answers['POST /inquiries/1/gates/7'] = [...signedIn(), gate({ library: '7', until: '2026-10-05T12:00:00.000Z' })]
    answers['POST /inquiries/1/retrievals'] = { job: 3 }
    open(Obtain, 'obtain')
    expect(await screen.findByText('Halverane Library: signed in')).toBeInTheDocument()
    expect(screen.getByText('Ostermoor Town Library: not signed in')).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'Fetch 1 now' }))
    expect(await screen.findByText('Sign in at the gate of Ostermoor Town Library')).toBeInTheDocument()
    await userEvent.type(screen.getByLabelText('Card number'), 'OT-1')
    await userEvent.type(screen.getByLabelText('Password of the card'), 'saltmarsh')
    await userEvent.click(screen.getByRole('button', { name: 'Sign in and fetch' }))
    await waitFor(() => expect(posted('/inquiries/1/retrievals')[0]!.body).toEqual({ works: [3] }))
  })
  test('where a way of a library did not lead to the text, the library is told what was tried', async () => {
    const walked = { ended: 'not paid', said: 'It is not licensed.', on: 'http://doi.example/1', day: '2026-10-05' }
    const library = { key: 'home', name: 'Halverane Library' }
    const was = { evidence: 'Held from 1998.', expected: '2026-10-05', likely: 0.95, asks: 'signing in at the gate' }
    const routes = [
      route({ library, walked, was, url: 'http://doi.example/1', likely: 0, evidence: 'It is not licensed.' }),
    ]
    answers['GET /inquiries/1/routes'] = [row(3, routes)]
    const steps = [{ what: 'the article', said: 'asks to buy it', url: 'http://a.example/1' }]
    answers['GET /inquiries/1/works/3/walks'] = [
      {
        ...{ id: 1, url: 'http://doi.example/1', byGate: true, ended: 'not paid', said: 'It is not licensed.', steps },
        ...{ deskDay: '2026-10-05', at: '2026-10-05T10:00:00.000Z' },
      },
    ]
    open(Obtain, 'obtain')
    await userEvent.click(await screen.findByRole('button', { name: /Moths at lamp 3/ }))
    await userEvent.click(await screen.findByRole('button', { name: 'Tell the library' }))
    expect(await screen.findByRole('region', { name: 'Letter to the library' })).toHaveTextContent(
      /Your list says: Held from 1998\..*it ended so: It is not licensed\..*1\. the article: asks to buy it/,
    )
    expect(screen.getByRole('link', { name: 'Write it in your mail' })).toHaveAttribute(
      'href',
      expect.stringMatching(/^mailto:help@halverane\.example\?/),
    )
    expect(screen.getByText('It goes to help@halverane.example.')).toBeInTheDocument()
  })
  test('where a library has pages of its own to sign in, these are opened; on its network no gate is needed', async () => {
    answers['GET /inquiries/1/routes'] = [row(3, [route({ way: 'open' })])]
    answers['GET /inquiries/1/gates'] = [
      gate({ manner: 'window', address: 'http://pass.example/in' }),
      gate({ library: '7', name: 'Town', onCampus: true }),
    ]
    open(Obtain, 'obtain')
    expect(await screen.findByRole('link', { name: 'Open the sign-in page of Halverane Library' })).toHaveAttribute(
      'href',
      'http://pass.example/in',
    )
    expect(screen.getByText('Town: you are on its network')).toBeInTheDocument()
    expect(screen.queryByRole('button', { name: /Sign in at the gate/ })).toBeNull()
  })
  test('a way that the student walks is called so, and two of one title are told apart by where they begin', async () => {
    const town = { key: '7', name: 'Town' }
    const ways = ['http://doi.example/10.5555/x', 'http://lantern.example/j/4', 'no address'].map(url =>
      route({ url, library: town, hand: true, from: 'Lantern', asks: 'signing in in your own window' }),
    )
    answers['GET /inquiries/1/routes'] = [row(3, ways, { closed: ['Halverane Library does not hold this title.'] })]
    answers['GET /inquiries/1/works/3/walks'] = []
    open(Obtain, 'obtain')
    expect(await screen.findByText('today, by hand')).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: /Moths at lamp 3/ }))
    expect(await screen.findByText(/^doi\.example; Lantern; /)).toBeInTheDocument()
    expect(screen.getByText(/^lantern\.example; Lantern; /)).toBeInTheDocument()
    expect(screen.getByText(/^Lantern; /)).toBeInTheDocument()
    expect(screen.getByText('Halverane Library does not hold this title.')).toBeInTheDocument()
  })
  test('terms are read before they are accepted, and what waits for them is fetched together', async () => {
    const terms = { host: 'lantern.example', text: 'For your own study.' }
    const walked = { ended: 'terms', said: 'It asks for its terms.', on: 'http://a.example', day: '2026-10-05', terms }
    answers['GET /inquiries/1/routes'] = [row(3, [route({ walked })]), row(4, [route({ walked })]), row(5, [route()])]
    answers['GET /inquiries/1/gates'] = signedIn()
    answers['POST /inquiries/1/gates/look'] = signedIn()
    answers['POST /terms'] = () => ({ status: 204, body: undefined })
    answers['POST /inquiries/1/retrievals'] = { job: 3 }
    open(Obtain, 'obtain')
    expect(await screen.findByText('3 of 60 files of today')).toBeInTheDocument()
    await userEvent.click(screen.getAllByRole('button', { name: 'Read terms' })[0]!)
    expect(await screen.findByText('For your own study.')).toBeInTheDocument()
    expect(posted('/terms')).toHaveLength(0)
    await userEvent.click(screen.getByRole('button', { name: 'I accept them, fetch' }))
    await waitFor(() => expect(posted('/inquiries/1/retrievals')[0]!.body).toEqual({ works: [3, 4] }))
    expect(posted('/terms')[0]!.body).toEqual({ host: 'lantern.example' })
  })
  test('a work opens to all its ways: the steps of the one that was walked, and what to keep at hand', async () => {
    const walked = { ended: 'sign in', said: 'It asks to sign in.', on: 'http://a.example/in', day: '2026-10-05' }
    const gone = { ended: 'gone', said: 'The address is dead.', on: 'http://b.example', day: '2026-10-05' }
    answers['GET /inquiries/1/routes'] = [
      row(3, [route({ walked, likely: 0.6 }), route({ url: 'http://b.example', walked: gone, likely: 0 })], {
        reach: 'unsure',
      }),
    ]
    answers['GET /inquiries/1/works/3/walks'] = [
      {
        ...{ id: 1, url: 'http://doi.example/x', byGate: true, ended: 'sign in', said: 'It asks to sign in.' },
        steps: [
          { url: 'http://a.example', what: 'the volume', said: 'volume 52, and the year fits' },
          { url: 'http://a.example/in', what: 'the article', said: 'It asks to sign in.' },
        ],
        ...{ deskDay: '2026-10-05', at: '2026-10-05T10:41:00.000Z' },
      },
    ]
    open(Obtain, 'obtain')
    await userEvent.click(await screen.findByRole('button', { name: /Moths at lamp 3/ }))
    const steps = within(await screen.findByRole('list', { name: 'Steps of this way' })).getAllByRole('listitem')
    expect(steps.map(s => s.textContent)).toEqual([
      'the volume · volume 52, and the year fits',
      'the article · It asks to sign in.',
    ])
    expect(screen.getByRole('link', { name: 'Open it in your own window' })).toHaveAttribute(
      'href',
      'http://gate.example/open?url=x',
    )
    expect(await screen.findByRole('button', { name: /^Copy title: / })).toBeInTheDocument()
    // the second way was tried, and is closed
    const second = screen.getByRole('button', { name: /^2/ })
    expect(second).toHaveTextContent('nodead address')
    await userEvent.click(second)
    expect(screen.queryByRole('list', { name: 'Steps of this way' })).toBeNull()
  })
  test('arrow keys go from line to line', async () => {
    answers['GET /inquiries/1/routes'] = [row(3, [route()]), row(4, [route()])]
    open(Obtain, 'obtain')
    const head = await screen.findByRole('button', { name: 'Fetch now, 2' })
    head.focus()
    await userEvent.keyboard('{ArrowDown}{ArrowDown}')
    expect(screen.getByRole('button', { name: /Moths at lamp 4/ })).toHaveFocus()
    await userEvent.keyboard('{ArrowDown}{ArrowUp}{Enter}')
    expect(screen.getByRole('button', { name: /Moths at lamp 3/, expanded: true })).toBeInTheDocument()
  })
  test('where there is no way, a letter to the author is written', async () => {
    const author = route({ way: 'author', from: 'Okafor', likely: 0.3, url: undefined })
    answers['GET /inquiries/1/routes'] = [row(3, [author], { reach: 'out of reach' })]
    open(Obtain, 'obtain')
    await userEvent.click(await screen.findByRole('button', { name: /Moths at lamp 3/ }))
    expect(await screen.findByRole('region', { name: 'Letter to the author' })).toHaveTextContent(
      /^Dear .*Moths at lamp 3/,
    )
    const mail = screen.getByRole('link', { name: 'Write it in your mail' }).getAttribute('href')!
    expect(mail).toMatch(/^mailto:\?subject=A%20copy%20of/)
  })
  test('what could not be asked is said above the list, once, and at its work', async () => {
    const trouble = 'shelf.example is out of service. What is in now on the shelves of Home is not known.'
    answers['GET /inquiries/1/routes'] = [3, 4].map(id => ({ ...row(id, [route()]), trouble }))
    open(Obtain, 'obtain')
    expect(await screen.findByText(`${trouble} Look for ways again later.`)).toBeInTheDocument()
  })
  test('the shelf list goes by branch and call number, and keeps what was seen', async () => {
    const stands = (id: number, branch: string, call: string, more = {}) =>
      row(id, [route({ way: 'shelf', url: undefined, from: branch, shelf: { branch, call }, ...more })])
    answers['GET /inquiries/1/routes'] = [
      stands(3, 'Hill Branch', 'QL561 .W5 1980'),
      stands(4, 'Hill Branch', 'QL561 .W49 1989'),
      stands(5, 'Annex', 'B 1'),
    ]
    answers['POST /inquiries/1/works/4/shelf'] = () => ({ status: 204, body: undefined })
    open(ShelfList, 'obtain/shelf')
    const hill = within(await screen.findByRole('region', { name: 'Hill Branch' }))
    expect(hill.getAllByRole('listitem').map(li => li.textContent)).toEqual([
      expect.stringMatching(/^QL561 \.W49 1989/),
      expect.stringMatching(/^QL561 \.W5 1980/),
    ])
    expect(screen.getAllByRole('region', { name: /Annex|Branch/ }).map(r => r.getAttribute('aria-label'))).toEqual([
      'Annex',
      'Hill Branch',
    ])
    await userEvent.click(hill.getAllByRole('button', { name: 'Not there' })[0]!)
    await waitFor(() =>
      expect(posted('/inquiries/1/works/4/shelf')[0]!.body).toEqual({
        ...{ branch: 'Hill Branch', call: 'QL561 .W49 1989', found: false },
      }),
    )
  })

  test('what was not there is written of to its library, with what the catalogue said', async () => {
    answers['GET /inquiries/1/routes'] = [
      row(4, [
        route({
          ...{ way: 'shelf', url: undefined, from: 'Hill Branch', library: { key: 'home', name: 'Home' }, likely: 0 },
          ...{ shelf: { branch: 'Hill Branch', call: 'P 3', day: '2026-10-05' }, evidence: 'It was not on its shelf.' },
          walked: { ended: 'gone', said: 'It was not on its shelf.', on: 'Hill Branch', day: '2026-10-06' },
          was: { evidence: 'It is in: Hill Branch, P 3.', expected: '2026-10-05', likely: 0.95, asks: '' },
        }),
      ]),
    ]
    answers['GET /inquiries/1/works/4'] = { ...work(4), item: { id: 'a', type: 'article-journal', title: 'Lit paths' } }
    open(ShelfList, 'obtain/shelf')
    await userEvent.click(await screen.findByRole('button', { name: 'Tell the library' }))
    const letter = await screen.findByText(/under P 3, and it was not there/)
    expect(letter).toHaveTextContent('On 6 October 2026 I looked for')
    expect(letter).toHaveTextContent('Your catalogue said: It is in: Hill Branch, P 3.')
  })
  test('each branch says whether it is open, by its own hours or by those of its library', async () => {
    const at = (id: number, branch: string) =>
      row(id, [
        route({
          ...{ way: 'shelf', url: undefined, from: branch, library: { key: 'home', name: 'Home' } },
          shelf: { branch, call: 'B 1' },
        }),
      ])
    const told = (branch: string, said: string) => ({ library: 'home', branch, said, week: [], trouble: null })
    answers['GET /inquiries/1/routes'] = [at(3, 'Hill Branch'), at(4, 'Annex')]
    answers['GET /inquiries/1/hours'] = [
      told('', 'Closed on Thu 8 October (Staff day).'),
      told('hill branch', 'Closed today, opens tomorrow at 10:00.'),
      { ...told('Annex', 'Open today 8:00–22:00.'), library: 'town' },
    ]
    open(ShelfList, 'obtain/shelf')
    const hill = await screen.findByRole('region', { name: 'Hill Branch' })
    await waitFor(() => expect(hill).toHaveTextContent('Hill Branch Closed today, opens tomorrow at 10:00.'))
    expect(screen.getByRole('region', { name: 'Annex' })).toHaveTextContent(
      'Annex Closed on Thu 8 October (Staff day).',
    )
  })
  test('what the shelves said is told: what is out, what is read there and where in it, and it is asked again', async () => {
    const at = (id: number, call: string, shelf: object) =>
      row(id, [
        route({
          ...{ way: 'shelf', url: undefined, from: 'Hill Branch', library: { key: 'home', name: 'Home' } },
          shelf: { branch: 'Hill Branch', call, day: '2026-10-05', ...shelf },
        }),
      ])
    answers['GET /inquiries/1/routes'] = [
      at(3, 'B 1', { said: 'Both copies are out until 21 October 2026', out: true, room: 'Floor 2' }),
      at(4, 'P 3', { said: 'It is in', stays: true, within: 'Night Ecology 12(3), 14–21' }),
    ]
    answers['POST /inquiries/1/routes'] = () => ({ status: 202, body: { job: 9 } })
    answers['POST /inquiries/1/works/4/shelf'] = () => ({ status: 201, body: undefined })
    open(ShelfList, 'obtain/shelf')
    const [out, there] = within(await screen.findByRole('region', { name: 'Hill Branch' })).getAllByRole('listitem')
    expect(out).toHaveTextContent('Floor 2 · Both copies are out until 21 October 2026')
    expect(within(out!).queryByRole('button')).toBeNull()
    expect(there).toHaveTextContent('in Night Ecology 12(3), 14–21')
    expect(there).toHaveTextContent('to be read there')
    expect(screen.getByText(/2 at one branch, 1 of them out; asked on Mon 5 Oct/)).toBeInTheDocument()
    await userEvent.click(within(there!).getByRole('button', { name: 'Found it' }))
    await waitFor(() =>
      expect(posted('/inquiries/1/works/4/shelf')[0]!.body).toEqual({
        ...{ branch: 'Hill Branch', call: 'P 3', library: 'home', found: true },
      }),
    )
    await userEvent.click(screen.getByRole('button', { name: 'Ask again' }))
    await waitFor(() => expect(posted('/inquiries/1/routes')[0]!.body).toEqual({ works: [3, 4] }))
  })
})
