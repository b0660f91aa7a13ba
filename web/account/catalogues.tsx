import { Box, Button, chakra, Flex, Stack, Table, Text } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { useEffect, useRef, useState, type ReactNode } from 'react'
import { api, type Answer } from '../../core/schema/api'
import { probeShape } from '../../core/schema/api/desk'
import { call } from '../api/client'
import { Line, useShaped } from '../frame/form'
import { Failed, Heading, Notice, Waiting } from '../frame/parts'
import { Page } from './page'
import { copyText } from '../frame/clipboard'

type Probed = Answer<'probe'> & { address: string }
const number = (n: number): string => n.toLocaleString('en')
const RECORDS: Record<string, string> = { marcxml: 'MARC 21 in XML', mods: 'MODS', dc: 'Dublin Core' }

/** The catalogues that can be searched, and trying one: what it can do, and how it was understood. */
export function Catalogues() {
  const catalogues = useQuery({ queryKey: ['catalogues'], queryFn: () => call(api.catalogues, {}) })
  const [probed, setProbed] = useState<Probed>()
  const { form, submit, busy, trouble } = useShaped(
    probeShape,
    { address: '', words: 'history' },
    async body => setProbed({ ...(await call(api.probe, { body })), address: body.address }),
    { stays: true },
  )
  const look = (address: string) => {
    form.setValue('address', address)
    submit()
  }
  return (
    <Page
      title="Catalogues"
      about="What is searched in Gather. Try one to see what it can do, and whether its records are understood."
    >
      {catalogues.isPending && <Waiting />}
      {catalogues.isError && <Failed error={catalogues.error} again={() => void catalogues.refetch()} />}
      {catalogues.data && (
        <Table.Root size="sm" mb="28px">
          <Table.Header>
            <Table.Row bg="transparent">
              <Table.ColumnHeader pl="0">Catalogue</Table.ColumnHeader>
              <Table.ColumnHeader>Address</Table.ColumnHeader>
              <Table.ColumnHeader>Records asked for in</Table.ColumnHeader>
              <Table.ColumnHeader />
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {catalogues.data.map(x => (
              <Table.Row key={x.id} bg="transparent">
                <Table.Cell pl="0" fontWeight="600">
                  {x.name}
                </Table.Cell>
                <Table.Cell color="soft">{x.address}</Table.Cell>
                <Table.Cell>
                  {RECORDS[x.schema] ?? x.schema}
                  {x.harvested && <chakra.span color="soft">, taken in</chakra.span>}
                </Table.Cell>
                <Table.Cell textAlign="right">
                  <Button
                    size="2xs"
                    variant="outline"
                    disabled={busy}
                    aria-label={`Try ${x.name}`}
                    onClick={() => look(x.address)}
                  >
                    Try it
                  </Button>
                </Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      )}
      <Heading>Try a catalogue</Heading>
      <chakra.form onSubmit={e => (e.preventDefault(), submit())} noValidate>
        <Flex gap="12px" align="flex-start" wrap="wrap">
          <Line
            form={form}
            name="address"
            label="Address of its server"
            placeholder="https://catalogue.example/sru"
            help="SRU, or OAI-PMH of a repository. Hosts that are not set up are tried by administrators."
            w="420px"
            size="sm"
          />
          <Line form={form} name="words" label="With the words" w="220px" size="sm" />
          <Button type="submit" size="sm" colorPalette="vine" mt="26px" loading={busy} loadingText="Asking">
            Try it
          </Button>
        </Flex>
        {trouble && (
          <Box mt="12px">
            <Notice voice="rust">{trouble.message}</Notice>
          </Box>
        )}
      </chakra.form>
      {probed && !busy && <Understood of={probed} />}
    </Page>
  )
}

function Understood({ of: p }: { of: Probed }) {
  const host = new URL(p.address).hostname
  const can = [
    p.truncation ? 'endings (lamp*)' : '',
    p.proximity ? 'words near each other' : '',
    p.scan ? 'its dictionary' : '',
    p.facets.length ? `counts by ${p.facets.join(', ')}` : '',
  ].filter(Boolean)
  // of one that neither explained itself nor answered, nothing is known
  const reached = !(p.failed && p.assumed)
  const top = useRef<HTMLDivElement>(null)
  // what was pressed may stand far above what it brought
  useEffect(() => top.current?.scrollIntoView?.({ block: 'nearest' }), [p])
  const cannot = [p.truncation ? '' : 'endings', p.proximity ? '' : 'words near each other'].filter(Boolean)
  return (
    <Stack gap="18px" mt="24px" role="region" aria-label={`What was understood of ${host}`}>
      <Box ref={top} scrollMarginBottom="60vh">
        <Text fontFamily="serif" fontSize="20px" lineHeight="26px" fontWeight="600">
          {p.title ?? host}
        </Text>
        <Text color="soft">{[p.address, p.description, p.extent].filter(Boolean).join(' · ')}</Text>
      </Box>
      {p.failed ? (
        <Notice voice="rust">{p.failed}</Notice>
      ) : p.unread.length ? (
        <Notice voice="amber">
          {p.unread.length === 1 ? 'One of its records' : `${p.unread.length} of its records`} could not be read. Record{' '}
          {p.unread[0]!.position}: {p.unread[0]!.why}
        </Notice>
      ) : (
        <Notice voice="vine">
          {p.harvested
            ? `A repository that cannot be searched: ${p.count === null ? 'all it has' : `its ${number(p.count)} records`} would be taken in once a day and looked through here.`
            : p.count === null
              ? 'It answers, and does not count what it finds.'
              : `It finds ${number(p.count)}.`}{' '}
          {p.records.length === 0
            ? 'There is nothing to read of that.'
            : p.records.length === 1
              ? 'The first of them was read.'
              : `The first ${p.records.length} of them were read.`}
        </Notice>
      )}
      <Box as="dl">
        {reached && p.assumed && <Fact name="Of itself">{p.assumed}</Fact>}
        {p.sets.length > 0 && (
          <Fact name="Its sets">
            {p.sets.map((s, i) => (
              <span key={s.spec}>
                {i > 0 && ', '}
                {s.name}
                {s.name !== s.spec && <chakra.span color="soft"> ({s.spec})</chakra.span>}
              </span>
            ))}
            ; one alone is taken in by <code>"set"</code> in the settings
          </Fact>
        )}
        {reached && <Fact name="It can be asked for">{can.join(', ') || 'words alone'}</Fact>}
        {reached && cannot.length > 0 && <Fact name="Not for">{cannot.join(', ')}; that is done here</Fact>}
        {p.indexes.length > 0 && (
          <Fact name="Its indexes">
            {p.indexes.map((x, i) => (
              <span key={x.theirs}>
                {i > 0 && ', '}
                {x.ours}
                {x.ours !== x.theirs && <chakra.span color="soft"> ({x.theirs})</chakra.span>}
              </span>
            ))}
          </Fact>
        )}
        {p.schemas.length > 0 && (
          <Fact name="Its records">
            {p.schemas.map(s => `${s.name || s.identifier}${s.readable ? '' : ' (not read here)'}`).join(', ')}; asked
            for in {RECORDS[p.schema] ?? p.schema}
          </Fact>
        )}
        {p.window !== null && <Fact name="It gives">the first {number(p.window)} of an answer</Fact>}
        {p.asked && <Fact name="Asked as">{p.asked}</Fact>}
        {p.changes.length > 0 && <Fact name="Changed">{p.changes.join(' ')}</Fact>}
      </Box>
      {p.records.length > 0 && (
        <Table.Root size="sm">
          <Table.Header>
            <Table.Row bg="transparent">
              <Table.ColumnHeader pl="0">Read as</Table.ColumnHeader>
              <Table.ColumnHeader>By</Table.ColumnHeader>
              <Table.ColumnHeader>Year</Table.ColumnHeader>
              <Table.ColumnHeader>Kind</Table.ColumnHeader>
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {p.records.map((r, i) => (
              <Table.Row key={i} bg="transparent">
                <Table.Cell pl="0" fontFamily="serif">
                  {r.title}
                </Table.Cell>
                <Table.Cell>{r.authors}</Table.Cell>
                <Table.Cell fontVariantNumeric="tabular-nums">{r.year ?? 'not said'}</Table.Cell>
                <Table.Cell whiteSpace="nowrap">{r.kind}</Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      )}
      {reached && (
        <Box>
          <Heading
            aside={
              <Button
                size="2xs"
                variant="ghost"
                onClick={() => void copyText(p.setting, 'Copied for the settings file.')}
              >
                Copy
              </Button>
            }
          >
            For the settings file
          </Heading>
          <chakra.pre
            fontSize="12.5px"
            lineHeight="18px"
            bg="surface"
            border="1px solid"
            borderColor="hair"
            p="12px"
            overflowX="auto"
          >
            {p.setting}
          </chakra.pre>
        </Box>
      )}
    </Stack>
  )
}

const Fact = ({ name, children }: { name: string; children: ReactNode }) => (
  <Flex gap="16px" py="6px" borderBottom="1px solid" borderColor="hair" fontSize="14px" wrap="wrap">
    <chakra.dt color="soft" w="140px" flex="none">
      {name}
    </chakra.dt>
    <chakra.dd flex="1" minW="200px" overflowWrap="anywhere">
      {children}
    </chakra.dd>
  </Flex>
)
