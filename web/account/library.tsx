import { api, type Answer } from '../../core/schema/api'
import { Box, Button, chakra, Table, Text } from '@chakra-ui/react'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Fragment, useState } from 'react'
import { call } from '../api/client'
import { Empty, Failed, Homeward, Notice, tellError, Waiting } from '../frame/parts'
import { Page } from './page'

type File = Answer<'holdings'>['files'][number]
const number = (n: number): string => n.toLocaleString('en')

/** How a file stands, the ones that want a look in their colour. */
function stateOf({ isKept, isRead, report }: File): { said: string; voice?: string } {
  if (report?.refused) return { said: 'Cannot be read', voice: 'rust' }
  if (report?.newer) return { said: 'Stands as before', voice: 'amber' }
  if (isRead) return report?.titles ? { said: 'Read' } : { said: 'Read, names no title', voice: 'soft' }
  return { said: isKept ? 'Being read' : 'Not fetched yet', voice: 'amber' }
}

/** What wants a look stands first: what cannot be read, what is not read yet, what something was noticed in. */
const rank = ({ isRead, report }: File): number =>
  report?.refused || report?.newer ? 0 : !isRead ? 1 : report?.problemsInAll ? 2 : report?.titles ? 3 : 4

/** What the library says it holds: its files, what was read of each, and what was not. */
export function Library() {
  const client = useQueryClient()
  const holdings = useQuery({
    queryKey: ['holdings'],
    queryFn: () => call(api.holdings, {}),
    refetchInterval: q => (q.state.data?.fetching ? 1500 : false),
  })
  const again = async () => {
    try {
      client.setQueryData(['holdings'], await call(api.fetchHoldings, {}))
    } catch (e) {
      tellError(e)
    }
  }
  const { library = 'Your library', files = [] } = holdings.data ?? {}
  const titles = files.reduce((n, f) => n + (f.report?.titles ?? 0), 0)
  return (
    <Page
      title={library}
      about="What it says it holds. Whether a text is within reach is judged by these files; they are fetched again once a day."
      action={
        files.length > 0 && (
          <Button
            size="sm"
            variant="outline"
            loading={holdings.data?.fetching}
            loadingText="Fetching"
            onClick={() => void again()}
          >
            Fetch again
          </Button>
        )
      }
    >
      {holdings.data?.trouble && (
        <Box mb="16px">
          <Notice voice="amber">{holdings.data.trouble} What was fetched before stands.</Notice>
        </Box>
      )}
      {holdings.isPending && <Waiting />}
      {holdings.isError && <Failed error={holdings.error} again={() => void holdings.refetch()} />}
      {holdings.data && !files.length && (
        <Empty title="No holdings files are set up" action={<Homeward />}>
          Who runs Vine Path names their addresses in its settings. Without them no text counts as held.
        </Empty>
      )}
      {files.length > 0 && (
        <>
          <Text mb="10px">
            <b>{number(titles)}</b> lines of titles in {files.length === 1 ? 'one file' : `${files.length} files`}
          </Text>
          <Table.Root size="sm">
            <Table.Header>
              <Table.Row bg="transparent">
                <Table.ColumnHeader pl="0">File</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="right">Titles</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="right" whiteSpace="nowrap">
                  Left out
                </Table.ColumnHeader>
                <Table.ColumnHeader>State</Table.ColumnHeader>
                <Table.ColumnHeader />
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {files
                .toSorted((a, b) => rank(a) - rank(b))
                .map(f => (
                  <FileRow key={f.address} file={f} />
                ))}
            </Table.Body>
          </Table.Root>
        </>
      )}
    </Page>
  )
}

function FileRow({ file }: { file: File }) {
  const { report } = file
  const [chosen, setChosen] = useState<boolean>()
  // what went wrong is told without a press, also when it goes wrong while one looks
  const isOpen = chosen ?? Boolean(report?.refused || report?.newer)
  const state = stateOf(file)
  const more = report ? report.problemsInAll - report.problems.length : 0
  const hasMore = Boolean(report && (report.refused || report.newer || report.problemsInAll))
  return (
    <Fragment>
      <Table.Row bg="transparent">
        <Table.Cell pl="0" maxW="420px" truncate title={file.address}>
          {file.name}
        </Table.Cell>
        <Table.Cell textAlign="right" fontVariantNumeric="tabular-nums" color={report?.titles ? undefined : 'soft'}>
          {report && number(report.titles)}
        </Table.Cell>
        <Table.Cell textAlign="right" fontVariantNumeric="tabular-nums" color={report?.left ? undefined : 'soft'}>
          {report && number(report.left)}
        </Table.Cell>
        <Table.Cell whiteSpace="nowrap" color={state.voice}>
          {state.said}
        </Table.Cell>
        <Table.Cell textAlign="right" whiteSpace="nowrap">
          {hasMore && (
            <Button
              size="2xs"
              variant="outline"
              aria-expanded={isOpen}
              aria-label={`What was noticed in ${file.name}`}
              onClick={() => setChosen(!isOpen)}
            >
              {report!.refused || report!.newer ? 'Why' : `${number(report!.problemsInAll)} noticed`}
            </Button>
          )}
        </Table.Cell>
      </Table.Row>
      {isOpen && report && (
        <Table.Row bg="transparent">
          <Table.Cell colSpan={5} pl="0" pb="14px">
            {report.refused && (
              <Text>
                {report.refused} Nothing is called “not held” on its account: what it would have said is not known.
              </Text>
            )}
            {report.newer && (
              <Text>What came last could not be read: {report.newer} What the file before it said stands.</Text>
            )}
            <Box as="ul" listStyleType="none" fontSize="13px">
              {report.problems.map((p, i) => (
                <chakra.li key={i} display="flex" gap="12px" py="1px">
                  <chakra.span color="soft" w="76px" flex="none" fontVariantNumeric="tabular-nums">
                    line {number(p.line)}
                  </chakra.span>
                  <span>{p.said}</span>
                </chakra.li>
              ))}
            </Box>
            {more > 0 && (
              <Text fontSize="13px" color="soft" mt="4px">
                and {number(more)} more
              </Text>
            )}
          </Table.Cell>
        </Table.Row>
      )}
    </Fragment>
  )
}
