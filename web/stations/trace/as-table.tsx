import { Box, chakra } from '@chakra-ui/react'
import type { End } from '../../../core/trails/field-shapes'
import type { WorkLine } from '../../../core/sift/line'
import type { Overview } from './field-desk'
import { who, type Shown } from './naming'

/** The trellis as a table: a kept work a row, by strand and year, with its place on the main path. */
export function AsTable({
  overview,
  shownOf,
  works,
  choose,
  chosen,
}: {
  overview: Overview
  shownOf: (end: End) => Shown | undefined
  works: ReadonlyMap<number, WorkLine>
  choose: (at: number) => void
  chosen: number | undefined
}) {
  const pays = new Map(overview.pays.map(p => [p.node, p]))
  const also = new Map(overview.also)
  const woke = new Map(overview.slept.map(s => [s.at, s.woke]))
  const name = (at: number) => shownOf(overview.ends[at]!)
  return (
    <Box
      flex="1"
      minH="0"
      overflow="auto"
      mt="6px"
      tabIndex={0}
      role="region"
      aria-label="Kept works by strand and year"
    >
      <chakra.table className="field-table" aria-label="Kept works">
        <thead>
          <tr>
            <th scope="col">Work</th>
            <th scope="col">Year</th>
            <th scope="col">Cited</th>
            <th scope="col">On the main path</th>
            <th scope="col">Its neighbours</th>
            <th scope="col">of them kept</th>
          </tr>
        </thead>
        {overview.stems.map((s, i) => (
          <tbody key={i}>
            <tr>
              <th scope="rowgroup" colSpan={6}>
                {s.name}
              </th>
            </tr>
            {[...s.works]
              .sort((a, b) => (overview.ends[a]!.year ?? 0) - (overview.ends[b]!.year ?? 0) || a - b)
              .map(at => {
                const shown = shownOf(overview.ends[at]!)
                const p = pays.get(at)
                return (
                  <tr key={at} data-current={at === chosen || undefined}>
                    <td>
                      <button type="button" onClick={() => choose(at)}>
                        {shown?.title}
                      </button>
                      {also.has(at) && (
                        <chakra.span color="soft" display="block">
                          also “{also.get(at)!.join('”, “')}”
                        </chakra.span>
                      )}
                    </td>
                    <td>{shown?.year ?? 'no year'}</td>
                    <td>
                      {works.get(overview.ends[at]!.work ?? 0)?.citedBy ?? '–'}
                      {woke.has(at) && `, hardly before ${woke.get(at)}`}
                    </td>
                    <td>{overview.places[at]}</td>
                    <td>{p?.walked ? p.neighbours : 'not walked'}</td>
                    <td>{p?.walked ? `${p.kept}, ${Math.round(p.share * 100)}% to expect` : ''}</td>
                  </tr>
                )
              })}
          </tbody>
        ))}
      </chakra.table>
      {overview.forward.length > 0 && (
        <chakra.p fontSize="13px" lineHeight="19px" color="soft" px="8px" py="10px">
          Left out of the main path, since the one that cites is the older:{' '}
          {overview.forward
            .map(([citing, cited]) => [name(citing), name(cited)])
            .map(([a, b]) => a && b && `${who(a)} cites ${who(b)}`)
            .join('; ')}
          .
        </chakra.p>
      )}
    </Box>
  )
}
