import { plainTitle } from '../../../core/bib/clean'
import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { authorLine } from '../../../core/bib/names'
import { yearOf } from '../../../core/bib/dates'
import { sayLanguage } from '../../../core/query/languages'
import { api, type LossAccount } from '../../../core/schema/api'
import { call } from '../../api/client'
import { jobEnd } from '../../api/jobs'
import { useHere } from '../../frame/inquiry-frame'
import { Waiting } from '../../frame/parts'
import { range } from './use-counts'

/** What a rung takes away, and what of it the library still reaches. */
export function Losses({
  query,
  label,
  catalogues,
  look,
}: {
  query: string
  label: string
  catalogues: string[]
  look: () => void
}) {
  const { inquiry, mayWrite } = useHere()
  const losses = useQuery({
    queryKey: ['losses', inquiry.id, query, catalogues.join(',')],
    queryFn: async ({ signal }) => {
      const { job } = await call(api.lookAtLosses, {
        params: { inquiry: inquiry.id },
        body: { query, catalogues },
        signal,
      })
      return (await jobEnd(inquiry.id, job, signal)).result as unknown as LossAccount
    },
    enabled: mayWrite,
    staleTime: 600_000,
    retry: false,
  })
  if (!mayWrite)
    return (
      <Text py="10px" fontSize="13px" color="soft">
        What a rung takes away is looked at by who owns the inquiry.
      </Text>
    )
  if (losses.isPending) return <Waiting what="Looking at what is taken away" />
  if (losses.isError)
    return (
      <Text py="10px" fontSize="13px" color="rust" role="alert">
        {losses.error.message}
      </Text>
    )
  const l = losses.data
  const percent = (x: number) => `${Math.round(100 * x)}%`
  const decades = new Map<string, number>()
  for (const y of l.years) {
    const d = /^\d{4}$/.test(y.value) ? `${y.value.slice(0, 3)}0s` : 'unknown'
    decades.set(d, (decades.get(d) ?? 0) + y.n)
  }
  return (
    <Box
      bg="surface"
      border="1px solid"
      borderColor="hair"
      borderRadius="md"
      px="14px"
      py="10px"
      mb="10px"
      role="region"
      aria-label={`What “${label}” takes away`}
    >
      <Text fontSize="13.5px" lineHeight="20px">
        <b>
          “{label}” takes away {range(l)}.
        </b>{' '}
        {l.looked === 0
          ? ''
          : l.reach.interval
            ? `Of ${l.looked} drawn by chance, your library reaches ${l.reach.within}: about ${percent(l.reach.within / l.reach.of)} (${percent(l.reach.interval[0])} to ${percent(l.reach.interval[1])}).`
            : `Your library still reaches ${l.reach.within} of these ${l.reach.of} works.`}{' '}
        {l.most > 0 && mayWrite && (
          <Button size="2xs" variant="outline" onClick={look}>
            Look at what is lost
          </Button>
        )}
      </Text>
      <Flex gap="24px" mt="6px" wrap="wrap">
        <Tally title="Kinds" list={l.kinds} of={l.looked} />
        <Tally
          title="Years"
          list={[...decades].map(([value, x]) => ({ value, n: x })).sort((a, b) => b.value.localeCompare(a.value))}
          of={l.looked}
        />
        <Tally title="Languages" list={l.languages.map(x => ({ ...x, value: sayLanguage(x.value) }))} of={l.looked} />
        <Box flex="1" minW="240px">
          <Text fontSize="12px" color="soft">
            Nearest your question
          </Text>
          {l.examples.map((e, i) => (
            <Text key={i} fontSize="12.5px" lineHeight="18px" truncate title={plainTitle(e.item.title)}>
              <chakra.span fontFamily="serif" fontWeight="600">
                {plainTitle(e.item.title)}
              </chakra.span>{' '}
              <chakra.span color="soft">
                {authorLine(e.item.author, 1)} {yearOf(e.item)} · {e.kind}
                {e.within ? ' · within reach' : ''}
              </chakra.span>
            </Text>
          ))}
        </Box>
      </Flex>
    </Box>
  )
}

function Tally({ title, list, of }: { title: string; list: { value: string; n: number }[]; of: number }) {
  return (
    <Box w="148px">
      <Text fontSize="12px" color="soft">
        {title}
      </Text>
      {list.slice(0, 5).map(x => (
        <Flex key={x.value} justify="space-between" gap="8px" fontSize="12.5px" lineHeight="18px">
          <span>{x.value}</span>
          <chakra.span color="soft">{of ? `${Math.round((100 * x.n) / of)}%` : ''}</chakra.span>
        </Flex>
      ))}
    </Box>
  )
}
