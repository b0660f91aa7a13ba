import { Button, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { toHtml, plainText } from '../../core/cite/rich-text'
import { api } from '../../core/schema/api'
import { useOf } from '../api/hooks'
import { copyRich, copyText } from './clipboard'
import { useHere } from './inquiry-frame'
import { LetterDialog } from './letter-dialog'
import { Rich } from './rich'

/** A work as it is cited, to be copied: as the list has it, and as a text does. */
export function CiteWork({ work }: { work: number }) {
  const { inquiry } = useHere()
  const [isMailing, setMailing] = useState(false)
  const cited = useOf(inquiry.id, api.citation, { params: { work } })
  if (cited.isPending) return <Text color="soft">Setting it …</Text>
  if (cited.isError) return <Text color="rust">{cited.error.message}</Text>
  const { citation, inText } = cited.data
  const whole = `<main><p>${toHtml(citation)}</p></main>`
  return (
    <>
      <Text fontFamily="serif" fontSize="14.5px" lineHeight="21px" overflowWrap="anywhere">
        <Rich runs={citation} />
      </Text>
      <Flex gap="6px" mt="4px" wrap="wrap" align="center">
        <Button
          size="2xs"
          variant="outline"
          onClick={() => void copyRich(whole, plainText(citation), 'Copied as the list has it.')}
        >
          Copy it
        </Button>
        <Button size="2xs" variant="outline" onClick={() => void copyText(inText, 'Copied as a text has it.')}>
          Copy {inText.length > 40 ? 'as in a text' : inText}
        </Button>
        <Button size="2xs" variant="outline" onClick={() => setMailing(true)}>
          Mail it …
        </Button>
        {isMailing && <LetterDialog works={[work]} close={() => setMailing(false)} />}
      </Flex>
    </>
  )
}
