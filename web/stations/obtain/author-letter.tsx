import { Button, Flex, Text } from '@chakra-ui/react'
import { MOST_LETTERS, standOfAuthor, type AskedAuthor } from '../../../core/access/asked-author'
import { isAuthorAsked } from '../../../core/access/doing'
import { letterAgain, letterToAuthor } from '../../../core/access/letter'
import { api, type Obtainable } from '../../../core/schema/api'
import { useChange, useOf } from '../../api/hooks'
import { useSession } from '../../api/session'
import { weekDay } from '../../frame/due'
import { useHere } from '../../frame/inquiry-frame'
import { LetterBox } from '../../frame/letter-box'
import { tell, tellError } from '../../frame/parts'
import { Sub } from './at-hand'

/** A letter to the author, and how it stands with the one that was sent. */
export function AuthorLetter({ row }: { row: Obtainable }) {
  const { id: work, author } = row
  const { inquiry, mayWrite } = useHere()
  const told = useOf(inquiry.id, api.work, { params: { work } })
  const addresses = useOf(inquiry.id, api.authorOf, { params: { work } }).data ?? []
  const { data } = useSession()
  const note = useChange(inquiry.id, api.noteLetters, (body: { wrote: string[]; declined: boolean }) => ({
    params: { work },
    body,
  }))
  if (!told.data) return null
  const asked: AskedAuthor = author ?? { wrote: [], declined: false }
  const stand = author && standOfAuthor(author, inquiry.today)
  const keep = (next: AskedAuthor, said: string) => {
    const body = ({ wrote, declined }: AskedAuthor) => ({ wrote: [...wrote], declined })
    const undo = () => note.mutate(body(asked), { onError: tellError })
    note.mutate(body(next), {
      onError: tellError,
      onSuccess: () => tell(said, { label: 'Undo', onClick: undo }),
    })
  }
  const wrote = () => keep({ wrote: [...asked.wrote, inquiry.today], declined: false }, 'Noted: you wrote today.')
  const { item } = told.data
  const isOver = stand && (stand.is === 'declined' || stand.is === 'no answer')
  const to = addresses[0]
  const because = row.reach !== 'out of reach' ? undefined : inquiry.due ? 'no way in time' : 'no way'
  const names = { from: data?.user?.name ?? '', to: to?.name, because } as const
  return (
    <>
      <Sub>Ask the author</Sub>
      {author && (
        <Text fontSize="13px" lineHeight="18px" mb="8px" role="status">
          {sayStand(author, inquiry.today, isAuthorAsked(row, 'on its way'))}
        </Text>
      )}
      {stand?.is !== 'waiting' && !isOver && (
        <LetterBox
          letter={author ? letterAgain(item, author.wrote[0]!, names) : letterToAuthor(item, names)}
          {...(to ? { to: to.mail } : {})}
          name={author ? 'Second letter to the author' : 'Letter to the author'}
          hint={
            to
              ? `To ${to.mail}, which stands ${to.said}. Addresses change: see whether it is still theirs.`
              : 'The address of an author stands on the first page of most texts, or on the page of the work.'
          }
        />
      )}
      {mayWrite && (
        <Flex gap="8px" mt="8px" wrap="wrap">
          {!isOver && stand?.is !== 'waiting' && asked.wrote.length < MOST_LETTERS && (
            <Button size="xs" variant="outline" onClick={wrote} loading={note.isPending}>
              I have sent it
            </Button>
          )}
          {stand && stand.is !== 'declined' && (
            <Button
              size="xs"
              variant="ghost"
              onClick={() => keep({ ...asked, declined: true }, 'Noted: they cannot send it.')}
            >
              They cannot send it
            </Button>
          )}
          {author && (
            <Button
              size="xs"
              variant="ghost"
              onClick={() =>
                asked.declined
                  ? keep({ ...asked, declined: false }, 'Taken back.')
                  : keep({ wrote: asked.wrote.slice(0, -1), declined: false }, 'Taken back: not sent.')
              }
            >
              {asked.declined ? 'Take that back' : 'It was not sent'}
            </Button>
          )}
        </Flex>
      )}
    </>
  )
}

/** @param isAwaited nothing else leads to the text, so that the work waits for this letter alone */
function sayStand(asked: AskedAuthor, today: string, isAwaited: boolean): string {
  const { is, until } = standOfAuthor(asked, today)
  const days = asked.wrote.map(weekDay).join(' and on ')
  switch (is) {
    case 'waiting':
      return `You wrote on ${days}. What they send is dropped on this page. Without an answer until ${weekDay(until)}, ${sayAfter(asked, isAwaited)}.`
    case 'write again':
      return `You wrote on ${days}, and a week went by. Here is a second letter.`
    case 'no answer':
      return `You wrote on ${days}, and nothing came.`
    case 'declined':
      return `You wrote on ${days}; they cannot send it.`
  }
}

const sayAfter = ({ wrote }: AskedAuthor, isAwaited: boolean): string =>
  wrote.length >= MOST_LETTERS
    ? 'it counts as no way any more'
    : isAwaited
      ? 'it stands under “Waits for you” with a second letter'
      : 'a second letter is ready here'
