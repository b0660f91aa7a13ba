import { Box, Button, chakra, FileUpload, Flex, Text, Textarea } from '@chakra-ui/react'
import { format } from 'date-fns'
import { Upload } from 'lucide-react'
import { useState } from 'react'
import { useChange, useOf } from '../api/hooks'
import { api, type ImportRow } from '../../core/schema/api'
import { mendedKinds } from '../../core/formats/report'
import { useDeskTime } from '../frame/desk-time'
import { useHere } from '../frame/inquiry-frame'
import { Heading, Notice, tell, tellError } from '../frame/parts'

const MOST = 20 * 1024 * 1024
/** Entries that are named for a kind of thing that was mended. */
const EXAMPLES = 3

/** Bibliography files of the student's own: dropped or chosen, read as a job, each with its report line by line. */
export function Imports() {
  const { inquiry, jobs, mayWrite } = useHere()
  const list = useOf(inquiry.id, api.imports)
  const send = useChange(inquiry.id, api.bringFile, (file: File) => ({ file }))
  const stop = useChange(inquiry.id, api.stopJob, (job: number) => ({ params: { job } }))
  const take = (files: File[]) => {
    for (const f of files) {
      if (f.size > MOST)
        tellError(new Error(`“${f.name}” is larger than 20 MB. Split it and bring the parts one by one.`))
      else if (!f.size) tellError(new Error(`“${f.name}” is empty.`))
      else send.mutate(f, { onSuccess: () => tell(`“${f.name}” has arrived and is being read.`), onError: tellError })
    }
  }
  return (
    <Box>
      <FileUpload.Root maxFiles={20} disabled={!mayWrite} onFileAccept={e => take(e.files)} key={send.submittedAt}>
        <FileUpload.HiddenInput data-testid="import-file" />
        <FileUpload.Dropzone w="full" bg="surface" borderColor="line" minH="120px" cursor="pointer">
          <Upload size={20} />
          <FileUpload.DropzoneContent>
            <Text fontWeight="600" fontSize="14.5px">
              Drop bibliography files here, or choose them
            </Text>
            <Text color="soft" fontSize="13px">
              BibTeX, RIS, CSL-JSON, MARC 21, MODS or Dublin Core, up to 20 MB each. Every entry is kept exactly as it
              came.
            </Text>
          </FileUpload.DropzoneContent>
        </FileUpload.Dropzone>
      </FileUpload.Root>
      {mayWrite && <Paste />}
      <Box mt="20px">
        {list.data?.map(row => {
          const job = jobs.find(j => (j.kind === 'import' || j.kind === 'paste') && j.payload.importId === row.id)
          const live = job && (job.state === 'queued' || job.state === 'running')
          return (
            <Report
              key={row.id}
              row={row}
              progress={
                row.state !== 'waiting' ? undefined : live ? (
                  <Flex gap="10px" align="center" fontSize="13px" color="soft">
                    {job.progress.step === 'storing'
                      ? `storing ${String(job.progress.entries)} entries`
                      : job.progress.step === 'looking up'
                        ? `looking up ${String(job.progress.done)} of ${String(job.progress.of)}`
                        : 'reading'}{' '}
                    …
                    <Button size="2xs" variant="outline" onClick={() => stop.mutate(job.id)}>
                      Stop
                    </Button>
                  </Flex>
                ) : (
                  <Text fontSize="13px" color={job?.state === 'failed' ? 'rust' : 'soft'}>
                    {job?.state === 'cancelled' ? 'stopped; nothing was imported' : (job?.error ?? 'waiting')}
                  </Text>
                )
              }
            />
          )
        })}
      </Box>
    </Box>
  )
}

/** Lines with DOIs, ISBNs, references or links, looked up one by one. */
function Paste() {
  const { inquiry } = useHere()
  const [text, setText] = useState('')
  const send = useChange(inquiry.id, api.paste, (text: string) => ({ body: { text } }))
  const lines = text.split('\n').filter(l => l.trim()).length
  return (
    <Box mt="14px">
      <Textarea
        aria-label="DOIs, ISBNs, references or links, one a line"
        placeholder={'or paste DOIs, ISBNs, references or links here, one a line'}
        value={text}
        onChange={e => setText(e.target.value)}
        rows={3}
        maxLength={200_000}
        bg="surface"
        fontSize="13.5px"
      />
      <Button
        mt="6px"
        size="xs"
        variant="outline"
        disabled={!lines}
        loading={send.isPending}
        onClick={() => send.mutate(text, { onSuccess: () => setText(''), onError: tellError })}
      >
        Look up {lines === 0 ? 'the lines' : lines === 1 ? 'one line' : `${lines} lines`}
      </Button>
    </Box>
  )
}

function Report({ row, progress }: { row: ImportRow; progress: React.ReactNode }) {
  const { inquiry, mayWrite } = useHere()
  const [open, setOpen] = useState(false)
  const again = useChange(inquiry.id, api.importAgain, (id: number) => ({ params: { import: id } }))
  const onDesk = useDeskTime()
  const r = row.report
  return (
    <Box borderTop="1px solid" borderColor="hair" py="10px">
      <Flex align="baseline" gap="12px" justify="space-between">
        <Text fontWeight="600" fontSize="14.5px">
          {row.fileName}{' '}
          <Text as="span" color="soft" fontWeight="400" fontSize="12.5px">
            {format(onDesk(row.at), 'd MMM yyyy, HH:mm')}
          </Text>
        </Text>
        {progress}
        {r && r.format && (
          <Button
            size="xs"
            variant="ghost"
            onClick={() => setOpen(!open)}
            aria-expanded={open}
            disabled={!r.mended.length && !r.refused.length && !r.found?.length}
          >
            {open ? 'Hide the report' : 'Report'}
          </Button>
        )}
      </Flex>
      {r && r.format && (
        <Text fontSize="13.5px" color="soft">
          {r.format}: <b>{r.read}</b> {r.found ? 'found' : 'read'}, {r.newWorks} new{' '}
          {r.newWorks === 1 ? 'work' : 'works'}, {!r.found && <>{r.mendedInAll ?? r.mended.length} mended, </>}
          <Text as="span" color={r.refused.length ? 'rust' : undefined}>
            {r.refusedInAll ?? r.refused.length} {r.found ? 'not found' : 'refused'}
          </Text>
        </Text>
      )}
      {r &&
        !r.format &&
        r.refused.map(x => (
          <Box key={x.why} mt="4px">
            <Notice
              voice="rust"
              action={
                mayWrite &&
                !r.final && (
                  <Button
                    size="2xs"
                    variant="outline"
                    bg="surface"
                    loading={again.isPending}
                    onClick={() => again.mutate(row.id, { onError: tellError })}
                  >
                    Read it again
                  </Button>
                )
              }
            >
              {x.why}
            </Notice>
          </Box>
        ))}
      {open && r && (
        <Box
          mt="8px"
          bg="surface"
          border="1px solid"
          borderColor="hair"
          borderRadius="md"
          p="14px"
          maxH="380px"
          overflow="auto"
        >
          {r.refused.length > 0 && (
            <Box mb="14px">
              <Heading aside={r.found ? undefined : 'the others stand'}>{r.found ? 'Not found' : 'Refused'}</Heading>
              {r.refused.map(x => (
                <Line key={`${x.line} ${x.why}`} line={x.line}>
                  <Text color="rust">{x.why}</Text>
                  <chakra.code fontSize="12px" color="soft" overflowWrap="anywhere" bg="transparent">
                    {x.excerpt}
                  </chakra.code>
                </Line>
              ))}
            </Box>
          )}
          {r.found && r.found.length > 0 && (
            <Box mb="14px">
              <Heading>Found</Heading>
              {r.found.map(x => (
                <Line key={`${x.line} ${x.asked}`} line={x.line}>
                  <Text fontFamily="serif">{x.title}</Text>
                  <Text color="soft" overflowWrap="anywhere">
                    in {x.where}, for “{x.asked}”
                  </Text>
                  {x.doubt && <Text color="rust">{x.doubt} Look whether it is yours.</Text>}
                </Line>
              ))}
            </Box>
          )}
          {r.mended.length > 0 && (
            <Box>
              <Heading aside={r.mendedInAll ? `the first ${r.mended.length} of ${r.mendedInAll} entries` : undefined}>
                Mended or not carried
              </Heading>
              {mendedKinds(r.mended).map(kind => (
                <Flex
                  key={kind.said}
                  gap="12px"
                  py="5px"
                  borderTop="1px solid"
                  borderColor="hair2"
                  fontSize="13px"
                  lineHeight="18px"
                >
                  <Text w="64px" flex="none" color="soft">
                    {kind.at.length === 1 ? `line ${kind.at[0]!.line}` : `${kind.at.length} times`}
                  </Text>
                  <Box minW="0">
                    <Text color={kind.keptOnly ? 'soft' : 'ink'}>{kind.said}</Text>
                    <Text color="soft" fontFamily="serif" title={kind.at.map(x => x.line).join(', ')}>
                      {kind.at
                        .slice(0, EXAMPLES)
                        .map(x => (kind.at.length === 1 ? x.title : `${x.title} (line ${x.line})`))
                        .join(' · ')}
                      {kind.at.length > EXAMPLES && ' …'}
                    </Text>
                  </Box>
                </Flex>
              ))}
            </Box>
          )}
        </Box>
      )}
    </Box>
  )
}

/** One line of a report, with the line of the file or of what was pasted. */
function Line({ line, children }: { line: number; children: React.ReactNode }) {
  return (
    <Flex gap="12px" py="5px" borderTop="1px solid" borderColor="hair2" fontSize="13px" lineHeight="18px">
      <Text w="64px" flex="none" color="soft">
        line {line}
      </Text>
      <Box minW="0">{children}</Box>
    </Flex>
  )
}
