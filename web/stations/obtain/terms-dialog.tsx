import { Box, Button, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { api } from '../../../core/schema/api'
import { call } from '../../api/client'
import { FormDialog } from '../../frame/form'
import { tellError } from '../../frame/parts'

/** The terms of a platform, as its page says them: they are the student's to accept, for a day. */
export function TermsDialog({
  host,
  text,
  fetch,
  close,
}: {
  host: string
  text: string
  fetch: () => void
  close: () => void
}) {
  const [busy, setBusy] = useState(false)
  const accept = async () => {
    setBusy(true)
    try {
      await call(api.acceptTerms, { body: { host } })
      close()
      fetch()
    } catch (e) {
      setBusy(false)
      tellError(e)
    }
  }
  return (
    <FormDialog
      title={`Terms of ${host}`}
      submit={() => void accept()}
      close={close}
      buttons={
        <>
          <Button variant="outline" onClick={close}>
            Not now
          </Button>
          <Button type="submit" colorPalette="vine" loading={busy}>
            I accept them, fetch
          </Button>
        </>
      }
    >
      <Box
        borderStart="3px solid"
        borderColor="amber"
        ps="12px"
        maxH="300px"
        overflow="auto"
        fontFamily="serif"
        fontSize="14px"
        lineHeight="20px"
        whiteSpace="pre-line"
        tabIndex={0}
        role="region"
        aria-label="The terms"
      >
        {text}
      </Box>
      <Text fontSize="13.5px" color="soft">
        Nobody accepts them for you. What you accept here stands for today; tomorrow you are asked again.
      </Text>
    </FormDialog>
  )
}
