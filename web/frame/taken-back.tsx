import { Button, Stack, Text } from '@chakra-ui/react'
import { format } from 'date-fns'
import { api, type Answer } from '../../core/schema/api'
import { useOf } from '../api/hooks'
import { useDeskTime } from './desk-time'
import { useHere, useOpenWork } from './inquiry-frame'
import { Notice } from './parts'

type Told = Answer<'takenBack'>[number]

const IT: Record<Told['says'], string> = {
  retracted: 'It was retracted',
  withdrawn: 'It was withdrawn',
  'in doubt': 'Its editors have voiced concern about it',
  corrected: 'It was corrected',
}
const inOneWord = (says: Told['says']): string => (says === 'in doubt' ? 'called in doubt' : says)

/** What was taken back or corrected in the inquiry and around it. */
export function useTakenBack(): readonly Told[] {
  const { inquiry } = useHere()
  return useOf(inquiry.id, api.takenBack).data ?? []
}

/** That a work was taken back or corrected, who says so and since when; and what it leans on that was. */
export function TakenBack({ work }: { work: number }) {
  const openWork = useOpenWork()
  const onDesk = useDeskTime()
  const all = useTakenBack()
  const own = all.filter(t => t.work === work)
  // of one that several say it of, the gravest
  const isIt = (a: Told) => (b: Told) => a.work === b.work && a.node === b.node
  const leansOn = all.filter(t => t.citing.includes(work) && all.find(isIt(t)) === t)
  if (!own.length && !leansOn.length) return null
  const to = (id: number | null | undefined) =>
    id ? (
      <Button size="xs" variant="outline" flex="none" onClick={() => openWork(id)}>
        Work sheet
      </Button>
    ) : undefined
  return (
    <Stack gap="8px">
      {own.map(t => (
        <Notice
          key={`${t.says} ${t.by?.work} ${t.by?.node}`}
          voice={t.says === 'corrected' ? 'amber' : 'rust'}
          action={to(t.by?.work)}
        >
          <b>{IT[t.says]}</b>:{' '}
          {t.by ? <>“{t.by.title}” says so</> : t.notice ? `notice ${t.notice} says so` : 'its title says so'}, in{' '}
          {t.source}, {format(onDesk(t.at), 'd MMM yyyy')}.
          {t.citing.length > 0 && ` ${t.citing.length} of your pool ${t.citing.length === 1 ? 'cites' : 'cite'} it.`}
        </Notice>
      ))}
      {leansOn.map(t => (
        <Notice key={`${t.work} ${t.node} ${t.says}`} voice="amber" action={to(t.work)}>
          It cites a work that was <b>{inOneWord(t.says)}</b>: “{t.title}”, by {t.source}.
        </Notice>
      ))}
    </Stack>
  )
}

/** The same in a line of a list; of what was merely corrected nothing is said there. */
export function TakenBackLine({ of }: { of: { work: number } | { node: number } }) {
  const found = useTakenBack().find(
    t => t.says !== 'corrected' && ('work' in of ? t.work === of.work : t.node === of.node),
  )
  if (!found) return null
  return (
    <Text fontSize="12.5px" lineHeight="17px" color="rust" fontWeight="600">
      {IT[found.says]}
      {found.citing.length > 0 &&
        `; ${found.citing.length} of your pool ${found.citing.length === 1 ? 'cites' : 'cite'} it`}
    </Text>
  )
}
