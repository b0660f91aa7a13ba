import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { format, parseISO } from 'date-fns'
import { ChevronDown, ChevronRight } from 'lucide-react'
import { Link } from 'react-router'
import { standOfAuthor } from '../../../core/access/asked-author'
import { bestWay, isAskedFor, isAuthorAsked, YOURS, type Doing } from '../../../core/access/doing'
import { isFetchable, type Route } from '../../../core/access/routes'
import type { Obtainable } from '../../../core/schema/api'
import { useHere } from '../../frame/inquiry-frame'
import { ReachMark } from '../../frame/marks'
import { OwnFile } from './own-file'
import { sayAwaited } from './by-itself'
import { Band, Bar, COLUMNS, TimeCell, useScale, type BarKind } from './time'
import { END_WORDS, mayAsk, spanOf, wayName, whenOf } from './way-words'
import { chance } from '../../frame/counted'
import { WaysPanel } from './ways-panel'

interface Told {
  bar: string
  kind: BarKind
  on: string
  /** It comes between two days, not on one. */
  span?: { from: string; to: string }
  head: string
  tail: string
  voice?: string
}

/** The copy that the student may open: a proved one before a doubtful one. */
const copyToRead = ({ copies }: Obtainable) => {
  const open = copies.filter(x => x.opening.opens)
  return open.find(x => x.outcome === 'proved') ?? open.find(x => x.outcome === 'doubtful')
}

/** The best way, on the day from which its text is fetched by itself. */
function bestToday({ routes, awaited }: Pick<Obtainable, 'routes' | 'awaited'>): Route | undefined {
  const best = bestWay(routes)
  return best && awaited && awaited.day > best.expected ? { ...best, expected: awaited.day } : best
}

/** What the row says of a work: when its text comes, and by which way. */
function tellRow(
  row: Obtainable,
  { doing, today, due, isOfMany }: { doing: Doing; today: string; due: string | null; isOfMany: boolean },
): Told {
  const copy = copyToRead(row)
  if (copy?.outcome === 'proved')
    return {
      bar: 'in hand',
      kind: 'hand',
      on: today,
      head: 'Read it',
      tail: `${copy.version}, ${copy.pages} pages`,
    }
  if (copy)
    return {
      ...{ bar: 'doubtful copy', kind: 'maybe' as const, on: today },
      ...{ head: 'Doubtful copy', tail: copy.said.join(' '), voice: 'amber' },
    }
  if (row.loan && isAskedFor(row.loan, doing)) return tellLoan(row.loan, today)
  if (row.author && isAuthorAsked(row, doing)) return tellAuthor(row.author, today)
  if (!row.routes) return { bar: '?', kind: 'none', on: today, head: 'Not looked up', tail: 'look for ways first' }
  const best = bestToday(row)
  if (!best || doing === 'no way in time') {
    const tried = row.routes.find(r => r.walked && r.likely === 0)
    return {
      ...{ bar: best ? whenOf(best, today) : 'no way found', kind: 'shut' as const, on: best?.expected ?? today },
      ...{ head: due ? 'No way in time' : 'No way', voice: 'rust' },
      tail: tried
        ? `${tried.from}: ${tried.evidence}`
        : row.routes.length
          ? 'write to the author'
          : 'no lawful way is known',
    }
  }
  if (best.way === 'shelf' && best.walked)
    return {
      ...{ bar: best.shelf?.stays ? 'there, in print' : 'with you, in print', kind: 'today', on: today },
      ...{ head: 'In print', tail: best.evidence },
    }
  const end = best.walked && best.walked.ended !== 'taken' ? END_WORDS[best.walked.ended] : undefined
  const when = whenOf(best, today)
  const by = best.way === 'open' ? `open, ${best.version}` : wayName(best).toLowerCase()
  const again = row.awaited
    ? sayAwaited(row.awaited)
    : best.walked?.again && `tried again at ${format(new Date(best.walked.again), 'HH:mm')}`
  if (doing === 'not sure')
    return {
      bar: `perhaps ${when}, ${by}`,
      kind: 'maybe',
      on: best.expected,
      head: 'Not sure',
      tail: best.from,
      voice: 'amber',
    }
  if (best.loan) {
    const { askBy, kind } = best.loan
    return {
      ...{ bar: `${kind === 'scan' ? 'scan' : 'loan'}, ${when}`, kind: 'wait' as const, on: best.loan.from },
      ...{ span: best.loan, head: wayName(best) },
      tail: due
        ? [best.partner, `${chance(best.likely)} likely`, askBy && `ask by ${format(parseISO(askBy), 'EEE d MMM')}`]
            .filter(Boolean)
            .join(' · ')
        : best.from,
    }
  }
  return {
    bar: `${when}, ${by}`,
    kind: end && best.likely < 0.9 ? 'maybe' : best.expected > today ? 'wait' : 'today',
    on: best.expected,
    head: wayName(best),
    tail: end || again ? [end?.said, again].filter(Boolean).join('; ') : tailOf(best, isOfMany),
    ...(end ? { voice: end.voice } : {}),
  }
}
/** How it stands with a letter to its author. */
function tellAuthor(author: NonNullable<Obtainable['author']>, today: string): Told {
  const { is, until } = standOfAuthor(author, today)
  const wrote = `you wrote on ${format(parseISO(author.wrote.at(-1)!), 'd MMM')}`
  return is === 'waiting'
    ? { bar: `until ${format(parseISO(until), 'd MMM')}`, kind: 'wait', on: until, head: 'Author asked', tail: wrote }
    : { ...{ bar: 'write again', kind: 'maybe', on: today }, head: 'No answer yet', tail: wrote, voice: 'amber' }
}

/** Where asking for it elsewhere is the next thing to do; else it stands among the ways. */
const ASKED_FROM: readonly Doing[] = ['ask for it', 'not sure', 'no way in time']

/** How it stands with what was asked for. */
function tellLoan(loan: NonNullable<Obtainable['loan']>, today: string): Told {
  const told = { on: today, head: loan.stands, tail: `${loan.kind} from ${loan.library}` }
  switch (loan.state) {
    case 'asked back':
      return { ...told, bar: 'answer first', kind: 'maybe', head: 'Asked back', voice: 'amber' }
    case 'wrong text':
      return { ...told, bar: 'another text', kind: 'maybe', voice: 'amber' }
    case 'ready': {
      const there = { ...told, kind: 'today' as const, bar: loan.kind === 'scan' ? 'the scan is there' : 'waits there' }
      return loan.until && loan.until >= today
        ? {
            ...there,
            head: loan.kind === 'scan' ? 'Ready to fetch' : 'Pick it up',
            tail: `until ${format(parseISO(loan.until), 'd MMM')}${loan.kind === 'book' ? `, ${loan.library}` : ''}`,
          }
        : there
    }
    case 'with you':
      return { ...told, bar: 'with you, in print', kind: 'today' }
    default:
      return loan.when
        ? { ...told, bar: spanOf(loan.when), kind: 'wait', on: loan.when.from, span: loan.when }
        : { ...told, bar: 'asked for', kind: 'wait' }
  }
}

/** @param isOfMany several libraries are asked, so that it is said which of them it is */
const tailOf = (r: Route, isOfMany: boolean): string =>
  r.way === 'open' && r.version !== 'version of record'
    ? 'its page numbers differ'
    : r.partner
      ? r.from
      : r.shelf
        ? r.shelf.call
        : isOfMany && r.library
          ? r.library.name
          : r.from

/** A work with its best way against time; opened, with all of them. */
export function WorkRow({
  row,
  doing,
  isOpen,
  toggle,
  fetchOne,
  accept,
  askFor,
}: {
  row: Obtainable
  doing: Doing
  isOpen: boolean
  toggle: (work: number) => void
  fetchOne: (row: Obtainable) => void
  accept: (route: Route) => void
  askFor: (rows: readonly Obtainable[]) => void
}) {
  const { inquiry, mayWrite } = useHere()
  const { today, due } = useScale()
  const told = tellRow(row, { doing, today, due, isOfMany: inquiry.libraries.length > 1 })
  const best = bestToday(row)
  const copy = copyToRead(row)
  /** A step that the student alone can take: it is shown what it is. */
  const isYours = Boolean(best?.hand) || Boolean(best?.walked && YOURS.includes(best.walked.ended))
  const press = () => (best?.walked?.terms ? accept(best) : isYours ? toggle(row.id) : fetchOne(row))
  const Fold = isOpen ? ChevronDown : ChevronRight
  const asked = isAskedFor(row.loan, doing)
  const evidence = (asked ? undefined : (best?.evidence ?? row.closed[0])) ?? row.container
  return (
    <>
      <Box
        display="grid"
        gridTemplateColumns={COLUMNS}
        columnGap="12px"
        borderBottom="1px solid"
        borderColor="hair"
        alignItems="center"
        minH="54px"
        bg={isOpen ? 'surface' : undefined}
        data-work={row.id}
      >
        <ReachMark reach={row.reach} />
        <Box minW="0">
          <chakra.button
            type="button"
            data-row
            onClick={() => toggle(row.id)}
            aria-expanded={isOpen}
            display="flex"
            alignItems="center"
            gap="4px"
            w="full"
            textAlign="start"
            cursor="pointer"
            title={row.title}
          >
            <Box as="span" color="soft" flex="none" aria-hidden="true">
              <Fold size={14} />
            </Box>
            <Text as="span" fontFamily="serif" fontWeight="600" fontSize="14.5px" lineHeight="20px" truncate>
              {row.title}
            </Text>
          </chakra.button>
          <Text fontSize="12.5px" lineHeight="17px" color="soft" truncate pl="18px" title={evidence}>
            {[`${row.authors.split(',')[0]} ${row.year ?? ''}`, evidence]
              .map(part => part.trim())
              .filter(Boolean)
              .join(' · ')}
          </Text>
        </Box>
        <TimeCell>
          {told.span ? (
            <Band from={told.span.from} to={told.span.to}>
              {told.bar}
            </Band>
          ) : (
            <Bar on={told.on} kind={told.kind}>
              {told.bar}
            </Bar>
          )}
        </TimeCell>
        <Flex
          fontSize="13px"
          lineHeight="17px"
          gap="6px"
          direction={{ base: 'column', lg: 'row' }}
          align={{ base: 'flex-start', lg: 'center' }}
          justify="space-between"
          minW="0"
          py={{ base: '6px', lg: '5px' }}
        >
          <Box minW="0">
            {copy ? (
              <Link
                to={`/inquiries/${inquiry.id}/read/${copy.id}`}
                style={{ fontWeight: 600 }}
                {...(copy.outcome === 'doubtful'
                  ? { 'aria-label': `Doubtful copy of “${row.title}”: see whether it is the work` }
                  : {})}
              >
                {told.head}
              </Link>
            ) : (
              <Text fontWeight="600" color={told.kind === 'shut' || told.kind === 'maybe' ? told.voice : undefined}>
                {told.head}
              </Text>
            )}
            <Text
              fontSize="12.5px"
              color={copy || told.kind === 'shut' ? 'soft' : (told.voice ?? 'soft')}
              lineClamp={2}
              title={told.tail}
            >
              {told.tail}
            </Text>
          </Box>
          {mayWrite && row.reach !== 'in hand' && (
            <Flex direction="column" gap="2px" flex="none" align="stretch">
              {best && isFetchable(best, today) && (
                <Button size="2xs" variant="outline" onClick={press} title={`${chance(best.likely)} likely`}>
                  {best.walked?.terms ? 'Read terms' : isYours ? 'See how' : best.walked ? 'Try again' : 'Fetch'}
                </Button>
              )}
              {asked ? (
                <Button asChild size="2xs" variant="outline">
                  <Link to="/asked">
                    {row.loan?.state === 'asked back'
                      ? 'Answer'
                      : doing === 'waits for you' && row.loan?.byHand
                        ? 'Send it'
                        : 'See request'}
                  </Link>
                </Button>
              ) : doing === 'waits for you' && isAuthorAsked(row, doing) ? (
                <Button size="2xs" variant="outline" aria-expanded={isOpen} onClick={() => toggle(row.id)}>
                  See letter
                </Button>
              ) : (
                ASKED_FROM.includes(doing) &&
                mayAsk(row) && (
                  <Button size="2xs" variant="outline" onClick={() => askFor([row])}>
                    Ask
                  </Button>
                )
              )}
              {!isOpen && !(best && isFetchable(best, today)) && <OwnFile row={row} />}
            </Flex>
          )}
        </Flex>
      </Box>
      {isOpen && <WaysPanel row={row} accept={accept} askFor={askFor} bring={<OwnFile row={row} />} />}
    </>
  )
}
