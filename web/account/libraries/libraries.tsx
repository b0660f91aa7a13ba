import { Box, Button, chakra, Flex, IconButton, Text } from '@chakra-ui/react'
import { ArrowDown, ArrowUp } from 'lucide-react'
import { useState, type KeyboardEvent, type ReactNode } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import type { Libraries as Told } from '../../../core/schema/api'
import { Failed, Kbd, Waiting } from '../../frame/parts'
import { Sortable, SortableRow } from '../../frame/sortable'
import { Page } from '../page'
import { AddLibrary } from './add-library'
import { LibraryParts } from './library-parts'
import { useLibraries } from './use-libraries'

type Listed = Told['libraries'][number]

/** The libraries that are asked, in their order; one of them with its parts. */
export function Libraries() {
  const { query, choose, allow, again } = useLibraries()
  const { library } = useParams()
  const go = useNavigate()
  const [adding, setAdding] = useState(false)
  const all = query.data?.libraries ?? []
  const chosen = all.filter(l => l.chosen !== null)
  const others = all.filter(l => l.chosen === null)
  const shown = all.find(l => l.key === library) ?? all[0]
  const move = (key: string, by: 1 | -1) => {
    const keys = chosen.map(l => l.key)
    const [from, to] = [keys.indexOf(key), keys.indexOf(key) + by]
    if (from < 0 || to < 0 || to >= keys.length) return
    ;[keys[from], keys[to]] = [keys[to]!, keys[from]!]
    choose(keys)
  }
  const ask = (key: string, yes: boolean) =>
    choose(yes ? [...chosen.map(l => l.key), key] : chosen.map(l => l.key).filter(k => k !== key))
  return (
    <Page
      wide
      title="Your libraries"
      about="Where your texts come from, asked in this order. Every part can be tried, and says in words what came back."
    >
      {query.isPending && <Waiting />}
      {query.isError && <Failed error={query.error} again={() => void query.refetch()} />}
      {query.data && shown && (
        <div className="libraries">
          <chakra.nav aria-label="Libraries" minW="0">
            <Stem list={chosen} shown={shown.key} move={move} laid={choose} />
            <ListItem name="Open copies" said="for anybody, no card" more="always asked last" />
            {others.length > 0 && (
              <>
                <Text fontSize="12.5px" color="soft" mt="14px" mb="2px" ps="40px">
                  Not asked
                </Text>
                <ul className="library-list">
                  {others.map(l => (
                    <li key={l.key}>
                      <ListItem library={l} isShown={l.key === shown.key} />
                    </li>
                  ))}
                </ul>
              </>
            )}
            <Box ps="40px" mt="20px">
              <Button size="sm" variant="outline" onClick={() => setAdding(true)}>
                Add a library
              </Button>
              <Text className="library-hint">
                Ways to a text are looked for in all of them; of two that come on the same day, the earlier library’s is
                offered first.
              </Text>
              {chosen.length > 1 && (
                <Text className="library-hint">
                  Move one: <Kbd>Alt</Kbd> <Kbd>↑</Kbd> <Kbd>↓</Kbd>, or drag it.
                </Text>
              )}
            </Box>
          </chakra.nav>
          <Box minW="0">
            <LibraryParts
              key={shown.key}
              listed={shown}
              isLast={chosen.length === 1 && shown.chosen !== null}
              ask={yes => ask(shown.key, yes)}
              gone={async key => {
                await again()
                void go(key ? `/libraries/${key}` : '/libraries')
              }}
            />
            {query.data.waiting.length > 0 && <WaitingOnes waiting={query.data.waiting} allow={allow} />}
            <ToldOutside told={query.data.told} />
          </Box>
        </div>
      )}
      {adding && (
        <AddLibrary
          hasDirectory={query.data!.hasDirectory}
          administers={query.data!.administers}
          close={() => setAdding(false)}
          done={async key => {
            setAdding(false)
            await again()
            void go(`/libraries/${key}`)
          }}
        />
      )}
    </Page>
  )
}

/** Those that are asked, along a stem. */
function Stem({
  list,
  shown,
  move,
  laid,
}: {
  list: readonly Listed[]
  shown: string
  move: (key: string, by: 1 | -1) => void
  /** Told of another order. */
  laid: (keys: string[]) => void
}) {
  const onKey = (key: string) => (e: KeyboardEvent) => {
    const by = e.altKey ? ({ ArrowUp: -1, ArrowDown: 1 } as const)[e.key as 'ArrowUp'] : undefined
    if (!by) return
    e.preventDefault()
    move(key, by)
  }
  return (
    <Sortable ids={list.map(l => l.key)} moved={laid}>
      <ol className="library-list library-stem">
        {list.map((l, i) => (
          <li key={l.key} onKeyDown={onKey(l.key)}>
            <Placed library={l} isAlone={list.length === 1}>
              <ListItem library={l} n={i + 1} isShown={l.key === shown} canMove={list.length > 1} />
              {list.length > 1 && (
                <Flex className="library-moves">
                  <IconButton
                    size="2xs"
                    variant="ghost"
                    aria-label={`Ask ${l.name} earlier`}
                    disabled={i === 0}
                    onClick={() => move(l.key, -1)}
                  >
                    <ArrowUp size={14} />
                  </IconButton>
                  <IconButton
                    size="2xs"
                    variant="ghost"
                    aria-label={`Ask ${l.name} later`}
                    disabled={i === list.length - 1}
                    onClick={() => move(l.key, 1)}
                  >
                    <ArrowDown size={14} />
                  </IconButton>
                </Flex>
              )}
            </Placed>
          </li>
        ))}
      </ol>
    </Sortable>
  )
}

const Placed = ({ library: l, isAlone, children }: { library: Listed; isAlone: boolean; children: ReactNode }) =>
  isAlone ? (
    children
  ) : (
    <SortableRow id={l.key} name={l.name}>
      {children}
    </SortableRow>
  )

type ItemProps =
  | { library: Listed; n?: number; isShown: boolean; canMove?: boolean }
  | { library?: undefined; name: string; said: string; more: string }

/** One of the list: its leaf, its name, and what wants a look. */
function ListItem(p: ItemProps) {
  if (!p.library)
    return (
      <div className="library-item">
        <Leaf />
        <b>{p.name}</b>
        <span>{p.said}</span>
        <span>{p.more}</span>
      </div>
    )
  const { library: l, n, isShown, canMove } = p
  const { length } = l.troubles
  return (
    <Link
      to={`/libraries/${l.key}`}
      className="library-item"
      style={canMove ? { paddingInlineEnd: '58px' } : undefined}
      aria-current={isShown ? 'true' : undefined}
      data-shown={isShown || undefined}
    >
      <Leaf isFull={isShown} />
      <b>
        {n && <chakra.span me="4px">{n} </chakra.span>}
        {l.name}
      </b>
      {l.place && <span>{l.place}</span>}
      {length > 0 ? (
        <chakra.span color="rust !important" fontWeight="600">
          {length === 1 ? 'one thing' : `${length} things`} to mend
        </chakra.span>
      ) : (
        l.onCampus && <span>you are on its network</span>
      )}
    </Link>
  )
}

const Leaf = ({ isFull = false }: { isFull?: boolean }) => (
  <svg className="library-leaf" width="20" height="20" viewBox="0 0 16 16" aria-hidden="true">
    <path d="M2 9 C3 3 9 1 14 2 C15 8 10 14 2 9Z" data-full={isFull || undefined} />
  </svg>
)

/** For administrators: libraries of students whose hosts wait. */
function WaitingOnes({ waiting, allow }: { waiting: Told['waiting']; allow: (key: string) => Promise<void> }) {
  return (
    <chakra.section mt="28px" aria-labelledby="waiting">
      <chakra.h2 id="waiting" fontFamily="serif" fontSize="16px" lineHeight="22px" fontWeight="600" mb="6px">
        Waiting for you to allow
      </chakra.h2>
      <ul className="library-list">
        {waiting.map(l => (
          <Flex as="li" key={l.key} gap="12px" py="6px" align="center" borderTop="1px solid" borderColor="hair">
            <Box flex="1" minW="0" fontSize="13px" lineHeight="18px">
              <b>{l.name}</b>, set up by {l.who}
              <Text color="soft">{l.waits.join(' ')}</Text>
            </Box>
            <Button size="2xs" variant="outline" aria-label={`Allow ${l.name}`} onClick={() => void allow(l.key)}>
              Allow these hosts
            </Button>
          </Flex>
        ))}
      </ul>
    </chakra.section>
  )
}

/** Who outside is told what: what leaves this house. */
function ToldOutside({ told }: { told: Told['told'] }) {
  return (
    <chakra.section mt="28px" aria-labelledby="told">
      <chakra.h2 id="told" fontFamily="serif" fontSize="16px" lineHeight="22px" fontWeight="600">
        What leaves this house
      </chakra.h2>
      <Text fontSize="13px" color="soft" mb="6px">
        Nothing is asked of the outside but what you ask for. It is told:
      </Text>
      <dl className="library-told">
        {told.map(t => (
          <div key={t.who}>
            <dt>{t.who}</dt>
            <dd>{t.what}</dd>
          </div>
        ))}
      </dl>
    </chakra.section>
  )
}
