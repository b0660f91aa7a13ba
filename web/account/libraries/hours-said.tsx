import { Box, Text } from '@chakra-ui/react'
import { format, parseISO } from 'date-fns'
import type { LibraryInFull } from '../../../core/schema/api'

type Hours = LibraryInFull['hours'][number]
const nameOf = (h: Hours): string => h.branch || 'The whole library'

/** When a library is open: the coming week by branch, and today in words where that says more. */
export function HoursSaid({ hours }: { hours: readonly Hours[] }) {
  if (!hours.length)
    return <Text color="soft">Its calendars are read when ways are looked for, and when they are tried.</Text>
  const weeks = hours.filter(h => h.week.some(d => d.hours !== null))
  return (
    <>
      {weeks.length > 0 && (
        <table className="library-week">
          <caption>The coming week</caption>
          <thead>
            <tr>
              <td />
              {weeks[0]!.week.map(d => (
                <th key={d.day} scope="col">
                  {format(parseISO(d.day), 'EEEEEE d')}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {weeks.map(h => (
              <tr key={h.branch}>
                <th scope="row">{nameOf(h)}</th>
                {h.week.map(d => (
                  <td key={d.day} title={d.why} data-closed={!d.hours || undefined}>
                    {d.hours === null ? '' : d.hours || 'shut'}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {hours.map(h => {
        const said = weeks.includes(h)
          ? ''
          : h.week.length
            ? h.said || 'No closed day is near.'
            : 'Nothing could be read.'
        return said || h.trouble ? (
          <Box key={h.branch} mt="4px" fontSize="13px" lineHeight="18px">
            <b>{nameOf(h)}.</b> {said}{' '}
            {h.trouble && (
              <Text as="span" color="rust">
                {h.trouble}
              </Text>
            )}
          </Box>
        ) : null
      })}
    </>
  )
}
