import {
  Box,
  Button,
  Checkbox,
  createToaster,
  Flex,
  Spinner,
  Text,
  Toaster as ChakraToaster,
  Toast,
  Stack,
} from '@chakra-ui/react'
import { Fragment, type ReactNode } from 'react'
import { Link } from 'react-router'
import { ApiError } from '../api/client'

export const toaster = createToaster({ placement: 'bottom-end', overlap: false, gap: 8, pauseOnPageIdle: true })

/** Says what happened, with a way back where there is one. */
export function tell(title: string, action?: { label: string; onClick: () => void }): void {
  toaster.create({ title, duration: action ? 12_000 : 6000, ...(action ? { action } : {}) })
}
export function tellError(e: unknown): void {
  toaster.create({ title: e instanceof Error ? e.message : String(e), type: 'error', duration: 9000, closable: true })
}

export function Toaster() {
  return (
    <ChakraToaster toaster={toaster} insetInline={{ mdDown: '4' }}>
      {t => (
        <Toast.Root
          width={{ md: '360px' }}
          bg={t.type === 'error' ? 'rust.solid' : 'ink'}
          color={t.type === 'error' ? 'white' : 'paper'}
        >
          <Stack gap="1" flex="1" maxWidth="100%">
            <Toast.Title fontWeight="500" fontSize="14px" lineHeight="19px">
              {t.title}
            </Toast.Title>
          </Stack>
          {t.action && (
            <Toast.ActionTrigger borderWidth="1px" borderColor="currentColor" color="inherit" fontWeight="600">
              {t.action.label}
            </Toast.ActionTrigger>
          )}
          {t.closable && <Toast.CloseTrigger color="inherit" />}
        </Toast.Root>
      )}
    </ChakraToaster>
  )
}

export function Heading({ children, aside }: { children: ReactNode; aside?: ReactNode }) {
  return (
    <div className="heading">
      <h2>{children}</h2>
      {aside && <span>{aside}</span>}
    </div>
  )
}

/** Where a work appeared, in a line: what is not known leaves nothing behind, not even a dot. */
export function Source(p: {
  authors: string
  container: string
  numbers: string
  year: ReactNode
  pages: string | null | undefined
}) {
  const parts: ReactNode[] = [
    (p.container || p.numbers) && (
      <span key="in">
        <i>{p.container}</i> {p.numbers}
      </span>
    ),
    p.year && <span key="year">{p.year}</span>,
    p.pages && (
      <span key="pages" style={{ whiteSpace: 'nowrap' }}>
        pages {p.pages.replace(/(\d)-(\d)/g, '$1–$2')}
      </span>
    ),
  ].filter(Boolean)
  return (
    <p className="source">
      {p.authors}
      <span>
        {parts.map((part, i) => (
          <Fragment key={i}>
            {(i > 0 || p.authors) && ' · '}
            {part}
          </Fragment>
        ))}
      </span>
    </p>
  )
}

export function Kbd({ children }: { children: ReactNode }) {
  return <kbd>{children}</kbd>
}

/** What a view shows where there is nothing yet: what belongs here, and the next step. */
export function Empty({ title, children, action }: { title: string; children?: ReactNode; action?: ReactNode }) {
  return (
    <Flex direction="column" align="center" textAlign="center" py="64px" px="24px" gap="10px">
      <svg width="64" height="40" viewBox="0 0 64 40" aria-hidden="true">
        <path d="M2 34 C18 34 20 20 34 20 S52 12 62 4" fill="none" stroke="var(--chakra-colors-hair)" strokeWidth="3" />
        <circle
          cx="34"
          cy="20"
          r="5"
          fill="var(--chakra-colors-paper)"
          stroke="var(--chakra-colors-line)"
          strokeWidth="1.6"
        />
      </svg>
      <Text fontFamily="serif" fontWeight="600" fontSize="19px" lineHeight="26px">
        {title}
      </Text>
      {children && (
        <Box color="soft" maxW="460px" fontSize="14px" lineHeight="21px">
          {children}
        </Box>
      )}
      {action && <Box mt="8px">{action}</Box>}
    </Flex>
  )
}

export function Waiting({ what = 'Loading' }: { what?: string }) {
  return (
    <Flex align="center" justify="center" gap="10px" py="64px" color="soft" fontSize="14px" role="status">
      <Spinner size="sm" color="vine" /> {what} …
    </Flex>
  )
}

/** The way out of a page that leads nowhere. */
export function Homeward() {
  return (
    <Button asChild size="sm" colorPalette="vine">
      <Link to="/">To your inquiries</Link>
    </Button>
  )
}

/** What could not be shown, and why. What is not there leads home: asking again would not bring it. */
export function Failed({ error, again }: { error: unknown; again?: (() => void) | undefined }) {
  const missing = error instanceof ApiError && error.status === 404
  return (
    <Empty
      title={missing ? 'There is nothing here' : 'This could not be shown'}
      action={
        missing ? (
          <Homeward />
        ) : (
          again && (
            <Button size="sm" variant="outline" onClick={again}>
              Try again
            </Button>
          )
        )
      }
    >
      {error instanceof Error ? error.message : String(error)}
    </Empty>
  )
}

/** A notice in the flow of a page: what happened, what was kept, what to do. */
export function Notice({
  voice,
  children,
  action,
}: {
  voice: 'amber' | 'rust' | 'slate' | 'vine'
  children: ReactNode
  action?: ReactNode
}) {
  return (
    <Flex
      bg={`${voice}.soft`}
      color={voice}
      borderRadius="md"
      px="12px"
      py="8px"
      gap="12px"
      align="center"
      fontSize="13px"
      lineHeight="18px"
      role={voice === 'rust' ? 'alert' : 'status'}
    >
      <Box flex="1">{children}</Box>
      {action}
    </Flex>
  )
}

export function Meter({ share, voice = 'vine', label }: { share: number; voice?: string; label: string }) {
  return (
    <Box
      h="6px"
      bg="hair"
      borderRadius="3px"
      overflow="hidden"
      role="progressbar"
      aria-label={label}
      aria-valuenow={Math.round(share * 100)}
      aria-valuemin={0}
      aria-valuemax={100}
    >
      <Box h="full" w={`${Math.round(Math.min(1, share) * 100)}%`} bg={`${voice}.solid`} transition="width .15s" />
    </Box>
  )
}

/** A box to choose by; its label is read aloud where no words stand beside it. */
export function Tick({
  checked,
  set,
  label,
  disabled = false,
  voice = 'vine',
  children,
}: {
  checked: boolean
  set: (on: boolean) => void
  label?: string
  disabled?: boolean
  voice?: string
  children?: ReactNode
}) {
  return (
    <Checkbox.Root
      size="sm"
      colorPalette={voice}
      checked={checked}
      disabled={disabled}
      onCheckedChange={e => set(e.checked === true)}
      zIndex="1"
      flex="none"
      mt={children ? undefined : '4px'}
    >
      <Checkbox.HiddenInput aria-label={label} />
      <Checkbox.Control>
        <Checkbox.Indicator />
      </Checkbox.Control>
      {children && <Checkbox.Label fontWeight="500">{children}</Checkbox.Label>}
    </Checkbox.Root>
  )
}

/** A set with one member put in or taken out. */
export function withMember<T>(set: ReadonlySet<T>, member: T, on: boolean): Set<T> {
  const next = new Set(set)
  if (on) next.add(member)
  else next.delete(member)
  return next
}
