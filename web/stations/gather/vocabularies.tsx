import { Box, Button, chakra, FileUpload, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { longDay } from '../../../core/bib/dates'
import { sayLanguage } from '../../../core/query/languages'
import { api, type Answer } from '../../../core/schema/api'
import { useChange } from '../../api/hooks'
import { AskDialog } from '../../frame/ask-dialog'
import { useHere } from '../../frame/inquiry-frame'
import { tell, tellError } from '../../frame/parts'
import { n } from './use-counts'

export type Vocabulary = Answer<'vocabularies'>[number]

const MOST = 60 * 1024 * 1024
/** Languages of a vocabulary that are named. */
const NAMED = 4

/** Brings a vocabulary of one's own. */
export function BringVocabulary() {
  const { inquiry, mayWrite } = useHere()
  const bring = useChange(inquiry.id, api.bringVocabulary, (file: File) => ({ file }))
  const take = ([file]: File[]) => {
    if (!file) return
    if (file.size > MOST) tellError(new Error(`“${file.name}” is larger than 60 MB.`))
    else if (!file.size) tellError(new Error(`“${file.name}” is empty.`))
    else
      bring.mutate(file, { onSuccess: () => tell(`“${file.name}” has arrived and is being read.`), onError: tellError })
  }
  return (
    <FileUpload.Root
      maxFiles={1}
      disabled={!mayWrite}
      onFileAccept={e => take(e.files)}
      key={bring.submittedAt}
      w="auto"
      display="inline-flex"
    >
      <FileUpload.HiddenInput aria-label="A vocabulary of your own" data-testid="vocabulary-file" />
      <FileUpload.Trigger asChild>
        <Button size="xs" variant="outline" disabled={!mayWrite} loading={bring.isPending}>
          Bring a vocabulary …
        </Button>
      </FileUpload.Trigger>
    </FileUpload.Root>
  )
}

/** Fetches and reads a vocabulary. */
export function ReadButton({ vocabulary: { key, name }, word }: { vocabulary: Vocabulary; word: string }) {
  const { inquiry, mayWrite } = useHere()
  const read = useChange(inquiry.id, api.readVocabulary, () => ({ params: { vocabulary: key } }))
  return (
    <Button
      size="xs"
      variant="outline"
      disabled={!mayWrite}
      loading={read.isPending}
      aria-label={`${word}: ${name}`}
      onClick={() => read.mutate(undefined, { onError: tellError })}
    >
      {word}
    </Button>
  )
}

/** The vocabularies that are there, with what was read of each. */
export function Vocabularies({ list }: { list: readonly Vocabulary[] }) {
  return (
    <Box as="section" aria-label="Vocabularies" mt="26px" pt="12px" borderTop="1px solid" borderColor="hair">
      <Flex align="center" gap="12px" mb="4px">
        <Text as="h3" fontFamily="serif" fontWeight="600" fontSize="15px">
          Vocabularies
        </Text>
        <Box ml="auto">
          <BringVocabulary />
        </Box>
      </Flex>
      {list.map(v => (
        <Line key={v.key} vocabulary={v} />
      ))}
      <Text mt="8px" fontSize="12.5px" lineHeight="18px" color="soft">
        Files in SKOS, an open standard in which libraries and institutions give out their thesauri and subject
        headings: Turtle, N-Triples or RDF/XML, up to 60 MB.
      </Text>
    </Box>
  )
}

function Line({ vocabulary: v }: { vocabulary: Vocabulary }) {
  const { inquiry, jobs, mayWrite } = useHere()
  const [asking, setAsking] = useState(false)
  const drop = useChange(inquiry.id, api.dropVocabulary, () => ({ params: { vocabulary: v.key } }))
  const stop = useChange(inquiry.id, api.stopJob, (job: number) => ({ params: { job } }))
  const job = jobs.find(j => j.kind === 'vocabulary' && j.payload.key === v.key)
  const live = job && (job.state === 'queued' || job.state === 'running') ? job : undefined
  const known = v.languages.slice(0, NAMED).map(sayLanguage).join(', ')
  const more = v.languages.length - NAMED
  const facts = [
    v.concepts &&
      `${n(v.concepts)} ${v.concepts === 1 ? 'concept' : 'concepts'} by ${n(v.labels)} ${v.labels === 1 ? 'name' : 'names'}`,
    known && (more > 0 ? `${known} and ${more} more` : known),
    v.day && `read on ${longDay(v.day)}`,
    v.from !== v.name && v.from,
  ].filter(Boolean)
  const sentences = v.left.filter(l => l.said.endsWith('.'))
  const unshown = v.left.filter(l => !l.said.endsWith('.'))
  const { step, done, of } = live?.progress ?? {}
  return (
    <Flex gap="12px" py="7px" borderTop="1px solid" borderColor="hair" align="flex-start" wrap="wrap">
      <Box flex="1 1 320px" minW="0" overflowWrap="anywhere">
        <Text fontSize="14px" fontWeight="600">
          {v.name}
        </Text>
        <Text fontSize="12.5px" lineHeight="18px" color="soft">
          {facts.join(' · ')}
        </Text>
        {v.said && (
          <Text fontSize="13px" lineHeight="18px" color="rust" role="alert">
            {v.said}
          </Text>
        )}
        {v.left.length > 0 && (
          <Text fontSize="12.5px" lineHeight="18px" color="amber">
            {sentences.map(l => l.said).join(' ')}
            {unshown.length > 0 &&
              ` Not shown: ${unshown.map(({ said, times }) => `${said} (${n(times)})`).join(', ')}.`}
          </Text>
        )}
      </Box>
      {live ? (
        <Flex gap="10px" align="center" fontSize="13px" color="soft">
          <span role="status">
            {step === 'storing' ? `storing ${n(Number(done))} of ${n(Number(of))}` : String(step ?? 'waiting')} …
          </span>
          <Button size="xs" variant="outline" disabled={live.cancelAsked} onClick={() => stop.mutate(live.id)}>
            {live.cancelAsked ? 'Stopping …' : 'Stop'}
          </Button>
        </Flex>
      ) : (
        <Flex gap="6px">
          <ReadButton vocabulary={v} word={v.state === 'unread' ? 'Read it' : 'Read again'} />
          {v.isOwn && (
            <Button
              size="xs"
              variant="ghost"
              color="rust"
              disabled={!mayWrite}
              aria-label={`Take out ${v.name}`}
              onClick={() => setAsking(true)}
            >
              Take out
            </Button>
          )}
        </Flex>
      )}
      <AskDialog
        open={asking}
        close={() => setAsking(false)}
        title="Take this vocabulary out?"
        leave="Keep it"
        word="Take it out"
        go={() => {
          setAsking(false)
          drop.mutate(undefined, { onSuccess: () => tell(`“${v.name}” was taken out.`), onError: tellError })
        }}
      >
        <chakra.p>
          Its file goes too. Words of it that stand on your sheet stay there; the file can be brought again.
        </chakra.p>
      </AskDialog>
    </Flex>
  )
}
