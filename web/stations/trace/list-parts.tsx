import { Box, Button, chakra, NativeSelect } from '@chakra-ui/react'
import { REACHES } from '../../../core/access/reach'
import { Empty } from '../../frame/parts'
import { NO_LIMITS, ORDERS, WHICH, type Limits, type Tab } from './ranking'

/** Order and limits of a list. */
export function LimitRow({
  limits,
  set,
  kinds,
}: {
  limits: Limits
  set: (l: Limits) => void
  kinds: readonly string[]
}) {
  const choice = (name: string, field: keyof Limits, options: readonly { key: string; name: string }[]) => (
    <chakra.label fontSize="12.5px" color="soft">
      {name}
      <NativeSelect.Root size="xs" mt="2px">
        <NativeSelect.Field
          bg="surface"
          value={limits[field]}
          onChange={e => set({ ...limits, [field]: e.target.value })}
        >
          {options.map(o => (
            <option key={o.key} value={o.key}>
              {o.name}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </chakra.label>
  )
  const any = { key: '', name: 'any' }
  const same = (list: readonly string[]) => [any, ...list.map(key => ({ key, name: key }))]
  return (
    <Box display="grid" gridTemplateColumns="1fr 1fr 1fr" gap="6px 10px" mt="8px">
      {choice('Order', 'order', ORDERS)}
      {choice('Show', 'which', WHICH)}
      {choice('Kind', 'kind', same(kinds))}
      {choice('Text', 'reach', same(REACHES))}
      {choice('Since', 'since', [any, ...['2024', '2021', '2016', '2006', '1996'].map(key => ({ key, name: key }))])}
      <Button size="2xs" variant="ghost" alignSelf="end" mb="4px" onClick={() => set(NO_LIMITS)}>
        As it was
      </Button>
    </Box>
  )
}

/** Why a list is empty, and what would fill it. */
export function Nothing({
  tab,
  limited,
  walked,
  lift,
}: {
  tab: Tab
  limited: boolean
  walked: boolean
  lift: () => void
}) {
  if (limited)
    return (
      <Empty
        title="The limits leave nothing"
        action={
          <Button size="xs" variant="outline" onClick={lift}>
            Lift them
          </Button>
        }
      />
    )
  if (!walked)
    return (
      <Empty title="No trail was walked yet">
        Walk a round: then what your kept works build on, and what builds on them, stands here.
      </Empty>
    )
  return tab === 'lack' ? (
    <Empty title="You lack nothing that stands out">
      No work outside your pool is cited by three of your kept works.
    </Empty>
  ) : (
    <Empty title="Nothing on record">The index knows of none. Its trails may not have been walked yet.</Empty>
  )
}
