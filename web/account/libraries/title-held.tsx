import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { object, string } from 'yup'
import { api } from '../../../core/schema/api'
import { call } from '../../api/client'
import { Line, useShaped } from '../../frame/form'

const shape = object({
  number: string().trim().required('An ISSN or an ISBN.').max(40),
  year: string()
    .trim()
    .matches(/^\d{4}$/, { message: 'A year has four digits.', excludeEmptyString: true })
    .default(''),
})

/** Whether a library holds a journal or a book, with the sentences that say why. */
export function TitleHeld({ library }: { library: string }) {
  const [said, setSaid] = useState<readonly string[]>()
  const { form, submit, busy, trouble } = useShaped(
    shape,
    { number: '', year: '' },
    async query => setSaid((await call(api.titleHeld, { params: { library }, query })).said),
    { stays: true },
  )
  return (
    <chakra.form onSubmit={e => (e.preventDefault(), submit())} noValidate>
      <Flex gap="8px" align="flex-start" wrap="wrap" maxW="420px">
        <Line form={form} name="number" label="ISSN or ISBN" size="sm" w="160px" />
        <Line form={form} name="year" label="of the year" size="sm" w="90px" />
        <Button type="submit" size="sm" variant="outline" loading={busy} mt="26px">
          Look it up
        </Button>
      </Flex>
      <Box role="status" mt="4px">
        {trouble && <Text color="rust">{trouble.message}</Text>}
        {said?.map((s, i) => (
          <Text key={i}>{s}</Text>
        ))}
      </Box>
    </chakra.form>
  )
}
