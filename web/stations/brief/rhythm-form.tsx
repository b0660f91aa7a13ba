import { Box, Button, chakra, Field, Flex, Stack, Text } from '@chakra-ui/react'
import { Controller } from 'react-hook-form'
import { api, type PlanInFull } from '../../../core/schema/api'
import { rhythmShape } from '../../../core/schema/api/plan'
import { SURE } from '../../../core/write/plan'
import { useChange } from '../../api/hooks'
import { Choice, Line, useShaped } from '../../frame/form'
import { useHere } from '../../frame/inquiry-frame'
import { Heading, Notice, tell, Tick } from '../../frame/parts'
import { Several } from '../../frame/several'

const WEEK = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']
/** Days of the week (ISO 8601). */
const DAYS = WEEK.map((_, i) => i + 1)

/** How sure a loan has to be, in words. */
const SAID: Record<(typeof SURE)[number], string> = {
  0.5: 'as likely as not',
  0.8: '4 times of 5',
  0.9: '9 times of 10',
  0.95: '19 times of 20',
}

/** How the student works; what is left empty is taken from what was seen. */
export function RhythmForm({ plan, disabled }: { plan: PlanInFull; disabled: boolean }) {
  const { inquiry } = useHere()
  const save = useChange(inquiry.id, api.setRhythm, (body: PlanInFull['rhythm']) => ({ body }))
  const { form, submit, busy, trouble } = useShaped(
    rhythmShape,
    plan.rhythm,
    async values => {
      await save.mutateAsync(values)
      tell('The plan goes by this now.')
    },
    { stays: true },
  )
  const { page, entry } = plan.paces
  const shown = (minutes: number) => String(+minutes.toFixed(1))
  return (
    <Box as="section" aria-label="How you work">
      <Heading>How you work</Heading>
      <chakra.form onSubmit={e => (e.preventDefault(), submit())} noValidate>
        <chakra.fieldset disabled={disabled} border="0" p="0" m="0">
          <Stack gap="14px" bg="surface" border="1px solid" borderColor="hair" borderRadius="md" p="16px">
            <Line form={form} name="minutesADay" label="Minutes a day for this" inputMode="numeric" size="sm" />
            <Controller
              control={form.control}
              name="free"
              render={({ field, fieldState }) => (
                <Field.Root invalid={Boolean(fieldState.error)}>
                  <Text fontSize="14px" fontWeight="500" id="free-days">
                    Free days
                  </Text>
                  <Flex gap="4px" role="group" aria-labelledby="free-days">
                    <Several
                      of={DAYS}
                      chosen={field.value}
                      choose={field.onChange}
                      say={d => WEEK[d - 1]!.slice(0, 2)}
                      name={d => WEEK[d - 1]!}
                    />
                  </Flex>
                  <Field.ErrorText>{fieldState.error?.message}</Field.ErrorText>
                </Field.Root>
              )}
            />
            <Line form={form} name="spare" label="Spare days at the end" inputMode="numeric" size="sm" />
            <Line
              form={form}
              name="aPage"
              label="Minutes for a page"
              placeholder={`${shown(page.minutes)}, ${page.from === 'seen' ? `as seen of ${page.seen} pages` : 'guessed'}`}
              inputMode="decimal"
              size="sm"
            />
            <Line
              form={form}
              name="anEntry"
              label="Minutes for an annotation"
              placeholder={`${shown(entry.minutes)}, guessed`}
              inputMode="decimal"
              size="sm"
            />
            <Choice
              form={form}
              name="sure"
              label="A loan has to come in time"
              of={SURE}
              say={chance => SAID[chance]}
              help="It moves the last day to ask, “ask by”, and nothing else."
            />
            <Controller
              control={form.control}
              name="timed"
              render={({ field }) => (
                <Tick checked={field.value} set={field.onChange} disabled={disabled}>
                  Time my reading
                  <Text fontSize="12.5px" color="soft" lineHeight="17px">
                    How long a page is before you while you read. Only your plan uses it; switched off, it is forgotten.
                  </Text>
                </Tick>
              )}
            />
            {trouble && <Notice voice="rust">{trouble.message}</Notice>}
            {!disabled && (
              <Button type="submit" size="sm" colorPalette="vine" alignSelf="flex-start" loading={busy}>
                Plan by this
              </Button>
            )}
          </Stack>
        </chakra.fieldset>
      </chakra.form>
    </Box>
  )
}
