import { Box, Field, Flex, Input, Text } from '@chakra-ui/react'
import type { ReactNode } from 'react'
import { useController, useWatch, type Control, type UseFormRegister } from 'react-hook-form'
import { KINDS } from '../../../core/appraise/kind'
import type { BriefInput } from '../../../core/schema/brief'
import { Several } from '../../frame/several'

/** A field of the form with its label and what is wrong with it. */
export function In({
  label,
  error,
  required,
  children,
}: {
  label: string
  error?: string | undefined
  required?: boolean
  children: ReactNode
}) {
  return (
    <Field.Root invalid={Boolean(error)} required={required ?? false}>
      <Field.Label fontSize="13px">{label}</Field.Label>
      {children}
      <Field.ErrorText>{error}</Field.ErrorText>
    </Field.Root>
  )
}

/** A line of what the assignment asks. */
export function Rule({ children, error, last }: { children: ReactNode; error?: string | undefined; last?: boolean }) {
  return (
    <Box px="16px" py="7px" borderBottom={last ? undefined : '1px solid'} borderColor="hair2">
      <Flex align="center" gap="8px" fontSize="14.5px" wrap="wrap">
        {children}
      </Flex>
      {error && (
        <Text fontSize="12.5px" color="rust">
          {error}
        </Text>
      )}
    </Box>
  )
}

/** What is a primary source depends on the question: asked as soon as some are wanted. */
export function PrimaryKinds({ control }: { control: Control<BriefInput> }) {
  const wanted = useWatch({ control, name: 'primaryAtLeast' })
  if (!Number(wanted)) return null
  return (
    <>
      , which here are{' '}
      <SeveralOf
        control={control}
        name="primaryKinds"
        of={KINDS.filter(k => k !== 'unknown')}
        inFull={k => `${k}: a primary source`}
      />{' '}
      (none chosen: images, recordings and data)
    </>
  )
}

/** The values of a field that may have several. */
export function SeveralOf<T extends string>({
  control,
  name,
  of,
  say,
  inFull,
}: {
  control: Control<BriefInput>
  name: 'languages' | 'kindsOut' | 'primaryKinds' | 'parts'
  of: readonly T[]
  say?: (value: T) => string
  inFull?: (value: T) => string
}) {
  const { field } = useController({ control, name })
  return (
    <Several
      of={of}
      chosen={(field.value ?? []) as T[]}
      choose={field.onChange}
      {...(say ? { say } : {})}
      {...(inFull ? { name: inFull } : {})}
    />
  )
}

/** A number within such a line. */
export function Num({
  form,
  name,
  label,
}: {
  form: UseFormRegister<BriefInput>
  name: keyof BriefInput
  label: string
}) {
  return (
    <Input {...form(name)} aria-label={label} inputMode="numeric" w="64px" size="sm" textAlign="center" bg="paper" />
  )
}
