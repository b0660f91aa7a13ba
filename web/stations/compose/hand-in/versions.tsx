import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { DOCUMENTS } from '../../../../core/paper/formats'
import { api, type Answer } from '../../../../core/schema/api'
import { placeOf } from '../../../api/client'
import { useChange, useOf } from '../../../api/hooks'
import { AskDialog } from '../../../frame/ask-dialog'
import { useHere } from '../../../frame/inquiry-frame'
import { Failed, tell, tellError, Waiting } from '../../../frame/parts'
import { PlainDialog } from '../../../frame/plain-dialog'
import { shortDay } from '../../../frame/due'

type Version = Answer<'versions'>[number]
type Change = Answer<'versionChanges'>['changes'][number]

const NAMES = new Map<string, string>(DOCUMENTS.map(f => [f.key, f.name.replace(/,.*/, '')]))

/** What was handed in before, and how it stood before an older version was taken up. */
export function Versions() {
  const { inquiry, mayWrite } = useHere()
  const versions = useOf(inquiry.id, api.versions)
  const [looked, setLooked] = useState<Version>()
  const [asked, setAsked] = useState<Version>()
  const take = useChange(inquiry.id, api.takeUpVersion, (version: number) => ({ params: { version } }))
  const takeUp = (version: number, said: string) =>
    take.mutate(version, {
      onSuccess: ({ aside, left }) =>
        tell(left.length ? `${said} Left out, as they are not kept any more: ${left.join('; ')}.` : said, {
          label: 'Undo',
          onClick: () => takeUp(aside, 'As it stood before.'),
        }),
      onError: tellError,
    })
  if (versions.isError) return <Failed error={versions.error} again={() => void versions.refetch()} />
  if (!versions.data) return null
  return (
    <Box className="hand-in-part">
      <chakra.h2 className="hand-in-title">Kept versions</chakra.h2>
      {!versions.data.length && (
        <Text className="hand-in-note">
          What you hand in is kept here as it was, to be compared and taken up again, whatever you change later.
        </Text>
      )}
      <ul className="versions">
        {versions.data.map(v => (
          <li key={v.id}>
            <Text>
              <b>{shortDay(v.day)}</b>{' '}
              {v.why === 'handed in'
                ? v.formats.map(f => NAMES.get(f) ?? f).join(', ')
                : 'set aside when an older one was taken up'}
              {v.isNow && <span className="version-now">as it stands</span>}
            </Text>
            <Text className="hand-in-note">
              {v.entries} {v.entries === 1 ? 'entry' : 'entries'}, {v.words.toLocaleString('en')} words, {v.styleName}
              {v.by ? ` · ${v.by}` : ''}
            </Text>
            <Flex gap="0 14px" wrap="wrap">
              <a
                className="plain-link"
                href={`/api${placeOf(api.versionFile, { inquiry: inquiry.id, version: v.id }, { format: 'docx' })}`}
                download
              >
                .docx
              </a>
              {!v.isNow && (
                <chakra.button type="button" className="plain-link" onClick={() => setLooked(v)}>
                  What changed since
                </chakra.button>
              )}
              {!v.isNow && mayWrite && (
                <chakra.button type="button" className="plain-link" onClick={() => setAsked(v)}>
                  Take up again
                </chakra.button>
              )}
            </Flex>
          </li>
        ))}
      </ul>
      {looked && <Since version={looked} close={() => setLooked(undefined)} />}
      <AskDialog
        open={Boolean(asked)}
        close={() => setAsked(undefined)}
        title="Take this version up again?"
        leave="Leave it as it stands"
        word="Take it up"
        go={() => {
          takeUp(asked!.id, `As it was on ${shortDay(asked!.day)}.`)
          setAsked(undefined)
        }}
      >
        Entries, annotations, texts, style and order become those of {asked && shortDay(asked.day)}. How it stands now
        is kept as a version of its own.
      </AskDialog>
    </Box>
  )
}

/** What changed from a version to how it stands. */
function Since({ version, close }: { version: Version; close: () => void }) {
  const { inquiry } = useHere()
  const found = useOf(inquiry.id, api.versionChanges, { params: { version: version.id } })
  return (
    <PlainDialog
      close={close}
      size="lg"
      title={`Changed since ${shortDay(version.day)}`}
      buttons={
        <Button variant="outline" onClick={close}>
          Close
        </Button>
      }
    >
      {found.isPending ? (
        <Waiting what="Comparing" />
      ) : found.isError ? (
        <Failed error={found.error} again={() => void found.refetch()} />
      ) : found.data.changes.length ? (
        <ul className="changes">
          {found.data.changes.map((c, i) => (
            <li key={i}>
              <Text fontWeight="600">{HEADS[c.what](c.title)}</Text>
              {c.pieces && <Pieces pieces={c.pieces} />}
            </li>
          ))}
        </ul>
      ) : (
        <Text>Its words are the same; only how its pages look differs.</Text>
      )}
    </PlainDialog>
  )
}

const HEADS: Record<Change['what'], (title: string) => string> = {
  'put in': title => `Put in: ${title}`,
  'taken out': title => `Taken out: ${title}`,
  annotation: title => `Annotation of ${title}`,
  citation: title => `Citation of ${title}`,
  text: title => title,
  looks: title => `The words are the same, its looks or what it cites are not: ${title}`,
  style: title => `Style: ${title}`,
  order: title => title,
}

/** Letters of what did not change that are shown on each side of what did. */
const AROUND = 60

function Pieces({ pieces }: { pieces: NonNullable<Change['pieces']> }) {
  return (
    <Text className="pieces">
      {pieces.map((p, i) =>
        p.is === 'gone' ? (
          <del key={i}>{p.text}</del>
        ) : p.is === 'new' ? (
          <ins key={i}>{p.text}</ins>
        ) : (
          <span key={i}>{shortened(p.text, i === 0, i === pieces.length - 1)}</span>
        ),
      )}
    </Text>
  )
}

function shortened(text: string, isFirst: boolean, isLast: boolean): string {
  if (text.length <= AROUND * 2) return text
  const [begin, end] = [text.slice(0, AROUND), text.slice(-AROUND)]
  return isFirst ? `… ${end}` : isLast ? `${begin} …` : `${begin} … ${end}`
}
