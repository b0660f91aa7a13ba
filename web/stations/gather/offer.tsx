import { Box, Button, Flex, Text } from '@chakra-ui/react'
import type { ReactNode } from 'react'
import { printCql } from '../../../core/query/cql'
import { termNode, type Sheet, type Term } from '../../../core/query/sheet'
import { useHere } from '../../frame/inquiry-frame'
import { listOf, WITHOUT, withList } from './lists'
import { newId, type SheetHandle } from './use-sheet'
import { range, useCounts } from './use-counts'

/** The term of a sheet that is a word, or finds it by its beginning: what is there is offered no more. */
export function termFor(sheet: Sheet, word: string): Term | undefined {
  const wanted = word.toLowerCase()
  const finds = ({ text, ending, field, cql }: Term): boolean => {
    const own = text.toLowerCase()
    if (field || cql !== undefined) return false
    return ending ? wanted.startsWith(own) && !wanted.slice(own.length).includes(' ') : own === wanted
  }
  const terms = [...sheet.concepts.flatMap(c => c.terms), ...sheet.without]
  return terms.find(t => t.text.toLowerCase() === wanted && !t.ending) ?? terms.find(t => t.on && finds(t))
}

/** A word for the sheet with what it would find, put there by one press. */
export function Offer({
  term,
  children,
  said,
  into,
  handle,
  catalogues,
}: {
  term: Omit<Term, 'id' | 'on'>
  /** The word as it is shown. */
  children: ReactNode
  said?: ReactNode
  /** Id of the list that takes it. */
  into: string
  handle: SheetHandle
  catalogues: string[]
}) {
  const { inquiry, mayWrite } = useHere()
  const have = termFor(handle.sheet, term.text)
  const node = termNode({ ...term, id: '', on: true })
  const counts = useCounts(inquiry.id, node && printCql({ root: node }), catalogues)
  return (
    <Flex align="center" gap="10px" py="6px" borderBottom="1px solid" borderColor="hair" fontSize="13.5px">
      <Box flex="1" minW="0" overflowWrap="anywhere">
        {children}
        {said && (
          <Text fontSize="12px" lineHeight="16px" color="soft">
            {said}
          </Text>
        )}
      </Box>
      <Text
        w="92px"
        flex="none"
        textAlign="right"
        fontFamily="serif"
        fontWeight="600"
        color={counts.data?.most === 0 ? 'rust' : undefined}
      >
        {counts.data ? range(counts.data) : counts.isError ? '?' : '…'}
      </Text>
      {have ? (
        <Text w="110px" flex="none" textAlign="center" fontSize="12px" lineHeight="16px" color="soft">
          {have.ending ? `found by ${have.text}*` : 'on the sheet'}
        </Text>
      ) : (
        <Button
          size="2xs"
          w="110px"
          flex="none"
          variant="outline"
          disabled={!mayWrite}
          aria-label={into === WITHOUT ? `Leave out ${term.text}` : `Put ${term.text} on the sheet`}
          onClick={() =>
            handle.edit(
              s => withList(s, into, [...listOf(s, into), { ...term, id: newId(), on: true }]),
              into === WITHOUT ? `What has “${term.text}” is left out.` : `“${term.text}” is on the sheet.`,
            )
          }
        >
          {into === WITHOUT ? 'Leave it out' : 'Put on the sheet'}
        </Button>
      )}
    </Flex>
  )
}
