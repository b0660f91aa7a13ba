import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { Answer } from '../../../core/schema/api'
import { lineIn, type WorkLine } from '../../../core/sift/line'
import { some } from '../../frame/counted'
import { useHere, useOpenWork } from '../../frame/inquiry-frame'
import { LeafMark, ReachMark } from '../../frame/marks'
import { Tick, withMember } from '../../frame/parts'
import { useBring } from '../../frame/use-bring'

type Known = Answer<'grantWorks'>['works'][number]

/** What a list of such works comes to, in words. */
export function summed(of: readonly Known[], works: readonly WorkLine[]): (string | false)[] {
  const kept = of.flatMap(w => (w.work ? (lineIn(works, w.work) ?? []) : [])).filter(l => l.state === 'kept').length
  const cited = of.reduce((n, w) => n + (citedBy(w, works) ?? 0), 0)
  return [kept > 0 && `${kept} kept`, cited > 0 && `cited ${cited.toLocaleString('en')} times in all`]
}

const citedBy = (w: Known, works: readonly WorkLine[]): number | null =>
  w.pointer ? w.pointer.citedBy : (w.work && lineIn(works, w.work)?.citedBy) || null

/** Works of the pool and pointers in one list: those are opened, these are brought. */
export function KnownWorks({ of, works, name }: { of: readonly Known[]; works: readonly WorkLine[]; name: string }) {
  const { mayWrite } = useHere()
  const open = useOpenWork()
  const bring = useBring()
  const [ticked, setTicked] = useState<ReadonlySet<number>>(new Set())
  const outside = of.flatMap(w => w.pointer?.node ?? [])
  const chosen = outside.filter(n => ticked.has(n))
  return (
    <Box>
      <Box as="ul" listStyleType="none" aria-label={name}>
        {of.map(w => {
          const s = w.pointer ?? (w.work ? lineIn(works, w.work) : undefined)
          if (!s) return null
          return (
            <chakra.li key={w.work ?? `p${w.pointer!.node}`} borderTop="1px solid" borderColor="hair2" py="8px">
              <Flex gap="10px" align="flex-start">
                {w.pointer ? (
                  <Tick
                    voice="grape"
                    label={`Choose: ${s.title}`}
                    checked={ticked.has(w.pointer.node)}
                    disabled={!mayWrite}
                    set={on => setTicked(b => withMember(b, w.pointer!.node, on))}
                  />
                ) : (
                  <Box pt="3px" w="16px" flex="none">
                    <LeafMark state={(s as WorkLine).state} />
                  </Box>
                )}
                <Box flex="1" minW="0">
                  {w.work ? (
                    <chakra.button
                      type="button"
                      textAlign="start"
                      fontFamily="serif"
                      fontWeight="600"
                      fontSize="14.5px"
                      lineHeight="20px"
                      cursor="pointer"
                      dir="auto"
                      onClick={() => open(w.work!)}
                    >
                      {s.title}
                    </chakra.button>
                  ) : (
                    <Text fontFamily="serif" fontWeight="600" fontSize="14.5px" lineHeight="20px" dir="auto">
                      {s.title}
                    </Text>
                  )}
                  <Text fontSize="12.5px" lineHeight="18px" color="soft">
                    {[
                      s.year ?? 'no year',
                      s.container,
                      s.authors,
                      s.citedBy && `cited ${some(s.citedBy, 'time')}`,
                      w.pointer && 'not in your pool',
                    ]
                      .filter(Boolean)
                      .join(' · ')}
                  </Text>
                </Box>
                <Box pt="2px" flex="none">
                  <ReachMark reach={s.reach} />
                </Box>
              </Flex>
            </chakra.li>
          )
        })}
      </Box>
      {mayWrite && outside.length > 0 && (
        <Flex pt="10px" gap="8px" borderTop="1px solid" borderColor="hair">
          <Button
            size="xs"
            colorPalette="grape"
            disabled={!chosen.length}
            loading={bring.busy}
            onClick={() => bring.bringMany(chosen, () => setTicked(new Set()))}
          >
            Bring {chosen.length || ''} into the pool
          </Button>
          <Button size="xs" variant="ghost" onClick={() => setTicked(new Set(chosen.length ? [] : outside))}>
            {chosen.length ? 'Choose none' : `Choose all ${outside.length}`}
          </Button>
        </Flex>
      )}
    </Box>
  )
}
