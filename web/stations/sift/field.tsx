import { Box, Button, chakra, Flex, Grid, Link, Table, Text } from '@chakra-ui/react'
import { useMemo, useState } from 'react'
import { Link as RouterLink } from 'react-router'
import { Bar, BarChart, CartesianGrid, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts'
import { fieldOf, type Chart } from '../../../core/sift/field'
import type { WorkLine } from '../../../core/sift/line'
import { agesOfYears, currencyOf, sayCurrency } from '../../../core/sift/currency'
import { useCitedAges } from '../../frame/cited-ages'
import { useHere } from '../../frame/inquiry-frame'
import { Empty, Heading } from '../../frame/parts'
import type { LimitHandle } from './use-limits'
import { colour as c } from '../../frame/colour'
const n = (x: number): string => x.toLocaleString('en')

/** Fills told apart by pattern as well as by colour. */
const FILLS = ['solid', 'stripes', 'dots', 'bars', 'open'] as const
const INK: Record<string, string[]> = {
  years: ['vine', 'grape', 'slate', 'amber', 'line'],
  decided: ['vine', 'amber', 'slate', 'line'],
}

function Patterns({ id, inks }: { id: string; inks: readonly string[] }) {
  return (
    <defs>
      {inks.map((ink, i) => (
        <pattern key={ink + i} id={`${id}${i}`} width="6" height="6" patternUnits="userSpaceOnUse">
          <rect width="6" height="6" fill={i === 0 ? c(ink) : c('surface')} />
          {FILLS[i] === 'stripes' && <path d="M0 6 L6 0 M-1 1 L1 -1 M5 7 L7 5" stroke={c(ink)} strokeWidth="2" />}
          {FILLS[i] === 'dots' && <circle cx="3" cy="3" r="1.5" fill={c(ink)} />}
          {FILLS[i] === 'bars' && <path d="M0 1.5 H6 M0 4.5 H6" stroke={c(ink)} strokeWidth="1.2" />}
        </pattern>
      ))}
    </defs>
  )
}

const CHARTS = [
  ['years', 'Works by year and kind', 'published in'],
  ['kinds', 'Kinds', 'kind'],
  ['reasons', 'Why works were set aside', 'reason'],
  ['catalogues', 'What each catalogue gave', 'catalogue'],
  ['journals', 'Journals and publishers', 'journal or publisher'],
  ['authors', 'Authors', 'author'],
  ['subjects', 'Subjects', 'subject'],
] as const

/** The pool as charts, each also as a table; a bar, or a line of a table, limits the pool and shows the list. */
export function FieldView({ works, handle }: { works: readonly WorkLine[]; handle: LimitHandle }) {
  const field = useMemo(() => fieldOf(works), [works])
  if (!works.length) return <Empty title="No work is within the limits">Lift a limit to see the field again.</Empty>
  const limit = (chart: Chart, value: string, part?: string) => {
    const more =
      part === undefined || part === 'other kinds' ? {} : chart.facet === 'year' ? { kind: [part] } : { state: [part] }
    handle.replace({ ...handle.limits, [chart.facet]: [value], ...more }, handle.words, 'list')
  }
  return (
    <Box h="full" overflow="auto" px="24px" py="16px">
      <Renewal works={works} />
      <Grid templateColumns={{ base: '1fr', lg: '1fr 1fr' }} gap="28px 36px" maxW="1280px">
        {CHARTS.map(([key, title, axis]) => (
          <Box key={key} gridColumn={key === 'years' ? '1 / -1' : undefined} minW="0">
            <ChartOf id={key} title={title} axis={axis} chart={field[key]} limit={limit} />
          </Box>
        ))}
      </Grid>
    </Box>
  )
}

/** How fast the field renews itself, by what the kept works cite. */
function Renewal({ works }: { works: readonly WorkLine[] }) {
  const { inquiry } = useHere()
  const cited = useCitedAges(inquiry.id)
  if (!cited.data) return null
  const found = agesOfYears(
    works.map(w => w.year),
    Number(inquiry.today.slice(0, 4)),
  )
  const [first, ...rest] = sayCurrency(cited.data.ages, found, cited.data.works)
  const isKnown = currencyOf(cited.data.ages) !== undefined
  return (
    <Box as="section" aria-label="How fast the field renews itself" mb="18px" maxW="900px">
      {first && (
        <Text fontFamily="serif" fontSize="15.5px" lineHeight="23px">
          {first} {rest.join(' ')}
        </Text>
      )}
      {!isKnown && (
        <Text fontSize="13px" color="soft" mt="2px">
          How fast the field renews itself is told by what your kept works cite:{' '}
          <Link asChild color="vine">
            <RouterLink to={`/inquiries/${inquiry.id}/trace`}>walk their trails in Trace</RouterLink>
          </Link>
          .
        </Text>
      )}
    </Box>
  )
}

interface Row {
  value: string
  works: number
  [part: string]: string | number
}

function ChartOf({
  id,
  title,
  axis,
  chart,
  limit,
}: {
  id: string
  title: string
  axis: string
  chart: Chart
  limit: (chart: Chart, value: string, part?: string) => void
}) {
  const [table, setTable] = useState(false)
  const upright = id === 'years'
  const parts = chart.parts.filter((_, i) => chart.bars.some(b => b.split[i]))
  const inks = INK[upright ? 'years' : 'decided']!
  const rows: Row[] = chart.bars.map(b => ({
    value: b.value,
    works: b.works,
    ...Object.fromEntries(chart.parts.map((p, i) => [p, b.split[i]!])),
  }))
  const beside = [
    chart.unknown > 0 && `${n(chart.unknown)} without one`,
    chart.more > 0 &&
      (upright ? `${n(chart.more)} of other years` : `${n(chart.more)} more ${chart.more === 1 ? 'value' : 'values'}`),
  ].filter(Boolean)
  return (
    <Box as="section" aria-label={title}>
      <Heading
        aside={
          <>
            {beside.join(' · ')}{' '}
            {rows.length > 0 && (
              <Button size="2xs" variant="ghost" aria-pressed={table} onClick={() => setTable(t => !t)} ml="6px">
                {table ? 'as a chart' : 'as a table'}
              </Button>
            )}
          </>
        }
      >
        {title}
      </Heading>
      {!rows.length ? (
        <Text fontSize="13px" color="soft">
          {id === 'reasons' ? 'Nothing has been set aside with a reason yet.' : 'The records say nothing of it.'}
        </Text>
      ) : table ? (
        <Box maxH="300px" overflow="auto">
          <Table.Root size="sm" fontSize="13px">
            <Table.Header>
              <Table.Row bg="transparent">
                <Table.ColumnHeader>{axis}</Table.ColumnHeader>
                {parts.map(p => (
                  <Table.ColumnHeader key={p} textAlign="end">
                    {p}
                  </Table.ColumnHeader>
                ))}
                <Table.ColumnHeader textAlign="end">works</Table.ColumnHeader>
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {rows
                .filter(r => r.works)
                .map(r => (
                  <Table.Row key={r.value} bg="transparent">
                    <Table.Cell>
                      <chakra.button
                        type="button"
                        minH="24px"
                        textAlign="left"
                        textDecoration="underline"
                        textDecorationColor="hair"
                        textUnderlineOffset="3px"
                        onClick={() => limit(chart, r.value)}
                      >
                        {r.value}
                      </chakra.button>
                    </Table.Cell>
                    {parts.map(p => (
                      <Table.Cell key={p} textAlign="end">
                        {r[p] || ''}
                      </Table.Cell>
                    ))}
                    <Table.Cell textAlign="end" fontWeight="600">
                      {r.works}
                    </Table.Cell>
                  </Table.Row>
                ))}
            </Table.Body>
          </Table.Root>
        </Box>
      ) : (
        <>
          <Flex gap="14px" mb="4px" fontSize="12.5px" wrap="wrap">
            {parts.map(p => {
              const i = chart.parts.indexOf(p)
              return (
                <Flex as="span" key={p} align="center" gap="5px">
                  <svg width="14" height="10" aria-hidden="true">
                    <Patterns id={`key-${id}`} inks={inks} />
                    <rect x=".5" y=".5" width="13" height="9" fill={`url(#key-${id}${i})`} stroke={c(inks[i]!)} />
                  </svg>
                  {p}
                </Flex>
              )
            })}
          </Flex>
          <Box h={upright ? '210px' : `${Math.max(60, rows.length * 22 + 40)}px`}>
            <ResponsiveContainer width="100%" height="100%">
              <BarChart
                data={rows}
                layout={upright ? 'horizontal' : 'vertical'}
                margin={{ top: 4, right: 8, bottom: 16, left: 4 }}
                barCategoryGap={upright ? '12%' : '22%'}
                accessibilityLayer
              >
                <Patterns id={`fill-${id}`} inks={inks} />
                <CartesianGrid stroke={c('hair2')} horizontal={upright} vertical={!upright} />
                {upright ? (
                  <>
                    <XAxis
                      dataKey="value"
                      style={{ fontSize: 12 }}
                      tick={{ fill: c('soft') }}
                      stroke={c('line')}
                      minTickGap={18}
                      label={{
                        value: 'year of publication',
                        position: 'insideBottom',
                        offset: -10,
                        style: { fontSize: 12 },
                        fill: c('soft'),
                      }}
                    />
                    <YAxis
                      allowDecimals={false}
                      width={44}
                      style={{ fontSize: 12 }}
                      tick={{ fill: c('soft') }}
                      stroke={c('line')}
                      label={{
                        value: 'works',
                        angle: -90,
                        position: 'insideLeft',
                        style: { fontSize: 12 },
                        fill: c('soft'),
                      }}
                    />
                  </>
                ) : (
                  <>
                    <XAxis
                      type="number"
                      allowDecimals={false}
                      style={{ fontSize: 12 }}
                      tick={{ fill: c('soft') }}
                      stroke={c('line')}
                      label={{
                        value: 'works',
                        position: 'insideBottom',
                        offset: -10,
                        style: { fontSize: 12 },
                        fill: c('soft'),
                      }}
                    />
                    <YAxis
                      type="category"
                      dataKey="value"
                      width={196}
                      interval={0}
                      tick={<Name />}
                      stroke={c('line')}
                    />
                  </>
                )}
                <Tooltip
                  cursor={{ fill: c('hair2') }}
                  contentStyle={{
                    background: c('surface'),
                    border: `1px solid ${c('hair')}`,
                    borderRadius: 4,
                    fontSize: 12.5,
                    color: c('ink'),
                  }}
                  itemStyle={{ color: c('ink') }}
                />
                {parts.map(p => {
                  const i = chart.parts.indexOf(p)
                  return (
                    <Bar
                      key={p}
                      dataKey={p}
                      stackId="works"
                      fill={`url(#fill-${id}${i})`}
                      stroke={c(inks[i]!)}
                      strokeWidth={upright ? 0.6 : 1}
                      isAnimationActive={false}
                      cursor="pointer"
                      onClick={bar => limit(chart, String((bar.payload as Row).value), p)}
                    />
                  )
                })}
              </BarChart>
            </ResponsiveContainer>
          </Box>
        </>
      )}
    </Box>
  )
}

/** A name beside its bar, cut where it is long and told whole by its title. */
function Name({ x = 0, y = 0, payload }: { x?: number; y?: number; payload?: { value: string } }) {
  const value = payload?.value ?? ''
  return (
    <text x={x} y={y} dy={4} textAnchor="end" style={{ fontSize: 12.5 }} fill={c('ink')}>
      <title>{value}</title>
      {value.length > 30 ? `${value.slice(0, 28)}…` : value}
    </text>
  )
}
