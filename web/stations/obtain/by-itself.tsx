import { Button, Flex, Text } from '@chakra-ui/react'
import { canBeFetched, type Route } from '../../../core/access/routes'
import { api, type Obtainable } from '../../../core/schema/api'
import { useChange } from '../../api/hooks'
import { weekDay } from '../../frame/due'
import { useHere } from '../../frame/inquiry-frame'
import { tellError } from '../../frame/parts'

/** When a text is fetched by itself, in a sentence. */
export const sayAwaited = ({ day, why }: NonNullable<Obtainable['awaited']>): string =>
  why === 'gate' ? 'fetched by itself once you have signed in' : `fetched by itself on ${weekDay(day)}`

/** That a text is fetched by itself, or can be: called off, or asked for. */
export function ByItself({ row: { id, awaited }, route }: { row: Obtainable; route: Route }) {
  const { inquiry, mayWrite } = useHere()
  const wait = useChange(inquiry.id, api.awaitTexts, (wanted: boolean) => ({ body: { works: [id], wanted } }))
  const opens = canBeFetched(route) && route.expected > inquiry.today
  if (!mayWrite || (!awaited && !opens)) return null
  return (
    <Flex gap="4px 10px" align="center" wrap="wrap" mt="8px" fontSize="13px" lineHeight="18px">
      {awaited && <Text _firstLetter={{ textTransform: 'uppercase' }}>{sayAwaited(awaited)}.</Text>}
      <Button
        size="xs"
        variant={awaited ? 'ghost' : 'outline'}
        loading={wait.isPending}
        onClick={() => wait.mutate(!awaited, { onError: tellError })}
      >
        {awaited ? 'Not by itself' : `Fetch it by itself on ${weekDay(route.expected)}`}
      </Button>
    </Flex>
  )
}
