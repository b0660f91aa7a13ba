import { Box, Button, chakra, Text } from '@chakra-ui/react'
import { Link } from 'react-router'
import { api, type PlanInFull } from '../../../core/schema/api'
import { useChange } from '../../api/hooks'
import { some } from '../../frame/counted'
import { sayMinutes, weekDay } from '../../frame/due'
import { useHere } from '../../frame/inquiry-frame'
import { Heading, tellError } from '../../frame/parts'

/** What is read and written next, in the order in which it is best read. */
export function ToRead({ plan: p }: { plan: PlanInFull }) {
  const { inquiry, mayWrite } = useHere()
  const say = useChange(inquiry.id, api.setRead, (x: { work: number; read: boolean }) => ({
    params: { work: x.work },
    body: { read: x.read },
  }))
  const at = `/inquiries/${inquiry.id}`
  const { missing, beyond, done } = p.plan
  const all = p.reading.length + missing
  return (
    <Box as="section" aria-label="In this order">
      <Heading aside={all ? `${done} of ${some(all, 'entry', 'entries')} done` : undefined}>In this order</Heading>
      {!p.reading.length && (
        <Text fontSize="14px" color="soft">
          Nothing is kept yet. What you keep in Sift is put in order here: what goes back first, then what you began,
          what is in hand, overviews before others and older before newer.
        </Text>
      )}
      <chakra.ol className="plan-read" role="list">
        {p.reading.map(r => (
          <li key={r.work} data-done={r.read + r.write === 0 || undefined}>
            <div>
              <b title={r.title}>{r.title}</b>
              {r.until && (
                <chakra.span display="block !important" color={r.goesBefore ? 'rust !important' : 'amber !important'}>
                  {r.goesBefore
                    ? `Goes back on ${weekDay(r.until)}, before you have read it: ask to keep it longer.`
                    : `Borrowed: goes back on ${weekDay(r.until)}.`}
                </chakra.span>
              )}
              <span>
                {[r.authors, r.year].filter(Boolean).join(' · ')}
                {' · '}
                {left(r)}
              </span>
            </div>
            {mayWrite && (r.pages > 0 || r.isRead) && (
              <Button
                size="xs"
                variant="ghost"
                aria-pressed={r.isRead}
                aria-label={`Mark “${r.title}” as read`}
                onClick={() => say.mutate({ work: r.work, read: !r.isRead }, { onError: tellError })}
              >
                {r.isRead ? 'Marked as read' : 'Mark as read'}
              </Button>
            )}
            <Button asChild size="xs" variant="outline" bg="surface" w="72px">
              {r.copy === null && r.until ? (
                <Link to="/asked" aria-label={`See your loan of “${r.title}”`}>
                  See loan
                </Link>
              ) : r.copy === null ? (
                <Link to={`${at}/obtain?work=${r.work}`} aria-label={`Obtain “${r.title}”`}>
                  Obtain
                </Link>
              ) : r.pages > 0 ? (
                <Link to={`${at}/read/${r.copy}`} aria-label={`Read “${r.title}”`}>
                  Read
                </Link>
              ) : (
                <Link to={`${at}/compose`} aria-label={`${r.write ? 'Write about' : 'See'} “${r.title}”`}>
                  {r.write ? 'Write' : 'See'}
                </Link>
              )}
            </Button>
          </li>
        ))}
      </chakra.ol>
      {missing > 0 && p.reading.length > 0 && (
        <Text fontSize="13px" color="soft" mt="8px">
          {some(missing, 'entry has', 'entries have')} no work yet; each is reckoned like a usual article.
        </Text>
      )}
      {beyond > 0 && (
        <Text fontSize="13px" color="soft" mt="8px">
          {some(beyond, 'work more is', 'works more are')} kept than the brief asks for, and not reckoned.
        </Text>
      )}
    </Box>
  )
}

function left(r: PlanInFull['reading'][number]): string {
  if (r.read + r.write === 0) return 'done'
  const pages = r.pages > 0 && `${r.isGuess ? 'some ' : ''}${some(r.pages, 'page')} left`
  return [pages, sayMinutes(r.read + r.write)].filter(Boolean).join(', ') + (r.pages ? '' : ' of writing')
}
