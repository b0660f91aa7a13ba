import { Box, Text } from '@chakra-ui/react'
import { Bar, BarChart, CartesianGrid, Cell, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts'
import type { PlanInFull } from '../../../core/schema/api'
import { sayMinutes, shortDay, weekDay } from '../../frame/due'
import { Heading } from '../../frame/parts'
import { colour as c } from '../../frame/colour'
/** Minutes of work that a day has at most. */
const MOST = 16 * 60

/** Marks of an axis of minutes: at whole hours where there are some. */
function hours(top: number): number[] {
  const step = [15, 30, 60, 120, 240].find(s => top / s <= 4) ?? 480
  return Array.from({ length: Math.floor(top / step) + 1 }, (_, i) => i * step)
}

/** Some of the bars in words: the first, the last and those between. */
const spoken = (later: PlanInFull['plan']['later']): string =>
  [0, 0.25, 0.5, 0.75, 1]
    .map(share => later[Math.round(share * (later.length - 1))]!)
    .map(x => `begun ${weekDay(x.day)}, ${sayMinutes(x.aDay)} a day`)
    .join('; ')

/** What a later beginning asks for on each day that is left. */
export function LaterStart({ plan: p }: { plan: PlanInFull }) {
  const { lastStart, later } = p.plan
  const own = p.rhythm.minutesADay
  // what no day holds is drawn no higher than the others need
  const top = Math.max(
    own * 1.5,
    Math.min(MOST, Math.max(own, later[0]!.aDay) * 4, Math.max(...later.map(x => x.aDay))),
  )
  const rows = later.map(x => ({ ...x, drawn: Math.min(top, x.aDay) }))
  const beyond = later.find(x => x.aDay > MOST)
  return (
    <Box as="section" aria-label="What a later beginning costs" mb="28px">
      <Heading aside={`work on each day; the line is your ${sayMinutes(own)}`}>What a later beginning costs</Heading>
      <Box h="150px" role="img" aria-label={spoken(later)}>
        <ResponsiveContainer width="100%" height="100%">
          <BarChart
            data={rows}
            accessibilityLayer={false}
            margin={{ top: 6, right: 0, bottom: 0, left: 0 }}
            barCategoryGap={2}
          >
            <CartesianGrid vertical={false} stroke={c('hair2')} />
            <XAxis
              dataKey="day"
              tickFormatter={shortDay}
              tick={{ style: { fontSize: '12px' }, fill: c('soft') }}
              tickLine={false}
              axisLine={{ stroke: c('line') }}
              interval="preserveStartEnd"
              minTickGap={36}
              height={20}
            />
            <YAxis
              domain={[0, top]}
              tick={{ style: { fontSize: '12px' }, fill: c('soft') }}
              tickLine={false}
              axisLine={false}
              width={52}
              ticks={hours(top)}
              tickFormatter={(m: number) => (m ? sayMinutes(m) : '0')}
              allowDataOverflow
            />
            <Tooltip
              cursor={{ fill: 'transparent' }}
              isAnimationActive={false}
              content={({ active, payload }) => {
                const row = payload?.[0]?.payload as (typeof rows)[number] | undefined
                return active && row ? (
                  <Box bg="ink" color="paper" fontSize="12.5px" px="8px" py="3px" borderRadius="sm">
                    Begun {weekDay(row.day)}:{' '}
                    {row.aDay > MOST ? 'more than a day has' : `${sayMinutes(row.aDay)} a day`}
                  </Box>
                ) : null
              }}
            />
            <Bar dataKey="drawn" isAnimationActive={false}>
              {rows.map(r => (
                <Cell key={r.day} fill={r.aDay <= own ? c('vine') : c('rust-line')} />
              ))}
            </Bar>
            <ReferenceLine y={own} stroke={c('ink')} strokeDasharray="4 3" />
          </BarChart>
        </ResponsiveContainer>
      </Box>
      <Text fontSize="13px" color="soft" mt="4px">
        {lastStart
          ? `Begun after ${weekDay(lastStart)}, ${sayMinutes(own)} a day is not enough.`
          : `From today on, ${sayMinutes(own)} a day is not enough.`}{' '}
        {beyond && `Begun on ${weekDay(beyond.day)}, it is more than a day has.`}
      </Text>
    </Box>
  )
}
