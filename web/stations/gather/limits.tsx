import { api } from '../../../core/schema/api'
import { Box, Button, Flex, Input, Menu, Portal, Text } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { Bar, BarChart, Cell, ResponsiveContainer, Tooltip, XAxis } from 'recharts'
import { printCql } from '../../../core/query/cql'
import { sayLanguage } from '../../../core/query/languages'
import { sayYears, sheetQuery } from '../../../core/query/sheet'
import type { YearCount } from '../../../core/query/years'
import { call } from '../../api/client'
import { useHere } from '../../frame/inquiry-frame'
import type { SheetHandle } from './use-sheet'
import { n } from './use-counts'

const KINDS = [
  'research article',
  'literature review',
  'conference paper',
  'book',
  'chapter',
  'thesis',
  'report',
  'preprint',
]

/** Limits that are not there yet; years and languages are asked, the others judged on fetched records. */
export function LimitMenu({ handle, catalogues }: { handle: SheetHandle; catalogues: string[] }) {
  const { inquiry } = useHere()
  const { sheet, edit } = handle
  const now = Number(inquiry.today.slice(0, 4))
  const [years, setYears] = useState<{ from: string; to: string }>()
  const done = () => {
    const from = Number(years?.from) || undefined
    const to = Number(years?.to) || undefined
    setYears(undefined)
    if (from || to) edit(s => ({ ...s, years: { ...(from ? { from } : {}), ...(to ? { to } : {}) } }))
  }
  return (
    <Box mt="8px" fontSize="13px">
      <Menu.Root positioning={{ placement: 'bottom-start' }}>
        <Menu.Trigger asChild>
          <Button size="xs" variant="outline">
            Add a limit
          </Button>
        </Menu.Trigger>
        <Portal>
          <Menu.Positioner>
            <Menu.Content minW="220px" maxH="60vh">
              <Menu.ItemGroup>
                <Menu.ItemGroupLabel>Asked of the catalogues</Menu.ItemGroupLabel>
                {[3, 8, 15].map(y => (
                  <Menu.Item key={y} value={`y${y}`} onClick={() => edit(s => ({ ...s, years: { from: now - y } }))}>
                    {sayYears({ from: now - y })}
                  </Menu.Item>
                ))}
                <Menu.Item
                  value="years"
                  onClick={() => setYears({ from: String(sheet.years?.from ?? ''), to: String(sheet.years?.to ?? '') })}
                >
                  years from … to …
                </Menu.Item>
                {['en', 'de', 'fr', 'es'].map(l => (
                  <Menu.Item
                    key={l}
                    value={`l${l}`}
                    onClick={() => edit(s => ({ ...s, languages: [...new Set([...(s.languages ?? []), l])] }))}
                  >
                    {sayLanguage(l)}
                  </Menu.Item>
                ))}
              </Menu.ItemGroup>
              <Menu.ItemGroup>
                <Menu.ItemGroupLabel>Judged on fetched records</Menu.ItemGroupLabel>
                <Menu.Item value="refereed" onClick={() => edit(s => ({ ...s, refereed: true }))}>
                  refereed venue
                </Menu.Item>
                <Menu.Item value="reach" onClick={() => edit(s => ({ ...s, withinReach: true }))}>
                  what the library reaches
                </Menu.Item>
                <Menu.Item value="abstract" onClick={() => edit(s => ({ ...s, withAbstract: true }))}>
                  has an abstract
                </Menu.Item>
                {KINDS.map(k => (
                  <Menu.Item
                    key={k}
                    value={`k${k}`}
                    onClick={() => edit(s => ({ ...s, kinds: [...new Set([...(s.kinds ?? []), k])] }))}
                  >
                    {k}
                  </Menu.Item>
                ))}
              </Menu.ItemGroup>
            </Menu.Content>
          </Menu.Positioner>
        </Portal>
      </Menu.Root>
      {years && (
        <Years
          handle={handle}
          catalogues={catalogues}
          years={years}
          set={setYears}
          done={done}
          leave={() => setYears(undefined)}
        />
      )}
    </Box>
  )
}

const whole = (text: string): number | undefined => (/^\d{4}$/.test(text) ? Number(text) : undefined)

/** The years of what is found now, as bars; a click on a bar sets the nearer end of the stretch. */
function Years({
  handle,
  catalogues,
  years,
  set,
  done,
  leave,
}: {
  handle: SheetHandle
  catalogues: string[]
  years: { from: string; to: string }
  set: (y: { from: string; to: string }) => void
  done: () => void
  leave: () => void
}) {
  const { inquiry } = useHere()
  const { years: _years, ...open } = handle.sheet
  const query = useMemo(() => sheetQuery(open), [open])
  const cql = query && printCql(query)
  const found = useQuery({
    queryKey: ['years', inquiry.id, cql, catalogues.join(',')],
    queryFn: ({ signal }) =>
      call(api.years, { params: { inquiry: inquiry.id }, body: { query: cql!, catalogues }, signal }),
    enabled: Boolean(cql) && catalogues.length > 0,
    staleTime: 600_000,
    retry: false,
  })
  const list = found.data?.years ?? []
  const bars = list.length
    ? Array.from({ length: list.at(-1)!.year - list[0]!.year + 1 }, (_, i) => ({
        year: list[0]!.year + i,
        n: list.find(y => y.year === list[0]!.year + i)?.n ?? 0,
      }))
    : []
  const from = whole(years.from)
  const to = whole(years.to)
  const inside = (y: number) => (from === undefined || y >= from) && (to === undefined || y <= to)
  const left = list.filter(y => inside(y.year)).reduce((t, y) => t + y.n, 0)
  const all = list.reduce((t, y) => t + y.n, 0)
  const names = new Map(inquiry.catalogues.map(x => [x.id, x.name]))
  const choose = (y: number) => {
    const nearTo = to !== undefined && (from === undefined || Math.abs(y - to) < Math.abs(y - from))
    set(nearTo ? { ...years, to: String(y) } : { ...years, from: String(y) })
  }
  return (
    <Box
      mt="8px"
      bg="surface"
      border="1px solid"
      borderColor="hair"
      borderRadius="md"
      p="10px 12px"
      maxW="560px"
      role="group"
      aria-label="Limit of years"
    >
      <Text fontSize="12px" color="soft" mb="4px">
        Records a year{bars.length > 1 ? '; choose a bar to begin or end there' : ''}
      </Text>
      {bars.length > 1 && (
        <Box
          h="84px"
          role="img"
          aria-label={`Records a year from ${bars[0]!.year} to ${bars.at(-1)!.year}; ${n(left)} of ${n(all)} are in the stretch chosen.`}
        >
          <ResponsiveContainer width="100%" height="100%">
            <BarChart data={bars} margin={{ top: 2, right: 0, bottom: 0, left: 0 }} barCategoryGap={1}>
              <XAxis
                dataKey="year"
                tick={{ fontSize: 11, fill: 'currentColor' }}
                tickLine={false}
                interval="preserveStartEnd"
                minTickGap={30}
                height={18}
              />
              <Tooltip
                cursor={{ fill: 'transparent' }}
                isAnimationActive={false}
                content={({ active, payload }) => {
                  const bar = payload?.[0]?.payload as YearCount | undefined
                  return active && bar ? (
                    <Box bg="ink" color="paper" fontSize="12px" px="6px" py="2px" borderRadius="sm">
                      {bar.year}: {n(bar.n)}
                    </Box>
                  ) : null
                }}
              />
              <Bar
                dataKey="n"
                isAnimationActive={false}
                onClick={(bar: { payload?: YearCount }) => bar.payload && choose(bar.payload.year)}
                cursor="pointer"
              >
                {bars.map(b => (
                  <Cell
                    key={b.year}
                    fill={inside(b.year) ? 'var(--chakra-colors-vine-solid)' : 'var(--chakra-colors-vine-line)'}
                  />
                ))}
              </Bar>
            </BarChart>
          </ResponsiveContainer>
        </Box>
      )}
      <Text fontSize="12.5px" color="soft" mb="8px">
        {!cql
          ? 'Put a word on the sheet to see its years.'
          : found.isPending
            ? 'Asking for the years …'
            : found.isError || !bars.length
              ? 'No catalogue that is on counts by year.'
              : `${n(left)} of ${n(all)}, as counted by ${found.data!.told.map(x => names.get(x)).join(', ')}`}
      </Text>
      <Flex gap="6px" align="center">
        <Input
          aria-label="From the year"
          size="xs"
          w="72px"
          type="number"
          value={years.from}
          onChange={e => set({ ...years, from: e.target.value })}
          autoFocus
        />
        to
        <Input
          aria-label="To the year"
          size="xs"
          w="72px"
          type="number"
          value={years.to}
          onChange={e => set({ ...years, to: e.target.value })}
          onKeyDown={e => e.key === 'Enter' && done()}
        />
        <Button size="xs" variant="outline" onClick={done}>
          Set
        </Button>
        <Button size="xs" variant="ghost" onClick={leave}>
          Leave it
        </Button>
      </Flex>
    </Box>
  )
}
