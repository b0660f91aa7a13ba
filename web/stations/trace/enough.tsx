import { Box, chakra, Text } from '@chakra-ui/react'
import { Link } from 'react-router'
import type { Enough } from '../../../core/trails/field-shapes'
import type { Forecast } from '../../../core/trails/rounds'
import { useHere } from '../../frame/inquiry-frame'

const about = ({ least, about: n, most }: Forecast): string =>
  `${Math.round(n)} (${least === most ? least : `${least} to ${most}`})`

/** What sweeps and rounds gave, what the next round promises, and how many works may have escaped both. */
export function IsItEnough({
  walked,
  missed,
  enough,
  next,
}: {
  /** Kept works that no sweep met. */
  missed: number
  /** Whether any trail was walked. */
  walked: boolean
  enough: Enough
  next: { n: number; brought: Forecast; kept: Forecast } | undefined
}) {
  const { inquiry } = useHere()
  const { sweeps, rounds, captures: k } = enough
  const numbered = rounds.filter(r => r.n !== null || r.brought > 0)
  const rows = [
    { name: 'sweeps', ...sweeps },
    ...numbered.map(({ n, isStanding, brought, kept }) => ({
      name: n !== null ? `round ${n}` : isStanding ? 'standing trails' : 'single looks',
      ...{ brought, kept },
    })),
  ]
  const highest = Math.max(1, ...rows.map(r => r.brought), next?.brought.most ?? 0)
  const wide = (n: number) => `${(100 * n) / highest}%`
  return (
    <Box>
      <chakra.table
        className="enough"
        aria-label="New works in the pool, and those of them that are kept, by how they came"
      >
        <thead>
          <tr>
            <th scope="col">Is it enough?</th>
            <th scope="col">new in the pool, of them kept</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(r => (
            <tr key={r.name}>
              <th scope="row">{r.name}</th>
              <td>
                <div>
                  <i style={{ width: wide(r.brought) }}>
                    <i style={{ width: r.brought ? `${(100 * r.kept) / r.brought}%` : 0 }} />
                  </i>
                  <span>
                    <b>{r.brought.toLocaleString('en')}</b> new, <b>{r.kept.toLocaleString('en')}</b> kept
                  </span>
                </div>
              </td>
            </tr>
          ))}
          {next && (
            <tr data-forecast>
              <th scope="row">round {next.n}</th>
              <td>
                <div>
                  <i
                    data-range
                    style={{
                      marginLeft: wide(next.brought.least),
                      width: wide(Math.max(0.5, next.brought.most - next.brought.least)),
                    }}
                  />
                  <span>
                    forecast: <b>{about(next.brought)}</b> new, <b>{about(next.kept)}</b> kept
                  </span>
                </div>
              </td>
            </tr>
          )}
        </tbody>
      </chakra.table>
      <Text fontSize="13px" lineHeight="19px" color="soft" mt="8px">
        {walked ? (
          <>
            Of {k.kept} kept, sweeps match {k.sweeps}, trails reach {k.trails} from another kept work, both {k.both}.{' '}
            <Escapees escaped={k.escaped} />
            {missed > 0 && sweeps.brought > 0 && (
              <>
                {' '}
                <Link className="plain-link" to={`/inquiries/${inquiry.id}/gather?harvest=missed`}>
                  Words of the {missed} that no sweep met
                </Link>
                .
              </>
            )}
            {k.apart.length > 0 && (
              <>
                {' '}
                <Link className="plain-link" to={`/inquiries/${inquiry.id}/trace?list=apart`}>
                  The {k.apart.length} that only sweeps found
                </Link>
                .
              </>
            )}
            {k.left > 0 &&
              ` ${k.left} came otherwise, or ${k.left === 1 ? 'is' : 'are'} not in the index, and ${k.left === 1 ? 'is' : 'are'} left out.`}
          </>
        ) : (
          'Once a round is walked, this tells what trails reach that sweeps did not, and how much may have escaped both.'
        )}
      </Text>
    </Box>
  )
}

function Escapees({ escaped }: { escaped: Enough['captures']['escaped'] }) {
  if (escaped === null) return 'Too few were met both ways for an estimate of what escaped.'
  if (escaped.most < 0.5) return 'Both met the same works: nothing speaks for more of them.'
  return (
    <>
      <Text as="span" color="ink">
        Probably at least <b>{Math.round(escaped.about)}</b> ({Math.round(escaped.least)} to {Math.round(escaped.most)})
        such works escaped both:
      </Text>{' '}
      a floor, since both favour the same works and see none that the index does not know.
    </>
  )
}
