import { api } from '../../core/schema/api'
import { Box, Menu, Text } from '@chakra-ui/react'
import { useQueryClient } from '@tanstack/react-query'
import { format, parseISO } from 'date-fns'
import { CalendarDays, RotateCcw } from 'lucide-react'
import { useNavigate } from 'react-router'
import { call } from '../api/client'
import { AskDialog } from './ask-dialog'
import { useDesk } from './desk-time'
import { tell, tellError } from './parts'

const AHEAD: [number, string][] = [
  [1, 'day'],
  [7, 'week'],
  [30, 'month'],
]

/** In the demo: the day on which the desk stands, moving it ahead, and laying the demo anew. */
export function DeskItems({ demo, anew }: { demo: boolean; anew: () => void }) {
  const desk = useDesk()
  const client = useQueryClient()
  if (!desk.data?.moves) return null
  const ahead = async (days: number) => {
    try {
      const { day } = await call(api.moveDesk, { body: { days } })
      await client.invalidateQueries()
      tell(`The desk now stands on ${format(parseISO(day), 'EEEE d MMMM yyyy')}.`)
    } catch (e) {
      tellError(e)
    }
  }
  return (
    <Box borderBottom="1px solid" borderColor="hair" mb="4px" pb="4px">
      <Text px="12px" py="6px" fontSize="12.5px" color="soft">
        The desk stands on {format(parseISO(desk.data.day), 'EEE d MMM yyyy')}
      </Text>
      {AHEAD.map(([days, word]) => (
        <Menu.Item key={days} value={word} onClick={() => void ahead(days)}>
          <CalendarDays size={15} /> Skip ahead a {word}
        </Menu.Item>
      ))}
      {demo && (
        <Menu.Item value="anew" onClick={anew}>
          <RotateCcw size={15} /> Lay the demo anew …
        </Menu.Item>
      )}
    </Box>
  )
}

/** Asks first, then says how long it takes and leads back to the list of inquiries. */
export function AnewDialog({ open, close }: { open: boolean; close: () => void }) {
  const client = useQueryClient()
  const navigate = useNavigate()
  const go = async () => {
    close()
    try {
      await call(api.layAnew, {})
      tell('The demo is being laid anew; this takes about half a minute.')
      void navigate('/')
      do await new Promise(r => setTimeout(r, 1500))
      while ((await call(api.desk, {})).laying)
      await client.invalidateQueries()
      tell('The demo is laid anew.')
    } catch (e) {
      tellError(e)
    }
  }
  return (
    <AskDialog
      open={open}
      close={close}
      title="Lay the demo anew?"
      leave="Leave it"
      word="Lay it anew"
      go={() => void go()}
    >
      Every inquiry of the demo account goes, and the three it began with come back. The desk stands on its first day
      again. This cannot be undone.
    </AskDialog>
  )
}
