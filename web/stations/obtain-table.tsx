import { Box, Button, chakra, FileUpload, Flex, Text } from '@chakra-ui/react'
import { addDays, format, parseISO } from 'date-fns'
import { useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import { daysBetween } from '../../core/bib/dates'
import type { Route } from '../../core/access/routes'
import { useChange } from '../api/hooks'
import { jobEnd } from '../api/jobs'
import { api, type Answer, type Obtainable } from '../../core/schema/api'
import { useHere, useOpenWork } from '../frame/inquiry-frame'
import { ReachMark } from '../frame/marks'
import { tell, tellError } from '../frame/parts'
import { PasswordDialog } from '../frame/password-dialog'

const wayName = (r: Route): string =>
  r.way === 'open' ? `open, ${r.version}` : r.way === 'gate' ? 'through the gate' : 'from the author'

function bestWay(row: Obtainable, due: string | null): { head: string; tail: string; voice?: string } {
  const proved = row.copies.find(c => c.outcome === 'proved')
  if (proved) return { head: 'Read it', tail: `${proved.version}, ${proved.pages} pages, proved` }
  const doubtful = row.copies.find(c => c.outcome === 'doubtful')
  if (doubtful) return { head: 'Doubtful copy', tail: doubtful.said.join(' '), voice: 'amber' }
  if (row.routes === null) return { head: 'Not looked up', tail: 'look for ways first' }
  const best = row.routes.find(r => r.way !== 'author')
  if (!best)
    return {
      head: due ? 'No way in time' : 'No way',
      tail: row.routes.length ? 'write to the author' : 'no lawful way is known',
      voice: 'rust',
    }
  if (row.reach === 'unsure') return { head: 'Not sure', tail: best.from, voice: 'amber' }
  if (best.way === 'gate') return { head: 'Through the gate', tail: best.from }
  return {
    head: 'Open copy today',
    tail: best.version === 'version of record' ? best.from : `${best.version}: its page numbers differ`,
  }
}

/** Works by row, time across: today at the left, the due date as a line, each work's best route as a bar. */
export function TimeTable({
  rows,
  today,
  due,
  fetchOne,
}: {
  rows: Obtainable[]
  today: string
  due: string | null
  fetchOne: (row: Obtainable) => void
}) {
  const open = useOpenWork()
  const { inquiry } = useHere()
  const span = due ? Math.max(14, daysBetween(today, due) + 5) : 30
  const pct = (iso: string) => `${(Math.max(0, Math.min(span, daysBetween(today, iso))) / span) * 100}%`
  const ticks = Array.from({ length: Math.floor(span / 7) + 1 }, (_, i) => addDays(parseISO(today), i * 7)).filter(
    (d, i) => (!due || Math.abs(daysBetween(format(d, 'yyyy-MM-dd'), due)) > 3) && i * 7 < span - 3,
  )
  const columns = '24px minmax(280px, 1.25fr) minmax(220px, 1.4fr) 230px'
  const dueAt = due && pct(due)
  return (
    <Box>
      <Box
        display="grid"
        gridTemplateColumns={columns}
        columnGap="12px"
        fontSize="12.5px"
        color="soft"
        borderBottom="1px solid"
        borderColor="hair"
        pb="6px"
        position="sticky"
        top="-14px"
        bg="paper"
        zIndex="1"
        pt="8px"
      >
        <span />
        <span>work</span>
        <Box position="relative" h="18px">
          {ticks.map(d => (
            <Box key={d.toISOString()} position="absolute" left={pct(format(d, 'yyyy-MM-dd'))} whiteSpace="nowrap">
              {format(d, 'd MMM')}
            </Box>
          ))}
          {dueAt && (
            <Box position="absolute" left={dueAt} transform="translateX(-50%)" color="rust" fontWeight="600">
              due
            </Box>
          )}
        </Box>
        <span>best way</span>
      </Box>
      {rows.map(row => {
        const proved = row.copies.find(c => c.outcome === 'proved')
        const best = row.routes?.find(r => r.way !== 'author')
        const way = bestWay(row, due)
        const doubtful = row.copies.find(c => c.outcome === 'doubtful')
        return (
          <Box
            key={row.id}
            display="grid"
            gridTemplateColumns={columns}
            columnGap="12px"
            borderBottom="1px solid"
            borderColor="hair"
            alignItems="center"
            minH="58px"
            data-work={row.id}
          >
            <ReachMark reach={row.reach} />
            <Box minW="0">
              <chakra.button
                type="button"
                onClick={() => open(row.id)}
                fontFamily="serif"
                fontWeight="600"
                fontSize="14.5px"
                lineHeight="20px"
                display="block"
                w="full"
                truncate
                textAlign="left"
                cursor="pointer"
                title={row.title}
              >
                {row.title}
              </chakra.button>
              <Text
                fontSize="12.5px"
                lineHeight="17px"
                color="soft"
                truncate
                title={best?.evidence ?? row.closed.join(' ')}
              >
                {[`${row.authors.split(',')[0]} ${row.year ?? ''}`, best?.evidence ?? row.closed[0] ?? row.container]
                  .map(part => part.trim())
                  .filter(Boolean)
                  .join(' · ')}
              </Text>
            </Box>
            <Box position="relative" alignSelf="stretch">
              {dueAt && <Box position="absolute" top="0" bottom="0" left={dueAt} w="2px" bg="rust" />}
              {ticks.slice(1).map(d => (
                <Box
                  key={d.toISOString()}
                  position="absolute"
                  top="0"
                  bottom="0"
                  left={pct(format(d, 'yyyy-MM-dd'))}
                  w="1px"
                  bg="hair2"
                />
              ))}
              <Bar
                left={proved ? '0%' : best ? pct(best.expected) : '0%'}
                kind={
                  proved
                    ? 'hand'
                    : !best
                      ? row.routes
                        ? 'none'
                        : 'unknown'
                      : row.reach === 'unsure'
                        ? 'maybe'
                        : best.way
                }
              >
                {proved
                  ? 'in hand'
                  : best
                    ? `${row.reach === 'unsure' ? 'perhaps ' : ''}${best.expected <= today ? 'today' : format(parseISO(best.expected), 'd MMM')}, ${wayName(best)}`
                    : row.routes
                      ? 'no way found'
                      : '?'}
              </Bar>
            </Box>
            <Flex fontSize="13px" lineHeight="17px" gap="6px" align="center" justify="space-between">
              <Box minW="0">
                {proved ? (
                  <Link to={`/inquiries/${inquiry.id}/read/${proved.id}`} style={{ fontWeight: 600 }}>
                    Read it
                  </Link>
                ) : doubtful ? (
                  <Link
                    to={`/inquiries/${inquiry.id}/read/${doubtful.id}`}
                    style={{ fontWeight: 600 }}
                    aria-label={`Doubtful copy of “${row.title}”: see whether it is the work`}
                  >
                    {way.head}
                  </Link>
                ) : (
                  <Text fontWeight="600" color={way.voice}>
                    {way.head}
                  </Text>
                )}
                <Text fontSize="12.5px" color="soft" lineClamp={2} title={way.tail}>
                  {way.tail}
                </Text>
              </Box>
              {!proved && (
                <RowActions
                  row={row}
                  fetchable={Boolean(best && best.expected <= today)}
                  fetchOne={() => fetchOne(row)}
                />
              )}
            </Flex>
          </Box>
        )
      })}
    </Box>
  )
}

function Bar({
  left,
  kind,
  children,
}: {
  left: string
  kind: 'hand' | 'open' | 'gate' | 'author' | 'maybe' | 'none' | 'unknown'
  children: ReactNode
}) {
  const look = {
    hand: { bg: 'vine.solid', color: 'white' },
    open: { bg: 'vine.soft', color: 'vine' },
    gate: { bg: 'slate.soft', color: 'slate' },
    author: { bg: 'grape.soft', color: 'grape' },
    maybe: { bg: 'paper', color: 'amber' },
    none: { bg: 'transparent', color: 'rust' },
    unknown: { bg: 'transparent', color: 'soft' },
  }[kind]
  return (
    <Box
      position="absolute"
      left={left}
      top="50%"
      transform="translateY(-50%)"
      borderRadius="sm"
      px="8px"
      fontSize="12.5px"
      lineHeight="20px"
      whiteSpace="nowrap"
      border={kind === 'gate' ? '1px solid' : kind === 'maybe' ? '1px dashed' : undefined}
      borderColor={kind === 'maybe' ? 'amber' : 'slate.line'}
      {...look}
    >
      {children}
    </Box>
  )
}

type Got = Answer<'openCopy'>
/** @param give brings the file to the work that it is instead */
const tellGot = ({ outcome, said, other }: Got, give: (work: number) => void) => {
  if (outcome === 'refused' && other)
    tell(`This is “${other.title}”, another work of your pool.`, {
      label: 'Keep it there',
      onClick: () => give(other.id),
    })
  else if (outcome === 'refused') tellError(new Error(said))
  else tell(outcome === 'proved' ? 'Proved: now in hand.' : said)
}

function RowActions({ row, fetchable, fetchOne }: { row: Obtainable; fetchable: boolean; fetchOne: () => void }) {
  const { inquiry, mayWrite } = useHere()
  const send = useChange(inquiry.id, api.bringCopy, ({ file, work }: { file: File; work: number }) => ({
    params: { work },
    file,
  }))
  const unlock = useChange(inquiry.id, api.openCopy, (more: { file: File; password: string }) => ({
    params: { work: row.id },
    ...more,
  }))
  const [reading, setReading] = useState(false)
  const [locked, setLocked] = useState<File>()
  const bring = async (file: File, work = row.id) => {
    setReading(true)
    try {
      const { job } = await send.mutateAsync({ file, work })
      const got = (await jobEnd(inquiry.id, job)).result as Got
      if (got.locked) setLocked(file)
      else tellGot(got, other => void bring(file, other))
    } catch (e) {
      tellError(e)
    }
    setReading(false)
  }
  if (!mayWrite) return null
  return (
    <Flex direction="column" gap="2px" flex="none">
      {fetchable && (
        <Button size="2xs" variant="outline" onClick={fetchOne}>
          Fetch
        </Button>
      )}
      <FileUpload.Root
        maxFiles={1}
        accept={undefined}
        key={send.submittedAt}
        onFileAccept={e => e.files[0] && void bring(e.files[0])}
      >
        <FileUpload.HiddenInput aria-label={`A PDF of your own for: ${row.title}`} />
        <FileUpload.Trigger asChild>
          <Button size="2xs" variant="ghost" loading={reading}>
            Own PDF
          </Button>
        </FileUpload.Trigger>
      </FileUpload.Root>
      {locked && (
        <PasswordDialog
          file={locked}
          why={`to see whether it is “${row.title}”`}
          send={password => unlock.mutateAsync({ file: locked, password })}
          done={got => (tellGot(got, other => void bring(locked, other)), setLocked(undefined))}
          close={() => setLocked(undefined)}
        />
      )}
    </Flex>
  )
}
