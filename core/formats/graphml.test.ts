import { expect, test } from '@jest/globals'
import { DirectedGraph } from 'graphology'
import { parse } from 'graphology-graphml'
import { writeGraphml } from './graphml'

test('a reader of others finds nodes, links and what is told of them', () => {
  const text = writeGraphml({
    nodes: [
      { id: 1, told: { title: 'Moths & <lamps> "of" a\u0001 town', year: 2019, DOI: '10.5555/a.1', state: 'kept' } },
      { id: 2, told: { title: 'Öde Nächte', year: null, DOI: null, state: null } },
    ],
    links: [{ from: 1, to: 2, told: { 'said by': 'index, copy', day: '2026-10-05' } }],
  })
  const graph = parse(DirectedGraph, text)
  expect(graph.getNodeAttributes('n1')).toEqual({
    ...{ title: 'Moths & <lamps> "of" a town', year: 2019 },
    ...{ DOI: '10.5555/a.1', state: 'kept' },
  })
  expect(graph.getNodeAttributes('n2')).toEqual({ title: 'Öde Nächte' })
  expect(graph.getEdgeAttributes(graph.edge('n1', 'n2'))).toEqual({ 'said by': 'index, copy', day: '2026-10-05' })
})

test('a graph without anything is one', () => {
  expect(parse(DirectedGraph, writeGraphml({ nodes: [], links: [] })).order).toBe(0)
})
