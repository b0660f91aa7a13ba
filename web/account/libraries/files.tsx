import { Box, chakra, Table, Text } from '@chakra-ui/react'
import { Fragment, useState } from 'react'
import { mailOf, reportOfFiles } from '../../../core/access/letter'
import type { LibraryInFull } from '../../../core/schema/api'
import { useSession } from '../../api/session'

type File = LibraryInFull['holdings']['files'][number]
const number = (n: number): string => n.toLocaleString('en')

/** Whether a file is there and what it says is not known yet. */
export const isBeingRead = ({ isKept, isRead, report }: File): boolean =>
  isKept && !isRead && !report?.refused && !report?.newer

/** How a file stands, the ones that want a look in their colour. */
function stateOf(file: File): { said: string; voice?: string } {
  const { isRead, report } = file
  if (report?.refused) return { said: 'Cannot be read', voice: 'rust' }
  if (report?.newer) return { said: 'Stands as before', voice: 'amber' }
  if (isRead) return report?.titles ? { said: 'Read' } : { said: 'Read, names no title', voice: 'soft' }
  return { said: isBeingRead(file) ? 'Being read' : 'Not fetched yet', voice: 'amber' }
}

/** What wants a look stands first: what cannot be read, what is not read yet, what something was noticed in. */
const rank = ({ isRead, report }: File): number =>
  report?.refused || report?.newer ? 0 : !isRead ? 1 : report?.problemsInAll ? 2 : report?.titles ? 3 : 4

/** Files that are shown before the rest is asked for. */
const FIRST = 6

/** The files of a library: what was read of each, and what was not; what wants a look first. */
export function Files({ library: { profile, holdings } }: { library: LibraryInFull }) {
  const { files } = holdings
  const [all, setAll] = useState(false)
  if (!files.length)
    return (
      <Text>
        None yet. <chakra.span color="soft">Without them no text counts as held by it.</chakra.span>
      </Text>
    )
  const titles = files.reduce((n, f) => n + (f.report?.titles ?? 0), 0)
  const inOrder = files.toSorted((a, b) => rank(a) - rank(b))
  const shown = all ? inOrder : inOrder.slice(0, FIRST)
  return (
    <>
      {troublesOf(files).map(t => (
        <TroubleSaid key={`${t.stands} ${t.said}`} trouble={t} library={profile} />
      ))}
      <Table.Root size="sm" className="library-files" tableLayout="fixed">
        <Table.Header>
          <Table.Row bg="transparent">
            <Table.ColumnHeader pl="0" py="2px">
              File
            </Table.ColumnHeader>
            <Table.ColumnHeader textAlign="right" py="2px" w="82px">
              Lines read
            </Table.ColumnHeader>
            <Table.ColumnHeader textAlign="right" pr="0" py="2px" w="96px" whiteSpace="nowrap">
              Left out
            </Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {shown.map(f => (
            <FileRow key={f.address} file={f} />
          ))}
        </Table.Body>
      </Table.Root>
      <Text fontSize="13px" mt="4px">
        {files.some(f => f.isRead) &&
          `${number(titles)} lines in ${files.length === 1 ? 'one file' : `${files.length} files`}. `}
        {files.length > FIRST && (
          <chakra.button type="button" className="plain-link" aria-expanded={all} onClick={() => setAll(!all)}>
            {all ? 'Fold' : `Show all ${files.length}`}
          </chakra.button>
        )}
      </Text>
    </>
  )
}

/** Files that cannot be read for one reason. */
interface Trouble {
  said: string
  /** What the files before them said stands. */
  stands: boolean
  files: File[]
}

/** Why files cannot be read: a sign-in page in place of forty of them is one thing to say, and to write about. */
function troublesOf(files: readonly File[]): Trouble[] {
  const troubles = new Map<string, Trouble>()
  for (const file of files) {
    const said = file.report?.refused ?? file.report?.newer
    if (!said) continue
    const stands = !file.report!.refused
    const key = `${stands} ${said}`
    const trouble = troubles.get(key) ?? { said, stands, files: [] }
    trouble.files.push(file)
    troubles.set(key, trouble)
  }
  return [...troubles.values()]
}

function TroubleSaid({ trouble, library }: { trouble: Trouble; library: LibraryInFull['profile'] }) {
  const { said, stands, files } = trouble
  const { data } = useSession()
  const letter = reportOfFiles(library.name, files, said, data?.user?.name ?? '')
  const which = files.length === 1 ? files[0]!.name : `${files.length} files`
  return (
    <Box className="library-trouble">
      <b>
        {which} {stands ? `stand${files.length === 1 ? 's' : ''} as before.` : 'cannot be read.'}
      </b>{' '}
      {stands
        ? `What came last could not be read: ${said} What was read before stands.`
        : `${said} Nothing is called “not held” on that account: what they would say is not known.`}{' '}
      <a className="plain-link" href={mailOf(letter, library.contact)}>
        Write to the library
      </a>
    </Box>
  )
}

/** What is noticed in a file is folded out beneath it. */
function FileRow({ file }: { file: File }) {
  const { report } = file
  const [isOpen, setOpen] = useState(false)
  const state = stateOf(file)
  const more = report ? report.problemsInAll - report.problems.length : 0
  return (
    <Fragment>
      <Table.Row bg="transparent">
        <Table.Cell pl="0" py="2px" maxW="280px">
          <Text truncate title={file.address}>
            {file.name}
          </Text>
          {state.voice && state.voice !== 'soft' && (
            <Text fontSize="12.5px" lineHeight="16px" color={state.voice} fontWeight="600">
              {state.said}
            </Text>
          )}
        </Table.Cell>
        <Table.Cell
          textAlign="right"
          py="2px"
          fontVariantNumeric="tabular-nums"
          color={report?.titles ? undefined : 'soft'}
        >
          {report && number(report.titles)}
        </Table.Cell>
        <Table.Cell textAlign="right" pr="0" py="2px" whiteSpace="nowrap" fontVariantNumeric="tabular-nums">
          {report?.problemsInAll ? (
            <chakra.button
              type="button"
              className="plain-link"
              aria-expanded={isOpen}
              aria-label={`What was noticed in ${file.name}`}
              onClick={() => setOpen(!isOpen)}
            >
              {report.left ? `${number(report.left)}, why` : `0, ${number(report.problemsInAll)} noticed`}
            </chakra.button>
          ) : (
            <chakra.span color="soft">{report && number(report.left)}</chakra.span>
          )}
        </Table.Cell>
      </Table.Row>
      {isOpen && report && (
        <Table.Row bg="transparent">
          <Table.Cell colSpan={3} pl="0" pb="14px">
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
