import { api, type Answer } from '../../../core/schema/api'
import { Box, chakra, Text } from '@chakra-ui/react'
import { useOf } from '../../api/hooks'
import { some } from '../../frame/counted'
import { useHere, useOpenWork } from '../../frame/inquiry-frame'
import { Empty, Failed, Waiting } from '../../frame/parts'
import { n } from './use-counts'

/** What each catalogue adds to the pool and to the kept works: what only it has, and with which it shares the rest. */
export function Shares() {
  const { inquiry } = useHere()
  const open = useOpenWork()
  const shares = useOf(inquiry.id, api.shares)
  if (shares.isPending) return <Waiting />
  if (shares.isError) return <Failed error={shares.error} again={() => void shares.refetch()} />
  const names = new Map(shares.data.map(s => [s.catalogue, s.name]))
  const list = shares.data.filter(s => s.works > 0).sort((a, b) => b.works - a.works)
  if (!list.length)
    return (
      <Empty title="Nothing to compare yet">
        Once works are in your pool, you see here what each catalogue alone brought, and what you would lose without it.
      </Empty>
    )
  const none = shares.data.filter(s => s.works === 0)
  const most = Math.max(...list.map(s => s.works))
  const cell = { px: '8px', py: '7px', verticalAlign: 'top' } as const
  return (
    <>
      <chakra.table w="full" fontSize="13.5px" css={{ borderCollapse: 'collapse' }}>
        <thead>
          <chakra.tr color="soft" fontSize="12.5px" textAlign="left" borderBottom="1px solid" borderColor="hair">
            <chakra.th scope="col" fontWeight="400" {...cell}>
              catalogue
            </chakra.th>
            <chakra.th scope="col" fontWeight="400" {...cell} w="220px">
              works in the pool, those only here filled
            </chakra.th>
            <chakra.th scope="col" fontWeight="400" {...cell} textAlign="right">
              only here
            </chakra.th>
            <chakra.th scope="col" fontWeight="400" {...cell}>
              shares most with
            </chakra.th>
            <chakra.th scope="col" fontWeight="400" {...cell}>
              without it you would lose
            </chakra.th>
          </chakra.tr>
        </thead>
        <tbody>
          {list.map(s => (
            <chakra.tr key={s.catalogue} borderBottom="1px solid" borderColor="hair">
              <chakra.th scope="row" fontWeight="600" textAlign="left" {...cell}>
                {s.name}
              </chakra.th>
              <chakra.td {...cell}>
                <Box
                  position="relative"
                  h="16px"
                  w={`${Math.max(2, (100 * s.works) / most)}%`}
                  bg="vine.line"
                  borderRadius="sm"
                  aria-hidden="true"
                >
                  <Box h="full" w={`${(100 * s.onlyHere) / s.works}%`} bg="vine.solid" borderRadius="sm" />
                </Box>
                <Text fontSize="12px" color="soft">
                  {n(s.works)} works, {n(s.kept)} kept
                </Text>
              </chakra.td>
              <chakra.td {...cell} textAlign="right" fontFamily="serif" fontWeight="600">
                {n(s.onlyHere)}
              </chakra.td>
              <chakra.td {...cell} color="soft">
                {s.shared
                  .slice(0, 2)
                  .map(x => `${names.get(x.catalogue)} ${n(x.works)}`)
                  .join(' · ') || '–'}
              </chakra.td>
              <chakra.td {...cell}>
                {s.keptOnlyHere.length === 0 ? (
                  <chakra.span color="soft">no kept work</chakra.span>
                ) : (
                  <chakra.details>
                    <chakra.summary cursor="pointer" lineHeight="24px">
                      {s.keptOnlyHere.length} kept {s.keptOnlyHere.length === 1 ? 'work' : 'works'}
                    </chakra.summary>
                    {s.keptOnlyHere.map(w => (
                      <chakra.button
                        key={w.id}
                        type="button"
                        display="block"
                        textAlign="left"
                        fontFamily="serif"
                        fontSize="13px"
                        lineHeight="18px"
                        py="3px"
                        onClick={() => open(w.id)}
                        textDecoration="underline"
                        textDecorationColor="hair"
                      >
                        {w.title}
                      </chakra.button>
                    ))}
                  </chakra.details>
                )}
              </chakra.td>
            </chakra.tr>
          ))}
        </tbody>
      </chakra.table>
      {none.length > 0 && (
        <Box mt="14px" fontSize="13.5px" lineHeight="20px">
          <Text fontWeight="600">Gave nothing to the pool</Text>
          {none.map(s => (
            <Text key={s.catalogue}>
              {s.name}: <chakra.span color={s.failed === null ? 'soft' : 'rust'}>{whyNothing(s)}</chakra.span>
            </Text>
          ))}
        </Box>
      )}
    </>
  )
}

/** Why a catalogue gave nothing to the pool, as far as the log tells. */
function whyNothing({ asked, found, failed }: Answer<'shares'>[number]): string {
  if (!asked) return 'not asked yet'
  if (failed !== null) return ['failed when it was asked last', failed].filter(Boolean).join(': ')
  if (!found) return `asked in ${some(asked, 'sweep')}, and found nothing`
  return `found ${n(found)} in one sweep; none of them was brought`
}
