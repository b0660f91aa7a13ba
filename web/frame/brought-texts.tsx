import { Box, Button, chakra, CloseButton, FileUpload, Flex, Text } from '@chakra-ui/react'
import { useQueryClient } from '@tanstack/react-query'
import { createContext, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import { api, type Recognised } from '../../core/schema/api'
import { LARGEST_COPY } from '../../core/schema/api/obtain'
import { call } from '../api/client'
import { readAgain, useChange } from '../api/hooks'
import { jobEnd } from '../api/jobs'
import { useHere } from './inquiry-frame'
import { Meter } from './parts'
import { PasswordDialog } from './password-dialog'

interface Brought {
  id: string
  file: File
  state: 'waiting' | 'reading' | 'done'
  got?: Recognised
}

/** Files that are read at one time. */
const AT_ONCE = 2

const BringContext = createContext<(files: readonly File[]) => void>(() => undefined)
/** Brings texts that find their works by their own words. */
export const useBringTexts = () => useContext(BringContext)

const isPdf = (f: File): boolean => f.type === 'application/pdf' || /\.pdf$/i.test(f.name)
const refused = (said: string): Recognised => ({ outcome: 'refused', said }) as Recognised

/**
 * Takes PDFs that are dropped anywhere on an inquiry, many at once, and shows of each which work it is. It goes on while
 * one walks from station to station.
 */
export function BroughtTexts({ children }: { children: ReactNode }) {
  const { inquiry, mayWrite } = useHere()
  const client = useQueryClient()
  const [list, setList] = useState<Brought[]>([])
  const [over, setOver] = useState(false)
  const stop = useRef(new AbortController())
  const busy = useRef(0)
  const queue = useRef<Brought[]>([])

  const bring = useMemo(() => {
    const told = (id: string, more: Partial<Brought>) => setList(l => l.map(b => (b.id === id ? { ...b, ...more } : b)))
    const read = async (b: Brought): Promise<Recognised> => {
      if (b.file.size > LARGEST_COPY) return refused('It is larger than 60 MB, which is the most that is read.')
      if (!b.file.size) return refused('The file is empty.')
      const { signal } = stop.current
      const { job } = await call(api.bringText, { params: { inquiry: inquiry.id }, file: b.file, signal })
      return (await jobEnd(inquiry.id, job, signal)).result as Recognised
    }
    const next = (): void => {
      const b = queue.current.shift()
      if (!b) return
      busy.current++
      told(b.id, { state: 'reading' })
      read(b)
        .catch((e: Error) => refused(stop.current.signal.aborted ? 'Stopped before it was read.' : e.message))
        .then(got => {
          busy.current--
          told(b.id, { state: 'done', got })
          readAgain(client, inquiry.id)
          next()
        })
        .catch(() => undefined)
    }
    return (files: readonly File[]) => {
      const brought = files.filter(isPdf).map((file): Brought => ({ id: crypto.randomUUID(), file, state: 'waiting' }))
      if (!brought.length) return
      if (stop.current.signal.aborted) stop.current = new AbortController()
      queue.current.push(...brought)
      setList(l => [...l, ...brought])
      while (busy.current < AT_ONCE && queue.current.length) next()
    }
  }, [client, inquiry.id])

  useEffect(() => {
    if (!mayWrite) return
    const files = (e: DragEvent) => [...(e.dataTransfer?.files ?? [])]
    const holdsPdf = (e: DragEvent) => [...(e.dataTransfer?.items ?? [])].some(i => i.type === 'application/pdf')
    const drag = (e: DragEvent) => {
      if (!holdsPdf(e)) return
      e.preventDefault()
      setOver(true)
    }
    // where one leaves the window nothing is entered
    const leave = (e: DragEvent) => !e.relatedTarget && setOver(false)
    const drop = (e: DragEvent) => {
      setOver(false)
      if (!files(e).some(isPdf)) return
      e.preventDefault()
      e.stopPropagation()
      bring(files(e))
    }
    const on: [keyof WindowEventMap, (e: DragEvent) => void][] = [
      ['dragover', drag],
      ['dragleave', leave],
      ['drop', drop],
    ]
    for (const [name, f] of on) window.addEventListener(name, f as EventListener, true)
    return () => {
      for (const [name, f] of on) window.removeEventListener(name, f as EventListener, true)
    }
  }, [bring, mayWrite])

  const halt = () => {
    queue.current = []
    stop.current.abort()
    setList(l =>
      l.map(b => (b.state === 'waiting' ? { ...b, state: 'done', got: refused('Stopped before it was read.') } : b)),
    )
  }
  /** Brings a text in as a new work: its title page as a record first, then the file, which finds it. */
  const asNew = async (b: Brought) => {
    setList(l => l.map(x => (x.id === b.id ? { ...x, state: 'reading' } : x)))
    const entry = new File(
      [JSON.stringify([{ ...b.got!.item, id: 'title-page' }])],
      `title page of ${b.file.name}.json`,
    )
    try {
      const { job } = await call(api.bringFile, { params: { inquiry: inquiry.id }, file: entry })
      await jobEnd(inquiry.id, job)
      setList(l => l.filter(x => x.id !== b.id))
      bring([b.file])
    } catch (e) {
      setList(l =>
        l.map(x => (x.id === b.id ? { ...x, state: 'done', got: { ...b.got!, said: (e as Error).message } } : x)),
      )
    }
  }
  const unlock = useChange(inquiry.id, api.openText, (more: { file: File; password: string }) => more)
  const [locked, setLocked] = useState<Brought>()
  const done = list.filter(b => b.state === 'done').length
  return (
    <BringContext value={bring}>
      {children}
      {over && (
        <Flex
          position="fixed"
          inset="0"
          zIndex="overlay"
          align="center"
          justify="center"
          bg="paper/95"
          border="2px dashed"
          borderColor="vine"
          pointerEvents="none"
        >
          <Text fontFamily="serif" fontSize="21px" fontWeight="600">
            Let go: each PDF finds its work by its own text
          </Text>
        </Flex>
      )}
      {list.length > 0 && !locked && (
        <Box
          role="region"
          aria-label="Texts you brought"
          position="fixed"
          right="16px"
          bottom="16px"
          zIndex="popover"
          w={{ base: 'calc(100% - 32px)', md: '480px' }}
          bg="surface"
          border="1px solid"
          borderColor="line"
          borderRadius="md"
          boxShadow="0 10px 32px rgba(31,36,48,.18)"
        >
          <Flex align="center" gap="10px" px="14px" pt="8px" pb="6px">
            <Text flex="1" fontSize="13.5px" fontWeight="600" role="status">
              {done < list.length
                ? `Reading: ${done} of ${list.length} texts`
                : `${list.length} ${list.length === 1 ? 'text' : 'texts'} read`}
            </Text>
            {done < list.length ? (
              <Button size="2xs" variant="outline" onClick={halt}>
                Stop
              </Button>
            ) : (
              <CloseButton size="xs" aria-label="Close the texts you brought" onClick={() => setList([])} />
            )}
          </Flex>
          {done < list.length && <Meter share={done / list.length} label="Reading texts" />}
          <Box maxH="42vh" overflow="auto" tabIndex={0} aria-label="What each text is">
            {list.map(b => (
              <Line key={b.id} brought={b} asNew={() => void asNew(b)} unlock={() => setLocked(b)} />
            ))}
          </Box>
        </Box>
      )}
      {locked && (
        <PasswordDialog
          file={locked.file.name}
          why="to find the work that it is"
          send={password => unlock.mutateAsync({ file: locked.file, password })}
          done={got => {
            setList(l => l.map(b => (b.id === locked.id ? { ...b, got } : b)))
            setLocked(undefined)
          }}
          close={() => setLocked(undefined)}
        />
      )}
    </BringContext>
  )
}

function Line({
  brought: { file, state, got },
  asNew,
  unlock,
}: {
  brought: Brought
  asNew: () => void
  unlock: () => void
}) {
  const { inquiry } = useHere()
  const isStranger = got?.outcome === 'refused' && got.item
  const voice = !got
    ? 'soft'
    : got.outcome === 'proved'
      ? 'vine'
      : isStranger
        ? 'slate'
        : got.outcome === 'refused'
          ? 'rust'
          : 'amber'
  const word = !got
    ? state
    : got.known
      ? 'there already'
      : got.outcome === 'proved'
        ? 'in hand'
        : got.outcome === 'refused'
          ? got.locked
            ? 'locked'
            : isStranger
              ? 'not in your pool'
              : 'not read'
          : got.outcome
  return (
    <Flex
      gap="10px"
      px="14px"
      py="6px"
      borderTop="1px solid"
      borderColor="hair2"
      fontSize="13px"
      lineHeight="18px"
      align="flex-start"
    >
      <Text w="92px" flex="none" fontWeight="600" color={voice}>
        {word}
      </Text>
      <Box flex="1" minW="0">
        {got?.title ? (
          <chakra.a asChild fontFamily="serif" fontWeight="600" lineClamp={2} overflowWrap="anywhere">
            <Link to={got.copyId ? `/inquiries/${inquiry.id}/read/${got.copyId}` : `?work=${got.work!}`}>
              {got.title}
            </Link>
          </chakra.a>
        ) : null}
        <Text color="soft" fontSize="12.5px" lineHeight="17px" overflowWrap="anywhere" lineClamp={3} title={got?.said}>
          {file.name}
          {got && !(got.outcome === 'proved' && !got.known) && `: ${got.said}`}
        </Text>
      </Box>
      {got?.locked && (
        <LineButton name={`Give the password of ${file.name}`} onClick={unlock}>
          Password
        </LineButton>
      )}
      {got?.item && (
        <LineButton name={`Bring in as a new work: ${String(got.item.title)}`} onClick={asNew}>
          Bring in
        </LineButton>
      )}
    </Flex>
  )
}

const LineButton = ({ name, onClick, children }: { name: string; onClick: () => void; children: string }) => (
  <Button size="2xs" variant="outline" flex="none" onClick={onClick} aria-label={name}>
    {children}
  </Button>
)

/** Chooses PDFs from the disk, as many as one likes. */
export function ChooseTexts({ children }: { children: ReactNode }) {
  const bring = useBringTexts()
  const [n, setN] = useState(0)
  return (
    <FileUpload.Root
      key={n}
      maxFiles={500}
      accept="application/pdf"
      w="auto"
      onFileAccept={e => {
        bring(e.files)
        setN(x => x + 1)
      }}
    >
      <FileUpload.HiddenInput aria-label="PDFs that find their works" />
      <FileUpload.Trigger asChild>
        <Button size="sm" variant="outline">
          {children}
        </Button>
      </FileUpload.Trigger>
    </FileUpload.Root>
  )
}
