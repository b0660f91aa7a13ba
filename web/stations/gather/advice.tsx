import { api } from '../../../core/schema/api'
import { Box, chakra, Text } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { printCql } from '../../../core/query/cql'
import { ladder, sayYears, sheetQuery, termNode, type Sheet, type Term } from '../../../core/query/sheet'
import { call } from '../../api/client'
import { useHere } from '../../frame/inquiry-frame'
import type { SheetHandle } from './use-sheet'
import { n, range, useCounts } from './use-counts'

/** Says where the number stands, and what would bring it into the zone, with counts before use. */
export function Advice({ handle, catalogues }: { handle: SheetHandle; catalogues: string[] }) {
  const { inquiry } = useHere()
  const { sheet, edit } = handle
  const query = useMemo(() => sheetQuery(sheet), [sheet])
  const counts = useCounts(inquiry.id, query ? printCql(query) : undefined, catalogues)
  const now = Number(inquiry.today.slice(0, 4))
  const c = counts.data
  const offers = useMemo((): { label: string; change: (s: Sheet) => Sheet }[] => {
    if (!c) return []
    if (c.most < sheet.zone[0])
      return ladder(sheet)
        .filter(s => s.on && s.how === 'asked' && s.node)
        .map(s => ({ label: `without the rung “${s.label}”`, change: (x: Sheet) => ({ ...x, off: [...x.off, s.id] }) }))
    if (c.least <= sheet.zone[1]) return []
    return [
      ...(sheet.years
        ? []
        : [3, 8].map(y => ({
            label: sayYears({ from: now - y }),
            change: (s: Sheet) => ({ ...s, years: { from: now - y } }),
          }))),
      ...(sheet.languages?.length ? [] : [{ label: 'English', change: (s: Sheet) => ({ ...s, languages: ['en'] }) }]),
      ...sheet.concepts
        .filter(x => !sheet.off.includes(x.id) && x.terms.some(t => t.on && !t.field && !t.cql))
        .slice(0, 3)
        .map(x => ({
          label: `“${x.name || x.terms.find(t => t.on)!.text}” in titles`,
          change: (s: Sheet) => ({
            ...s,
            concepts: s.concepts.map(y =>
              y.id === x.id ? { ...y, terms: y.terms.map(t => (t.cql ? t : { ...t, field: 'title' })) } : y,
            ),
          }),
        })),
    ]
  }, [c, sheet, now])
  if (!c || !query) return null
  const lost = c.most === 0
  return (
    <Box fontSize="13.5px" lineHeight="20px" flex="1" minW="0">
      <chakra.b color={c.most >= sheet.zone[0] && c.least <= sheet.zone[1] ? 'vine' : lost ? 'rust' : 'ink'}>
        {lost
          ? 'Nothing is left.'
          : `${range(c)} ${c.least > sheet.zone[1] ? 'is more than you want to read.' : c.most < sheet.zone[0] ? 'is thin.' : 'is reviewable.'}`}
      </chakra.b>{' '}
      {offers.length > 0 && c.least > sheet.zone[1] && <chakra.span color="soft">Next: </chakra.span>}
      {offers.map((o, i) => (
        <Offer
          key={o.label}
          offer={o}
          sheet={sheet}
          catalogues={catalogues}
          use={() => edit(o.change, `${o.label}: done.`)}
          last={i === offers.length - 1}
        />
      ))}
      {c.most < sheet.zone[0] && <Unknown handle={handle} catalogues={catalogues} />}
    </Box>
  )
}

/** Words of the sheet that no catalogue knows, with the nearest of the catalogues' own words. */
function Unknown({ handle, catalogues }: { handle: SheetHandle; catalogues: string[] }) {
  const terms = handle.sheet.concepts.flatMap(c => c.terms.filter(t => t.on && !t.cql).map(t => ({ t, concept: c.id })))
  return (
    <>
      {terms.map(({ t, concept }) => (
        <UnknownTerm key={t.id} term={t} concept={concept} handle={handle} catalogues={catalogues} />
      ))}
    </>
  )
}

function UnknownTerm({
  term,
  concept,
  handle,
  catalogues,
}: {
  term: Term
  concept: string
  handle: SheetHandle
  catalogues: string[]
}) {
  const { inquiry, mayWrite } = useHere()
  const node = termNode(term)
  const counts = useCounts(inquiry.id, node && printCql({ root: node }), catalogues)
  const unknown = counts.data?.most === 0
  const near = useQuery({
    queryKey: ['spelling', term.text],
    queryFn: ({ signal }) => call(api.spelling, { params: { inquiry: inquiry.id }, body: { word: term.text }, signal }),
    enabled: unknown && !term.text.trim().includes(' '),
    staleTime: 600_000,
    retry: false,
  })
  if (!unknown) return null
  return (
    <Text>
      <chakra.span color="rust">No catalogue knows “{term.text}”.</chakra.span>{' '}
      {near.data?.length ? 'Their own words: ' : ''}
      {near.data?.map(w => (
        <chakra.button
          key={w.text}
          type="button"
          disabled={!mayWrite}
          textDecoration="underline"
          textDecorationColor="hair"
          textUnderlineOffset="3px"
          mr="8px"
          onClick={() =>
            handle.edit(
              s => ({
                ...s,
                concepts: s.concepts.map(x =>
                  x.id === concept
                    ? { ...x, terms: x.terms.map(t => (t.id === term.id ? { ...t, text: w.text } : t)) }
                    : x,
                ),
              }),
              `“${term.text}” is now “${w.text}”.`,
            )
          }
        >
          {w.text} ({n(w.count)})
        </chakra.button>
      ))}
    </Text>
  )
}

function Offer({
  offer,
  sheet,
  catalogues,
  use,
  last,
}: {
  offer: { label: string; change: (s: Sheet) => Sheet }
  sheet: Sheet
  catalogues: string[]
  use: () => void
  last: boolean
}) {
  const { inquiry, mayWrite } = useHere()
  const query = sheetQuery(offer.change(sheet))
  const counts = useCounts(inquiry.id, query ? printCql(query) : undefined, catalogues)
  // loosening that finds nothing either is no offer
  if (!query || counts.data?.most === 0) return null
  return (
    <>
      <chakra.button
        type="button"
        onClick={use}
        disabled={!mayWrite}
        textDecoration="underline"
        textDecorationColor="hair"
        textUnderlineOffset="3px"
      >
        {offer.label} leaves {counts.data ? range(counts.data) : '…'}
      </chakra.button>
      {last ? '' : ' · '}
    </>
  )
}
