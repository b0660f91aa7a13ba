import { Button, Flex, Stack, Text } from '@chakra-ui/react'
import { mailOf, type Letter } from '../../core/access/letter'
import { copyText } from './clipboard'

/** A letter to be read over, and sent by one's own mail. */
export function LetterBox({ letter, to, name, hint }: { letter: Letter; to?: string; name: string; hint: string }) {
  const copy = () => copyText(letter.text, 'The letter: copied.')
  return (
    <Stack gap="8px">
      <Text
        whiteSpace="pre-wrap"
        wordBreak="break-word"
        fontFamily="serif"
        fontSize="13px"
        lineHeight="18px"
        borderStart="3px solid"
        borderColor="grape.line"
        ps="10px"
        maxH="200px"
        overflow="auto"
        tabIndex={0}
        role="region"
        aria-label={name}
      >
        {letter.text}
      </Text>
      <Flex gap="8px">
        <Button asChild size="xs" variant="outline">
          <a href={mailOf(letter, to)}>Write it in your mail</a>
        </Button>
        <Button size="xs" variant="ghost" onClick={() => void copy()}>
          Copy it
        </Button>
      </Flex>
      <Text fontSize="12.5px" lineHeight="17px" color="soft">
        {hint}
      </Text>
    </Stack>
  )
}
