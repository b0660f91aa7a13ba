import { Box, Button, chakra, FileUpload, Flex, Text } from '@chakra-ui/react'
import { format, isToday, parseISO } from 'date-fns'
import { useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import { api, type Libraries, type LibraryInFull } from '../../../core/schema/api'
import { TRIED, type TriedPart } from '../../../core/schema/api/libraries'
import { call, placeOf } from '../../api/client'
import { AskDialog } from '../../frame/ask-dialog'
import { copyText } from '../../frame/clipboard'
import { Failed, Notice, tell, tellError, Waiting } from '../../frame/parts'
import { ChangeLibrary } from './change-library'
import { Files } from './files'
import { HoursSaid } from './hours-said'
import { PartnersSaid } from './partners-said'
import { TitleHeld } from './title-held'
import { useDoing, useLibrary } from './use-libraries'

type Listed = Libraries['libraries'][number]

/** A library part by part: what its profile says, and what came of trying it. */
export function LibraryParts({
  listed,
  isLast,
  ask,
  gone,
}: {
  listed: Listed
  /** It is the only one that is asked. */
  isLast: boolean
  ask: (yes: boolean) => void
  /** It is not there any more, or another stands in its place. */
  gone: (key: string | undefined) => Promise<void>
}) {
  const { key } = listed
  const query = useLibrary(key)
  const doing = useDoing(key)
  const [trying, setTrying] = useState<readonly TriedPart[]>([])
  const [changing, setChanging] = useState(false)
  const [dropping, setDropping] = useState(false)
  if (query.isPending) return <Waiting />
  if (query.isError) return <Failed error={query.error} again={() => void query.refetch()} />
  const library = query.data
  const { profile, holdings, tries } = library
  const params = { library: key }
  const tryPart = async (part: TriedPart) => {
    setTrying(now => [...now, part])
    await doing(call(api.tryLibrary, { params, body: { part } }))
    setTrying(now => now.filter(p => p !== part))
  }
  const fetchFiles = () => doing(call(api.fetchHoldings, { params }))
  const parts: TriedPart[] = TRIED.filter(p =>
    p === 'catalogues' || p === 'hours' || p === 'partners' ? profile[p].length > 0 : Boolean(profile[p]),
  )
  const tryAll = async () => {
    if (profile.holdings.length) await fetchFiles()
    for (const part of parts) await tryPart(part)
  }
  const copy = async () => {
    try {
      const made = await call(api.addLibrary, { body: { copyOf: key, forAll: false } })
      tell('This is your own now: change it as you like.')
      await gone(made.key)
    } catch (e) {
      tellError(e)
    }
  }
  const drop = async () => {
    try {
      await call(api.dropLibrary, { params })
      await gone(undefined)
      tell(`${listed.name} is dropped.`)
    } catch (e) {
      tellError(e)
    }
  }
  /** What came of trying a part, and trying it. */
  const tried = (part: TriedPart) => ({
    trial: tries.find(t => t.part === part),
    again: { word: 'Try it', busy: trying.includes(part), go: () => void tryPart(part) },
  })
  return (
    <section className="library" aria-labelledby="library">
      <Flex align="center" gap="8px 12px" wrap="wrap" mb="12px">
        <Box flex="1" minW="240px">
          <chakra.h2 id="library" fontFamily="serif" fontSize="20px" lineHeight="28px" fontWeight="600">
            {profile.name}
          </chakra.h2>
          <Text fontSize="13px" lineHeight="18px" color="soft">
            {[profile.place, originOf(library)].filter(Boolean).join(' · ')}
          </Text>
        </Box>
        {listed.chosen === null ? (
          <Button size="sm" colorPalette="vine" onClick={() => ask(true)}>
            Ask it
          </Button>
        ) : (
          !isLast && (
            <Button size="sm" variant="outline" onClick={() => ask(false)}>
              Do not ask it
            </Button>
          )
        )}
        {library.mayChange ? (
          <Button size="sm" variant="outline" onClick={() => setChanging(true)}>
            Change
          </Button>
        ) : (
          <Button size="sm" variant="outline" onClick={() => void copy()}>
            Make it your own
          </Button>
        )}
        <Button size="sm" colorPalette="vine" loading={trying.length > 0} onClick={() => void tryAll()}>
          Try all
        </Button>
      </Flex>
      {library.waits.length > 0 && (
        <Box mb="12px">
          <Notice voice="amber">
            {library.waits.join(' ')} An administrator can allow it, and is shown that it waits; until then a file can
            be brought by hand.
          </Notice>
        </Box>
      )}
      {profile.catalogues.length > 0 && (
        <Part name="Catalogues" what="searched in Gather" {...tried('catalogues')}>
          {profile.catalogues.map(x => (
            <Text key={x.id} wordBreak="break-word">
              {x.name} <chakra.span color="soft">{x.sru ?? `${x.oai}, taken in whole`}</chakra.span>
            </Text>
          ))}
        </Part>
      )}
      <Part
        name="Holdings files"
        what="what it pays for, by years"
        trial={fetchedAt(library)}
        again={
          profile.holdings.some(f => !f.address.startsWith('brought:'))
            ? { word: 'Fetch again', busy: holdings.fetching, go: () => void fetchFiles() }
            : undefined
        }
      >
        <Files library={library} />
        {library.mayChange && <BringFile send={file => doing(call(api.bringHoldings, { params, file }))} />}
      </Part>
      {profile.shelf && (
        <Part name="Shelves" what="what stands there, what is out" {...tried('shelf')}>
          <Text>
            Asked for each work you keep, when ways are looked for: branch, floor and call number, copies that are in,
            and when the others are back.
          </Text>
          <Text color="soft" wordBreak="break-all">
            {profile.shelf.address}
          </Text>
        </Part>
      )}
      {(profile.shelf || holdings.files.some(f => f.isRead)) && (
        <Part name="A title" what="looked up as it is judged">
          <TitleHeld library={key} />
        </Part>
      )}
      <Part
        name="Gate"
        what={profile.gate ? (profile.gate.manner === 'form' ? 'signing in from here' : 'in your own window') : 'none'}
        {...(profile.gate ? tried('gate') : {})}
      >
        <GateSaid gate={profile.gate} />
      </Part>
      {profile.office && (
        <Part name="Loan office" what="gets texts from elsewhere" {...tried('office')}>
          <Text>
            {[sayPace('A scan', profile.office.scan), sayPace('a book', profile.office.book)]
              .filter(Boolean)
              .join(', ')}
            {profile.office.pickUp && `, to be picked up at ${profile.office.pickUp}`}. {profile.office.terms}
          </Text>
          <Text color="soft" wordBreak="break-all">
            {OFFICE_SAID[profile.office.manner]} {profile.office.address || profile.office.mail} {profile.office.symbol}
          </Text>
          {library.answersAt && profile.office.manner === 'messages' && (
            <Text color="soft" wordBreak="break-all" mt="4px">
              It posts its answers to {library.answersAt}{' '}
              <Button
                size="2xs"
                variant="ghost"
                onClick={() => void copyText(library.answersAt!, 'The address is copied.')}
              >
                Copy
              </Button>
            </Text>
          )}
          <Text mt="4px">
            <Link className="plain-link" to="/asked">
              What you asked for
            </Link>
          </Text>
        </Part>
      )}
      {profile.partners.length > 0 && (
        <Part name="Partners" what="asked for what is not here" {...tried('partners')}>
          <PartnersSaid partners={profile.partners} hasOffice={profile.office !== undefined} />
        </Part>
      )}
      {profile.hours.length > 0 && (
        <Part name="Opening hours" what="by its calendars" {...tried('hours')}>
          <HoursSaid hours={library.hours} />
        </Part>
      )}
      {profile.resolver && (
        <Part name="Link resolver" what="takes OpenURL 1.0" {...tried('resolver')}>
          <Text wordBreak="break-all">{profile.resolver}</Text>
        </Part>
      )}
      {profile.campus.length > 0 && (
        <Part name="Networks" what="where no gate is needed">
          <Text>
            {profile.campus.join(', ')}.{' '}
            <chakra.span color="soft">
              {library.onCampus
                ? 'You are on one of them: addresses open without the gate.'
                : 'You are on none of them: addresses lead through the gate.'}
            </chakra.span>
          </Text>
        </Part>
      )}
      {profile.contact && (
        <Part name="Help" what="told what does not work">
          <Text>{profile.contact}</Text>
        </Part>
      )}
      {profile.note && (
        <Part name="Note" what="">
          <Text whiteSpace="pre-line">{profile.note}</Text>
        </Part>
      )}
      <Flex gap="8px 16px" pt="10px" wrap="wrap" fontSize="13px" align="center">
        <a className="plain-link" href={`/api${placeOf(api.libraryFile, params)}`} download>
          Save its profile as a file
        </a>
        {library.mayChange && (
          <Button size="2xs" variant="ghost" color="rust" onClick={() => setDropping(true)}>
            Drop this library …
          </Button>
        )}
      </Flex>
      {changing && <ChangeLibrary library={library} close={() => setChanging(false)} save={doing} />}
      <AskDialog
        open={dropping}
        close={() => setDropping(false)}
        title={`Drop “${profile.name}”?`}
        leave="Keep it"
        word="Drop"
        go={() => void drop()}
      >
        Ways to texts are looked for anew without it. Texts that came by it stay. Save its profile first if you want it
        back.
      </AskDialog>
    </section>
  )
}

const OFFICE_SAID = {
  messages: 'By messages (ISO 18626) to',
  form: 'On its form (OpenURL 1.0):',
  mail: 'By a letter from your own mail to',
}
const sayPace = (what: string, pace: { low: number; high: number } | undefined): string =>
  pace ? `${what} within ${pace.low} to ${pace.high} working days` : ''

const originOf = ({ isSet, isOwn, cameFrom }: LibraryInFull): string =>
  isSet
    ? 'set up for all who work here'
    : cameFrom
      ? `from ${new URL(cameFrom).hostname}`
      : isOwn
        ? 'set up by you'
        : 'set up for all by an administrator'

/** When files were fetched last, as a trial is told. */
function fetchedAt({ waits, holdings: { files, fetching, trouble } }: LibraryInFull): Trial | undefined {
  if (fetching) return { said: 'They are being fetched.' }
  if (trouble && waits.length) return { holds: false, said: 'What waits cannot be fetched.' }
  if (trouble) return { holds: false, said: trouble }
  const at = files
    .map(f => f.at ?? '')
    .toSorted()
    .at(-1)
  const failed = files.filter(f => f.report?.refused ?? f.report?.newer).length
  if (failed) return { at, holds: false, said: `${failed} of ${files.length} could not be read.` }
  return at ? { at, said: `${files.filter(f => f.isRead).length} of ${files.length} read.` } : undefined
}

interface Trial {
  at?: string | undefined
  holds?: boolean
  said: string
}

/** A part of a library: what it is, what the profile says, and what came of trying it. */
function Part({
  name,
  what,
  children,
  trial,
  again,
}: {
  name: string
  what: string
  children: ReactNode
  trial?: Trial | undefined
  again?: { word: string; busy: boolean; go: () => void } | undefined
}) {
  return (
    <div className="library-part">
      <div>
        <h3>{name}</h3>
        <p className="library-what">{what}</p>
      </div>
      <div className="library-said">{children}</div>
      <div className="library-tried">
        {again && (
          <Button
            size="2xs"
            variant="outline"
            loading={again.busy}
            onClick={again.go}
            aria-label={`${again.word}: ${name}`}
          >
            {again.word}
          </Button>
        )}
        {trial && (
          <p data-fails={trial.holds === false || undefined} role="status">
            {trial.at && <b>{sayMoment(trial.at)}. </b>}
            {trial.said}
          </p>
        )}
        {again && !trial && <p>Not tried yet.</p>}
      </div>
    </div>
  )
}

const sayMoment = (at: string): string =>
  isToday(parseISO(at)) ? `Today ${format(parseISO(at), 'H:mm')}` : format(parseISO(at), 'EEE d MMM')

function GateSaid({ gate }: { gate: LibraryInFull['profile']['gate'] }) {
  if (!gate)
    return (
      <Text>
        It has none: what it pays for is read in the library itself
        <chakra.span color="soft">, or where it lets you in by other means.</chakra.span>
      </Text>
    )
  return (
    <>
      <Text>
        {gate.manner === 'form'
          ? 'Card and password are passed on and never kept; then every address goes through it.'
          : 'It has pages of its own to sign in: addresses open through it in your own window, and you bring the files.'}{' '}
        {gate.daily && !gate.terms.includes(String(gate.daily)) && (
          <chakra.span color="soft">{gate.daily} files a day. </chakra.span>
        )}
        {gate.terms && <chakra.span color="soft">{gate.terms}</chakra.span>}
      </Text>
      <Text color="soft" fontSize="12.5px" wordBreak="break-all">
        {gate.template}
      </Text>
    </>
  )
}

/** A holdings file that cannot be fetched, brought by hand. */
function BringFile({ send }: { send: (file: File) => Promise<void> }) {
  const [busy, setBusy] = useState(false)
  return (
    <FileUpload.Root
      mt="6px"
      onFileAccept={({ files: [file] }) => {
        if (!file) return
        setBusy(true)
        void send(file).finally(() => setBusy(false))
      }}
    >
      <FileUpload.HiddenInput aria-label="A holdings file of your own" />
      <FileUpload.Trigger asChild>
        <Button size="2xs" variant="outline" loading={busy}>
          Bring a file
        </Button>
      </FileUpload.Trigger>
    </FileUpload.Root>
  )
}
