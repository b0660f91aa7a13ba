import { Button, chakra, Flex, Input, Popover, Portal } from '@chakra-ui/react'
import { useState } from 'react'
import { api, type PoolView } from '../../../core/schema/api'
import type { BodyOf } from '../../../core/schema/api/endpoint'
import { useChange } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { tell, tellError } from '../../frame/parts'
import type { LimitHandle } from './use-limits'

/** Keeps the limits under a name. */
export function KeepView({ handle, views }: { handle: LimitHandle; views: readonly PoolView[] }) {
  const { inquiry } = useHere()
  const [name, setName] = useState('')
  const [open, setOpen] = useState(false)
  const save = useChange(inquiry.id, api.saveView, (body: BodyOf<typeof api.saveView>) => ({ body }))
  const again = views.some(v => v.name.toLowerCase() === name.trim().toLowerCase())
  return (
    <Popover.Root open={open} onOpenChange={e => setOpen(e.open)} positioning={{ placement: 'bottom-start' }}>
      <Popover.Trigger asChild>
        <Button size="2xs" variant="ghost">
          Keep as a view …
        </Button>
      </Popover.Trigger>
      <Portal>
        <Popover.Positioner>
          <Popover.Content w="300px" p="12px" aria-label="Keep as a view">
            <chakra.form
              display="flex"
              gap="8px"
              onSubmit={e => {
                e.preventDefault()
                save.mutate(
                  { name: name.trim(), limits: handle.limits, words: handle.words },
                  {
                    onSuccess: () => {
                      setOpen(false)
                      setName('')
                    },
                    onError: tellError,
                  },
                )
              }}
            >
              <Input
                size="xs"
                aria-label="Name of the view"
                placeholder="its name"
                maxLength={80}
                value={name}
                onChange={e => setName(e.target.value)}
              />
              <Button size="xs" type="submit" colorPalette="vine" disabled={!name.trim()}>
                {again ? 'Replace' : 'Keep'}
              </Button>
            </chakra.form>
          </Popover.Content>
        </Popover.Positioner>
      </Portal>
    </Popover.Root>
  )
}

/** Views that were kept, to be taken up again. */
export function Views({ views, handle }: { views: readonly PoolView[]; handle: LimitHandle }) {
  const [open, setOpen] = useState(false)
  const { inquiry, mayWrite } = useHere()
  const drop = useChange(inquiry.id, api.endView, (view: number) => ({ params: { view } }))
  const again = useChange(inquiry.id, api.saveView, (body: BodyOf<typeof api.saveView>) => ({ body }))
  return (
    <Popover.Root open={open} onOpenChange={e => setOpen(e.open)} positioning={{ placement: 'bottom-end' }}>
      <Popover.Trigger asChild>
        <Button size="2xs" variant="outline">
          Views ({views.length})
        </Button>
      </Popover.Trigger>
      <Portal>
        <Popover.Positioner>
          <Popover.Content w="300px" p="6px" aria-label="Views you kept">
            {views.map(v => (
              <Flex key={v.id} align="center">
                <Button
                  size="xs"
                  variant="ghost"
                  flex="1"
                  minW="0"
                  justifyContent="flex-start"
                  onClick={() => {
                    setOpen(false)
                    handle.replace(v.limits, v.words)
                  }}
                >
                  <chakra.span truncate>{v.name}</chakra.span>
                </Button>
                {mayWrite && (
                  <Button
                    size="xs"
                    variant="ghost"
                    color="soft"
                    aria-label={`Remove the view ${v.name}`}
                    onClick={() =>
                      drop.mutate(v.id, {
                        onSuccess: () =>
                          tell(`The view “${v.name}” is removed.`, {
                            label: 'Undo',
                            onClick: () => again.mutate({ name: v.name, limits: v.limits, words: v.words }),
                          }),
                        onError: tellError,
                      })
                    }
                  >
                    remove
                  </Button>
                )}
              </Flex>
            ))}
          </Popover.Content>
        </Popover.Positioner>
      </Portal>
    </Popover.Root>
  )
}
