import { api, type Counts } from '../../../core/schema/api'
import { Box, Button, chakra, Flex, NativeSelect, Text } from '@chakra-ui/react'
import { useEffect, useMemo, useRef, useState } from 'react'
import { printCql, type QueryNode } from '../../../core/query/cql'
import { termNode, type SheetConcept, type Term } from '../../../core/query/sheet'
import { medianYear } from '../../../core/query/years'
import { call, restOf } from '../../api/client'
import { useHere } from '../../frame/inquiry-frame'
import { Empty, tellError } from '../../frame/parts'
import type { SheetHandle } from './use-sheet'
import { n, short } from './use-counts'

interface Cell {
  all: Counts
  /** Of the last five years. */
  recent: Counts
  /** The median year, of the catalogues that count by year. */
  median: number | undefined
}
const key = (a: Term, b: Term): string => `${a.id} ${b.id}`
const both = (a: QueryNode, b: QueryNode): QueryNode => ({
  kind: 'boolean',
  op: 'and',
  modifiers: [],
  left: a,
  right: b,
})
/** Waits, or throws once it was stopped. */
async function rest(seconds: number, signal: AbortSignal): Promise<void> {
  await new Promise<void>(done => {
    const timer = setTimeout(done, seconds * 1000)
    signal.addEventListener('abort', () => (clearTimeout(timer), done()), { once: true })
  })
  signal.throwIfAborted()
}
const sum = (c: Counts): number => c.counts.reduce((t, x) => t + (x.count ?? 0), 0)

/**
 * The terms of two concepts crossed: a count in every cell, nearest cells first, within a budget of questions to the
 * catalogues that is shown and can be stopped. A cell that is empty, or thin and old, while both its words are common
 * may be a gap in research.
 */
export function Grid({ handle, catalogues }: { handle: SheetHandle; catalogues: string[] }) {
  const { inquiry, mayWrite } = useHere()
  const { sheet, edit } = handle
  const usable = sheet.concepts.filter(c => c.terms.some(t => t.on && termNode(t)))
  const [chosen, setChosen] = useState<[string, string]>()
  const a = usable.find(c => c.id === chosen?.[0]) ?? usable[0]
  const b = usable.find(c => c.id === chosen?.[1] && c.id !== a?.id) ?? usable.find(c => c.id !== a?.id)
  const [cells, setCells] = useState<Map<string, Cell>>(new Map())
  const [asking, setAsking] = useState(false)
  /** Seconds of the rest that is kept now. */
  const [resting, setResting] = useState<number>()
  const stop = useRef<AbortController>(null)
  useEffect(() => () => stop.current?.abort(), [])
  const rows = useMemo(() => (a?.terms ?? []).filter(t => t.on && termNode(t)), [a])
  const columns = useMemo(() => (b?.terms ?? []).filter(t => t.on && termNode(t)), [b])
  if (!a || !b)
    return (
      <Empty title="A grid needs two concepts">
        Write a second concept on the question sheet. The grid crosses the words of both and shows where much, little or
        nothing is found.
      </Empty>
    )
  const since = Number(inquiry.today.slice(0, 4)) - 4
  // nearest first: the pairs of the words that stand first
  const order = rows.flatMap((r, i) => columns.map((c, j) => ({ r, c, near: i + j }))).sort((x, y) => x.near - y.near)
  const missing = order.filter(x => !cells.has(key(x.r, x.c)))
  const fill = async () => {
    const ended = (stop.current = new AbortController())
    setAsking(true)
    const asking = (node: QueryNode) => ({
      params: { inquiry: inquiry.id },
      body: { query: printCql({ root: node }), catalogues },
      signal: ended.signal,
    })
    const ask = (node: QueryNode) => call(api.counts, asking(node))
    const left = [...missing]
    try {
      for (let next = left[0]; next; next = left[0]) {
        const { r, c } = next
        const pair = both(termNode(r)!, termNode(c)!)
        const year: QueryNode = { kind: 'clause', index: 'year', relation: '>=', modifiers: [], term: String(since) }
        let told: [Counts, Counts, { years: Parameters<typeof medianYear>[0] }]
        try {
          told = await Promise.all([ask(pair), ask(both(pair, year)), call(api.years, asking(pair))])
        } catch (e) {
          const seconds = restOf(e)
          if (seconds === undefined) throw e
          // asked as often as may be: the cell is asked again after a rest
          setResting(seconds)
          await rest(seconds, ended.signal)
          setResting(undefined)
          continue
        }
        const [all, recent, { years }] = told
        left.shift()
        setCells(before => new Map(before).set(key(r, c), { all, recent, median: medianYear(years) }))
      }
    } catch (e) {
      if (!ended.signal.aborted) tellError(e)
    }
    setResting(undefined)
    setAsking(false)
  }
  const margin = (terms: Term[], at: (t: Term) => (Cell | undefined)[]) =>
    new Map(terms.map(t => [t.id, at(t).reduce((x, c) => x + (c ? sum(c.all) : 0), 0)]))
  const rowSum = margin(rows, t => columns.map(c => cells.get(key(t, c))))
  const columnSum = margin(columns, t => rows.map(r => cells.get(key(r, t))))
  const broad = sheet.zone[1]
  const say = (cell: Cell, r: Term, c: Term): { word: string; gap: boolean } => {
    const x = sum(cell.all)
    const old = x > 0 && sum(cell.recent) / x < 0.1
    const common = (rowSum.get(r.id) ?? 0) > broad && (columnSum.get(c.id) ?? 0) > broad
    const thin = cell.all.most < sheet.zone[0]
    return {
      word: x === 0 ? 'none' : thin ? (old ? 'thin, old' : 'thin') : cell.all.least > broad ? 'broad' : 'reviewable',
      gap: common && (x === 0 || (thin && old)),
    }
  }
  const use = (r: Term, c: Term) =>
    edit(
      s => ({
        ...s,
        concepts: s.concepts.map(x => (x.id === a.id ? only(x, r.id) : x.id === b.id ? only(x, c.id) : x)),
      }),
      `The query now asks for ${r.text} with ${c.text}.`,
    )
  return (
    <Box>
      <Flex gap="10px" align="center" mb="10px" fontSize="13px" wrap="wrap">
        <Pick label="Rows" value={a.id} concepts={usable} set={id => setChosen([id, b.id === id ? a.id : b.id])} />
        by
        <Pick
          label="Columns"
          value={b.id}
          concepts={usable.filter(c => c.id !== a.id)}
          set={id => setChosen([a.id, id])}
        />
        <Box flex="1" />
        <Text color="soft">
          {resting
            ? `The catalogues were asked as often as they may be. This goes on by itself within ${n(resting)} ${resting === 1 ? 'second' : 'seconds'}.`
            : missing.length
              ? `${n(missing.length)} ${missing.length === 1 ? 'cell' : 'cells'} to ask, ${n(missing.length * 3 * catalogues.length)} questions at most to ${catalogues.length} catalogues`
              : 'every cell is filled'}
        </Text>
        {asking ? (
          <Button size="xs" variant="outline" onClick={() => stop.current?.abort()}>
            Stop
          </Button>
        ) : (
          <Button
            size="xs"
            variant="outline"
            disabled={!missing.length || !catalogues.length}
            onClick={() => void fill()}
          >
            {cells.size ? 'Fill the rest' : 'Fill the grid'}
          </Button>
        )}
      </Flex>
      <Box overflowX="auto">
        <chakra.table w="full" fontSize="13px" css={{ borderCollapse: 'collapse' }}>
          <caption style={{ position: 'absolute', clip: 'rect(0 0 0 0)' }}>Records for each pair of terms</caption>
          <thead>
            <tr>
              <td />
              {columns.map(c => (
                <chakra.th key={c.id} scope="col" fontWeight="600" textAlign="right" px="8px" py="6px" minW="92px">
                  {c.text}
                  {c.ending ? '*' : ''}
                </chakra.th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map(r => (
              <tr key={r.id}>
                <chakra.th scope="row" fontWeight="600" textAlign="left" pr="8px" py="4px" maxW="170px">
                  {r.text}
                  {r.ending ? '*' : ''}
                </chakra.th>
                {columns.map(c => {
                  const cell = cells.get(key(r, c))
                  const said = cell && say(cell, r, c)
                  const recent =
                    cell && sum(cell.all) > 0 ? Math.round((100 * sum(cell.recent)) / sum(cell.all)) : undefined
                  return (
                    <chakra.td key={c.id} p="2px">
                      <chakra.button
                        type="button"
                        w="full"
                        textAlign="right"
                        px="8px"
                        py="4px"
                        borderRadius="md"
                        border="1px solid"
                        borderStyle={said?.gap ? 'dashed' : 'solid'}
                        borderColor={said?.gap ? 'grape' : 'hair'}
                        bg={
                          !said
                            ? 'transparent'
                            : said.word === 'reviewable'
                              ? 'vine.soft'
                              : said.word === 'broad'
                                ? 'surface'
                                : 'amber.soft'
                        }
                        disabled={!cell || !mayWrite}
                        onClick={() => use(r, c)}
                        title={cell ? `Ask for ${r.text} with ${c.text}` : 'not asked yet'}
                      >
                        <chakra.span
                          display="block"
                          fontFamily="serif"
                          fontWeight="600"
                          fontSize="15px"
                          lineHeight="20px"
                        >
                          {cell ? short(cell.all.least) : '·'}
                        </chakra.span>
                        <chakra.span
                          display="block"
                          fontSize="11.5px"
                          lineHeight="15px"
                          color={said?.gap ? 'grape' : 'soft'}
                        >
                          {said
                            ? said.gap
                              ? 'possible gap'
                              : `${said.word}${recent !== undefined ? `, ${recent}% new` : ''}${cell?.median ? `, half since ${cell.median}` : ''}`
                            : 'not asked'}
                        </chakra.span>
                      </chakra.button>
                    </chakra.td>
                  )
                })}
              </tr>
            ))}
          </tbody>
        </chakra.table>
      </Box>
      <Text mt="8px" fontSize="12.5px" color="soft">
        Each number is that of the largest catalogue; “new” is the share since {since}, “half since” the median year
        where catalogues count by year. A cell becomes the query when it is chosen.
      </Text>
    </Box>
  )
}

const only = (c: SheetConcept, term: string): SheetConcept => ({
  ...c,
  terms: c.terms.map(t => ({ ...t, on: t.id === term })),
})

function Pick({
  label,
  value,
  concepts,
  set,
}: {
  label: string
  value: string
  concepts: SheetConcept[]
  set: (id: string) => void
}) {
  return (
    <NativeSelect.Root size="xs" w="170px">
      <NativeSelect.Field aria-label={label} value={value} onChange={e => set(e.target.value)} bg="surface">
        {concepts.map(c => (
          <option key={c.id} value={c.id}>
            {c.name || c.terms[0]?.text}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  )
}
