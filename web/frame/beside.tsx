import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import type { Grant } from '../../core/bib/item'
import { api, type Answer } from '../../core/schema/api'
import { lineIn } from '../../core/sift/line'
import { useOf, useWorks } from '../api/hooks'
import { Follow } from './follow'
import { useHere, useOpenWork } from './inquiry-frame'
import { LeafMark } from './marks'
import { Heading } from './parts'
import { useBring } from './use-bring'
import { Row } from './work-sheet-parts'

type Beside = Answer<'beside'>
type Data = Beside['data'][number]

const useBeside = (work: number) => {
  const { inquiry } = useHere()
  return useOf(inquiry.id, api.beside, { params: { work } }).data
}

/** The page of a grant. */
export const toGrant = (inquiry: number, { number = '', funder }: Grant): string =>
  `/inquiries/${inquiry}/grant?${new URLSearchParams({ number, ...(funder ? { funder } : {}) }).toString()}`

/** Who paid for it, each grant leading to its other works, and under which licence it is. */
export function PaidBy({ work }: { work: number }) {
  const { inquiry } = useHere()
  const { grants = [], licence } = useBeside(work) ?? {}
  return (
    <>
      {grants.length > 0 && (
        <Row name="Paid for by">
          {grants.map((g, i) => (
            <chakra.span key={i} display="block" overflowWrap="anywhere">
              {g.number ? (
                <Link className="plain-link" to={toGrant(inquiry.id, g)} title="Other works of this grant">
                  {[g.funder, g.number].filter(Boolean).join(', ')}
                </Link>
              ) : (
                (g.funder ?? g.said)
              )}
              {g.title && (
                <chakra.span color="soft" fontFamily="serif">
                  {' '}
                  {g.title}
                </chakra.span>
              )}
            </chakra.span>
          ))}
        </Row>
      )}
      {licence && <Row name="Licence">{licence}</Row>}
    </>
  )
}

const SAYS: Record<Data['says'], string> = {
  index: 'named by the index',
  record: 'named by its record',
  data: 'as the data themselves say',
  copy: 'named in its own text',
}

/** Where the data behind a work lie and under what; of data, behind which works they stand. */
export function DataBehind({ work }: { work: number }) {
  const { inquiry } = useHere()
  const openWork = useOpenWork()
  const told = useBeside(work)
  if (!told) return null
  const { data, dataOf, said, asked } = told
  if (!data.length && !dataOf.length && !said && !(asked.of && asked.subject)) return null
  return (
    <section aria-label="Data">
      <Heading>{dataOf.length ? 'What it is the data of' : 'Data behind it'}</Heading>
      {dataOf.map(s => (
        <Line key={s.doi}>
          {s.work ? (
            <chakra.button type="button" className="plain-link" textAlign="start" onClick={() => openWork(s.work!)}>
              {s.title}
            </chakra.button>
          ) : (
            `DOI ${s.doi}, not in your pool`
          )}
        </Line>
      ))}
      {data.map(d => (
        <DataLine key={d.doi ?? d.address ?? `w${d.work}`} data={d} />
      ))}
      {said && (
        <Line>
          <Text fontFamily="serif" overflowWrap="anywhere" dir="auto">
            “{said.said}”{' '}
            <Link className="plain-link" to={`/inquiries/${inquiry.id}/read/${said.copy}?page=${said.page}`}>
              p. {said.label}
            </Link>
          </Text>
        </Line>
      )}
      {!dataOf.length && (
        <Box pt="8px">
          <Follow by={{ what: 'data', work }} asked={asked} looksFor="data" />
        </Box>
      )}
    </section>
  )
}

const Line = ({ children }: { children: ReactNode }) => (
  <Box py="6px" borderBottom="1px solid" borderColor="hair2" fontSize="13.5px" lineHeight="19px">
    {children}
  </Box>
)

/** Data: what may be done with them stands before the rest. */
function DataLine({ data: d }: { data: Data }) {
  const { inquiry, mayWrite } = useHere()
  const openWork = useOpenWork()
  const bring = useBring()
  const works = useWorks(inquiry.id).data ?? []
  const line = d.work ? lineIn(works, d.work) : undefined
  const name = d.title ?? (d.doi ? `DOI ${d.doi}` : d.address)
  const rest = [d.year, d.title && d.doi && `DOI ${d.doi}`, SAYS[d.says]].filter(Boolean).join(' · ')
  return (
    <Line>
      <Flex gap="10px" align="flex-start" justify="space-between" wrap="wrap">
        <Box minW="0" flex="1 1 240px">
          {line ? (
            <Flex gap="8px" align="flex-start">
              <Box pt="2px" flex="none">
                <LeafMark state={line.state} size={14} />
              </Box>
              <chakra.button type="button" className="plain-link" textAlign="start" onClick={() => openWork(line.id)}>
                {name}
              </chakra.button>
            </Flex>
          ) : (
            <Text overflowWrap="anywhere" dir="auto" {...(d.title ? { fontFamily: 'serif' } : {})}>
              {name}
            </Text>
          )}
          <Text color="soft" fontSize="12.5px" lineHeight="17px" overflowWrap="anywhere">
            {d.licence ? <b>{d.licence}</b> : 'no licence is said'}
            {` · ${rest}`}
          </Text>
        </Box>
        <Flex gap="6px" flex="none">
          {mayWrite && d.node !== null && (
            <Button size="2xs" variant="ghost" loading={bring.busy} onClick={() => bring.bringMany([d.node!])}>
              Bring into the pool
            </Button>
          )}
          {d.address && (
            <Button size="2xs" variant="outline" asChild>
              <a href={d.address} target="_blank" rel="noreferrer">
                Go there
              </a>
            </Button>
          )}
        </Flex>
      </Flex>
    </Line>
  )
}
