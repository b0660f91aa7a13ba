import { Box, Button, Checkbox, chakra, Field, Flex, Stack, Text } from '@chakra-ui/react'
import { Controller } from 'react-hook-form'
import { api, type PlanInFull } from '../../../core/schema/api'
import { rhythmShape } from '../../../core/schema/api/plan'
import { useChange } from '../../api/hooks'
import { Line, useShaped } from '../../frame/form'
import { useHere } from '../../frame/inquiry-frame'
import { Heading, Notice, tell } from '../../frame/parts'

const WEEK = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']

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
                    {WEEK.map((name, i) => {
                      const isOn = field.value.includes(i + 1)
                      return (
                        <Button
                          key={name}
                          size="xs"
                          w="34px"
                          minW="0"
                          px="0"
                          borderColor="line"
                          variant={isOn ? 'solid' : 'outline'}
                          colorPalette={isOn ? 'slate' : undefined}
                          aria-pressed={isOn}
                          aria-label={name}
                          title={name}
                          onClick={() =>
                            field.onChange(
                              isOn
                                ? field.value.filter(d => d !== i + 1)
                                : [...field.value, i + 1].sort((a, b) => a - b),
                            )
                          }
                        >
                          {name.slice(0, 2)}
                        </Button>
                      )
                    })}
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
            <Controller
              control={form.control}
              name="timed"
              render={({ field }) => (
                <Checkbox.Root
                  checked={field.value}
                  disabled={disabled}
                  onCheckedChange={e => field.onChange(e.checked === true)}
                  size="sm"
                  colorPalette="vine"
                  alignItems="flex-start"
                >
                  <Checkbox.HiddenInput />
                  <Checkbox.Control mt="2px" />
                  <Checkbox.Label fontWeight="400" lineHeight="19px">
                    Time my reading
                    <Text fontSize="12.5px" color="soft" lineHeight="17px">
                      How long a page is before you while you read. Only your plan uses it; switched off, it is
                      forgotten.
                    </Text>
                  </Checkbox.Label>
                </Checkbox.Root>
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
