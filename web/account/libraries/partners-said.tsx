import { chakra, Text } from '@chakra-ui/react'
import type { Partner } from '../../../core/schema/library'
import { VISIT_SAID } from './change-partners'

const days = (what: string, pace: Partner['scan']): string | undefined =>
  pace && `${what} within ${pace.low} to ${pace.high} working days`

/** What each partner does for the readers of a library. */
export function PartnersSaid({ partners, hasOffice }: { partners: readonly Partner[]; hasOffice: boolean }) {
  const sends = partners.some(p => p.scan ?? p.book)
  return (
    <>
      {partners.map(p => (
        <Text key={p.name}>
          <b>{p.name}</b>{' '}
          <chakra.span color="soft">
            {[days('scans', p.scan), days('books', p.book), p.visit === 'no' ? undefined : VISIT_SAID[p.visit]]
              .filter(Boolean)
              .join(', ')}
            .
          </chakra.span>
        </Text>
      ))}
      <Text color="soft" mt="4px" wordBreak="break-all">
        {[...new Set(partners.map(p => p.shelf.address))].join(', ')}
      </Text>
      {sends && !hasOffice && (
        <Text color="amber">
          This library has no loan office through which they could send: only going there is left.
        </Text>
      )}
    </>
  )
}
