import { Box, Button, chakra, Flex, Grid, Input, Stack, Text, Textarea } from '@chakra-ui/react'
import { yupResolver } from '@hookform/resolvers/yup'
import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useForm, useWatch, type Resolver } from 'react-hook-form'
import { Link, useNavigate, useSearchParams } from 'react-router'
import { KINDS } from '../../../core/appraise/kind'
import { LANGUAGE_CODES, sayLanguage } from '../../../core/query/languages'
import type { ReadRule } from '../../../core/write/assignment'
import { ANNOTATION_PARTS, PART_SAYS } from '../../../core/write/annotation-parts'
import { briefShape, type BriefInput } from '../../../core/schema/brief'
import { STYLES } from '../../../core/cite/styles'
import { ApiError, call } from '../../api/client'
import { useOf } from '../../api/hooks'
import { api, type Gate } from '../../../core/schema/api'
import { useHere } from '../../frame/inquiry-frame'
import { AskDialog } from '../../frame/ask-dialog'
import { Heading, Notice, tell, tellError } from '../../frame/parts'
import { Members } from './members'
import { PlanView } from './plan'
import { In, Num, PrimaryKinds, Rule, SeveralOf } from './brief-parts'
import { FromAssignment } from './from-assignment'
import { StyleField } from '../../frame/styles/style-field'
import { useLibraries } from '../../account/libraries/use-libraries'

const zone = Intl.DateTimeFormat().resolvedOptions().timeZone

const first: Partial<BriefInput> = {
  title: '',
  question: '',
  due: '',
  style: STYLES[0].id,
  language: null,
  zone,
  entriesWanted: null,
  refereedAtLeast: null,
  recentAtLeast: null,
  recentYears: null,
  booksAtMost: null,
  journalAtMost: null,
  perStrand: null,
  primaryAtLeast: null,
  primaryKinds: [],
  languages: [],
  notBefore: null,
  kindsOut: [],
  parts: [],
  wordsFrom: null,
  wordsTo: null,
}

export function NewInquiry() {
  const libraries = useLibraries()
  const go = useNavigate()
  const client = useQueryClient()
  const save = async (brief: BriefInput) => {
    const made = await call(api.beginInquiry, { body: brief })
    await client.invalidateQueries({ queryKey: ['inquiries'] })
    void go(`/inquiries/${made.id}/gather`)
  }
  return (
    <Box maxW="820px" mx="auto" px="24px" py="32px">
      <chakra.h1 fontFamily="serif" fontSize="28px" lineHeight="36px" fontWeight="600">
        A new inquiry
      </chakra.h1>
      <Text color="soft" mb="24px">
        The question is all it needs. Its name is taken from it, and what the assignment asks can be added when you know
        it.
      </Text>
      <BriefForm
        values={first}
        styleName={STYLES[0].name}
        libraries={libraries.query.data?.libraries.filter(l => l.chosen !== null)}
        save={save}
        word="Begin with Gather"
        back={() => void go('/')}
      />
    </Box>
  )
}

/** What is asked, and the time that is left for it. */
const VIEWS = ['asked', 'time', 'members'] as const

export function Brief() {
  const { inquiry } = useHere()
  const [search] = useSearchParams()
  const view = VIEWS.find(v => v === search.get('view')) ?? 'asked'
  const at = `/inquiries/${inquiry.id}/brief`
  return (
    <Flex direction="column" h="full" minH="0">
      <chakra.nav aria-label="Views of the brief" className="views">
        <Link to={at} aria-current={view === 'asked' ? 'page' : undefined}>
          What is asked
        </Link>
        <Link to={`${at}?view=time`} aria-current={view === 'time' ? 'page' : undefined}>
          Time for it
        </Link>
        <Link to={`${at}?view=members`} aria-current={view === 'members' ? 'page' : undefined}>
          Who is in it
        </Link>
      </chakra.nav>
      <Box flex="1" minH="0" overflow="auto">
        {view === 'time' ? <PlanView /> : view === 'members' ? <Members /> : <WhatIsAsked />}
      </Box>
    </Flex>
  )
}

function WhatIsAsked() {
  const { inquiry, mayWrite } = useHere()
  const client = useQueryClient()
  const go = useNavigate()
  const [asking, setAsking] = useState(false)
  const pool = useOf(inquiry.id, api.inquiry).data?.numbers.pool ?? 0
  const gates = useOf(inquiry.id, api.gates).data
  const save = async (brief: BriefInput) => {
    await call(api.changeBrief, { params: { inquiry: inquiry.id }, body: brief, version: inquiry.version })
    await client.invalidateQueries({ queryKey: ['inquiry', inquiry.id] })
    tell('The brief is saved.')
  }
  const remove = async () => {
    try {
      await call(api.endInquiry, { params: { inquiry: inquiry.id } })
      await client.invalidateQueries({ queryKey: ['inquiries'] })
      void go('/')
    } catch (e) {
      tellError(e)
    }
  }
  return (
    <Box maxW="820px" mx="auto" px="24px" py="28px">
      <chakra.h1 fontFamily="serif" fontSize="24px" lineHeight="32px" fontWeight="600">
        What is asked, and by when
      </chakra.h1>
      <Text color="soft" mb="20px">
        Every rule given here is checked while you work, and shown above the bibliography.
      </Text>
      <BriefForm
        key={inquiry.version}
        libraries={inquiry.libraries}
        gates={gates}
        values={
          {
            ...inquiry.rules,
            title: inquiry.title,
            question: inquiry.question,
            due: inquiry.due,
            zone: inquiry.zone,
            style: inquiry.style,
            language: inquiry.language,
          } as Partial<BriefInput>
        }
        styleName={inquiry.styleName}
        save={save}
        word="Save the brief"
        disabled={!mayWrite}
      />
      {mayWrite && (
        <Box mt="40px" pt="16px" borderTop="1px solid" borderColor="hair">
          <Button variant="ghost" size="sm" color="rust" onClick={() => setAsking(true)}>
            Delete this inquiry …
          </Button>
          <AskDialog
            open={asking}
            close={() => setAsking(false)}
            title={`Delete “${inquiry.title}”?`}
            leave="Keep it"
            word="Delete"
            go={() => void remove()}
          >
            Its {pool} works, decisions, copies, passages and annotations go with it. This cannot be undone; hand in or
            export first what you want to keep.
          </AskDialog>
        </Box>
      )}
    </Box>
  )
}

/** Which libraries are asked for its texts, and the way to choose others. */
function Asked({ libraries, gates = [] }: { libraries: readonly { name: string }[]; gates?: readonly Gate[] }) {
  const named = (is: boolean) => gates.filter(g => g.onCampus === is).map(g => g.name)
  const [on, off] = [named(true), named(false)]
  return (
    <Text fontSize="14px">
      <b>Texts come from</b> {[...libraries.map(l => l.name), 'open copies'].join(', then ')}.{' '}
      <Link className="plain-link" to="/libraries">
        Choose your libraries
      </Link>
      {gates.length > 0 && (
        <chakra.span display="block" color="soft" fontSize="13px" mt="2px">
          {on.length > 0 && `You are on the network of ${on.join(' and ')}: platforms open without a gate. `}
          {off.length > 0 && `You are off the network of ${off.join(' and ')}: platforms open through the gate.`}
        </chakra.span>
      )}
    </Text>
  )
}

function BriefForm({
  values,
  libraries,
  gates,
  styleName,
  save,
  word,
  back,
  disabled = false,
}: {
  values: Partial<BriefInput>
  styleName: string
  /** Undefined as long as they are not known. */
  libraries: readonly { name: string }[] | undefined
  gates?: readonly Gate[] | undefined
  save: (b: BriefInput) => Promise<void>
  word: string
  back?: () => void
  disabled?: boolean
}) {
  const form = useForm<BriefInput>({
    defaultValues: values,
    resolver: yupResolver(briefShape) as unknown as Resolver<BriefInput>,
  })
  const [isReading, setReading] = useState(false)
  /** Takes over what was read from an assignment; it is saved with the rest. */
  const takeOver = (all: ReadRule['sets'][]) => {
    for (const { style: read, due, languages, kindsOut, primaryKinds, parts, ...numbers } of all) {
      const known = STYLES.find(s => s.id === read)
      const now = {
        ...form.getValues(),
        ...numbers,
        ...(due ? { due } : {}),
        ...(languages ? { languages } : {}),
        ...(kindsOut ? { kindsOut } : {}),
        ...(primaryKinds ? { primaryKinds } : {}),
        ...(parts ? { parts } : {}),
        ...(known ? { style: known.id, language: null } : {}),
      }
      form.reset(now, { keepDefaultValues: true })
      if (known) setName(known.name)
    }
    tell('Taken over. Look it through, and save the brief.')
  }
  const [trouble, setTrouble] = useState<string>()
  const [name, setName] = useState(styleName)
  const [style = '', language = null] = useWatch({ control: form.control, name: ['style', 'language'] })
  const e = form.formState.errors
  const submit = form.handleSubmit(async brief => {
    setTrouble(undefined)
    try {
      await save(brief)
    } catch (error) {
      if (error instanceof ApiError)
        for (const f of error.fields) form.setError(f.field as keyof BriefInput, { message: f.said })
      setTrouble((error as Error).message)
    }
  })
  return (
    <chakra.form onSubmit={ev => void submit(ev)} noValidate>
      <chakra.fieldset disabled={disabled} border="0" p="0" m="0">
        <Stack gap="16px">
          <In label="The question" error={e.question?.message} required>
            <Textarea
              {...form.register('question')}
              rows={2}
              bg="surface"
              fontFamily="serif"
              fontSize="17px"
              placeholder="What do you want to find out?"
            />
          </In>
          <Grid templateColumns={{ base: '1fr', md: '2fr 1fr 1.3fr' }} gap="16px">
            <In label="A short name for it" error={e.title?.message}>
              <Input {...form.register('title')} bg="surface" placeholder="taken from the question" />
            </In>
            <In label="Due on" error={e.due?.message}>
              <Input {...form.register('due')} type="date" bg="surface" />
            </In>
            <In label="Citation style" error={e.style?.message}>
              <StyleField
                value={{ style, language, name }}
                disabled={disabled}
                onChange={to => {
                  setName(to.name)
                  form.setValue('style', to.style)
                  form.setValue('language', to.language)
                }}
              />
            </In>
          </Grid>
          {libraries && <Asked {...{ libraries }} {...(gates ? { gates } : {})} />}
          <Box pt="8px">
            <Heading aside="leave empty what is not asked">What the assignment asks</Heading>
            {!disabled && (
              <Button size="xs" variant="outline" bg="surface" mb="8px" onClick={() => setReading(true)}>
                Read it from the assignment’s text …
              </Button>
            )}
            {isReading && <FromAssignment take={takeOver} close={() => setReading(false)} />}
            <Stack gap="0" bg="surface" border="1px solid" borderColor="hair" borderRadius="md">
              <Rule error={e.entriesWanted?.message}>
                <Num form={form.register} name="entriesWanted" label="Number of entries" /> entries in all
              </Rule>
              <Rule error={e.refereedAtLeast?.message}>
                at least{' '}
                <Num form={form.register} name="refereedAtLeast" label="Least number of refereed research articles" />{' '}
                refereed research articles
              </Rule>
              <Rule error={e.recentAtLeast?.message ?? e.recentYears?.message}>
                at least <Num form={form.register} name="recentAtLeast" label="Least number of recent works" /> from the
                last <Num form={form.register} name="recentYears" label="Years that count as recent" /> years
              </Rule>
              <Rule error={e.booksAtMost?.message}>
                at most <Num form={form.register} name="booksAtMost" label="Most books or chapters" /> books or chapters
              </Rule>
              <Rule error={e.journalAtMost?.message}>
                at most <Num form={form.register} name="journalAtMost" label="Most from one journal" /> from one journal
              </Rule>
              <Rule error={e.perStrand?.message}>
                at least <Num form={form.register} name="perStrand" label="Least on each strand" /> on each strand
              </Rule>
              <Rule error={e.primaryAtLeast?.message ?? e.primaryKinds?.message}>
                at least <Num form={form.register} name="primaryAtLeast" label="Least number of primary sources" />{' '}
                primary sources
                <PrimaryKinds control={form.control} />
              </Rule>
              <Rule error={e.notBefore?.message}>
                nothing that appeared before{' '}
                <Num form={form.register} name="notBefore" label="Nothing before the year" />
              </Rule>
              <Rule error={e.languages?.message}>
                only in <SeveralOf control={form.control} name="languages" of={LANGUAGE_CODES} say={sayLanguage} />{' '}
                (none chosen: any)
              </Rule>
              <Rule error={e.kindsOut?.message}>
                never a <SeveralOf control={form.control} name="kindsOut" of={KINDS.filter(k => k !== 'unknown')} />
              </Rule>
              <Rule error={e.wordsFrom?.message ?? e.wordsTo?.message}>
                annotations of <Num form={form.register} name="wordsFrom" label="Least words of an annotation" /> to{' '}
                <Num form={form.register} name="wordsTo" label="Most words of an annotation" /> words
              </Rule>
              <Rule error={e.parts?.message} last>
                each annotation with{' '}
                <SeveralOf
                  control={form.control}
                  name="parts"
                  of={ANNOTATION_PARTS}
                  say={p => `${p}: ${PART_SAYS[p]}`}
                />
              </Rule>
            </Stack>
          </Box>
          {trouble && <Notice voice="rust">{trouble}</Notice>}
          <Flex gap="8px">
            <Button type="submit" colorPalette="vine" loading={form.formState.isSubmitting}>
              {word}
            </Button>
            {back && (
              <Button variant="ghost" onClick={back}>
                Back
              </Button>
            )}
          </Flex>
        </Stack>
      </chakra.fieldset>
    </chakra.form>
  )
}
