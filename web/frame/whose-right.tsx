import { Button, Menu, Portal, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { PASSED_ON, type Opening, type PassedOn } from '../../core/access/copy-rights'
import { api } from '../../core/schema/api'
import { useChange } from '../api/hooks'
import { useHere } from './inquiry-frame'
import { tellError } from './parts'

/** By whose right a copy is here, and passing it on to the other members. */
export function WhoseRight({ copy }: { copy: { id: number; opening: Opening } }) {
  const { inquiry, mayWrite } = useHere()
  const { opening } = copy
  const passing = useChange(inquiry.id, api.passOn, (why: PassedOn | null) => ({
    ...{ params: { copy: copy.id }, body: { why } },
  }))
  const pass = (why: PassedOn | null) => passing.mutate(why, { onError: tellError })
  const mayPass = mayWrite && opening.mayPassOn
  const [isRead, setRead] = useState(false)
  return (
    <Text as="div" fontSize="13px" lineHeight="18px" color={opening.opens ? 'soft' : 'amber'}>
      {opening.said}{' '}
      {opening.terms && (
        <Button size="2xs" variant="ghost" aria-expanded={isRead} onClick={() => setRead(was => !was)}>
          Its terms
        </Button>
      )}
      {mayPass && opening.passedOn && (
        <Button size="2xs" variant="ghost" loading={passing.isPending} onClick={() => pass(null)}>
          Keep it to myself
        </Button>
      )}
      {mayPass && !opening.passedOn && inquiry.others > 0 && (
        <Menu.Root onSelect={({ value }) => pass(PASSED_ON.find(why => why === value) ?? null)}>
          <Menu.Trigger asChild>
            <Button size="2xs" variant="ghost" loading={passing.isPending}>
              Pass it on …
            </Button>
          </Menu.Trigger>
          <Portal>
            <Menu.Positioner>
              <Menu.Content>
                <Menu.ItemGroup>
                  <Menu.ItemGroupLabel fontWeight="400" color="soft">
                    All members may open it, since
                  </Menu.ItemGroupLabel>
                  {PASSED_ON.map(why => (
                    <Menu.Item key={why} value={why}>
                      {why}
                    </Menu.Item>
                  ))}
                </Menu.ItemGroup>
              </Menu.Content>
            </Menu.Positioner>
          </Portal>
        </Menu.Root>
      )}
      {isRead && opening.terms && (
        <Text as="blockquote" borderStart="3px solid" borderColor="grape.line" ps="10px" mt="4px" color="ink">
          {opening.terms}
        </Text>
      )}
    </Text>
  )
}
