import { Box, chakra, Flex } from '@chakra-ui/react'
import { useQueryClient } from '@tanstack/react-query'
import { Bold, Italic, List, ListOrdered, Subscript, Superscript, TextQuote, type LucideIcon } from 'lucide-react'
import { useState, type RefObject } from 'react'
import type { Citing, LineKind, Look, Written } from '../../../core/write/written'
import { useHere } from '../../frame/inquiry-frame'
import { Kbd, tellError } from '../../frame/parts'
import { toggleLines, toggleLook, type At } from '../../frame/writing/commands'
import { WrittenField, type FoundMark, type WritingDesk } from '../../frame/writing/written-field'
import { CiteHere, inTextOf } from './cite-here'
import { beforeEnd, draggedFrom, inOwn, type Left } from './left'

const LOOKS: [Look, string, LucideIcon][] = [
  ['emphasis', 'Emphasis', Italic],
  ['strong', 'Strong', Bold],
  ['raised', 'Raised', Superscript],
  ['lowered', 'Lowered', Subscript],
]
const LINES: [LineKind, string, LucideIcon][] = [
  ['quotation', 'Quotation by itself', TextQuote],
  ['bullet', 'List', List],
  ['number', 'Numbered list', ListOrdered],
]
const NOWHERE: At & { citing: Citing | undefined } = { looks: [], kind: null, citing: undefined }

/** A text of the list as it is written, with what can be done to it where it is open. */
export function Writing({
  value,
  write,
  label,
  placeholder,
  most,
  mayWrite,
  isOpen,
  opened,
  desk,
  marks,
  work,
  toReading,
  autoFocus,
}: {
  value: Written
  write: (value: Written) => void
  label: string
  placeholder: string
  /** Letters at most. */
  most: number
  mayWrite: boolean
  isOpen: boolean
  opened: () => void
  desk: RefObject<WritingDesk | null>
  marks?: readonly FoundMark[]
  /** The work that it is written about, which is cited first. */
  work?: number
  /** Goes over to what reading left. */
  toReading?: () => void
  autoFocus?: boolean
}) {
  const [at, setAt] = useState(NOWHERE)
  const [isCiting, setCiting] = useState(false)
  // whoever comes back finds the text, not a panel of before
  if (!isOpen && isCiting) setCiting(false)
  const { inquiry } = useHere()
  const client = useQueryClient()
  /** Puts in what reading left: in a text about another work, or about none, it is cited as its own. */
  const take = async (left: Left) => {
    if (left.work === work) return desk.current?.putIn(inOwn(left))
    const citing = { work: left.work, page: left.page, named: false }
    try {
      const said = await inTextOf(client, inquiry.id, citing)
      const { words, end } = beforeEnd(left)
      desk.current?.putIn(words, { citing, said, end })
    } catch (e) {
      tellError(e)
    }
  }
  const keys: Record<string, (() => void) | undefined> = { KeyP: toReading, KeyC: () => setCiting(true) }
  return (
    <>
      <Box mx="-6px">
        <WrittenField
          {...{ value, write, label, placeholder, most, mayWrite, desk }}
          {...(marks ? { marks } : {})}
          {...(autoFocus ? { autoFocus } : {})}
          tooLong={() => tellError(new Error(`There is room for ${most.toLocaleString('en')} letters here.`))}
          focused={opened}
          at={now => setAt(was => (isSame(was, now) ? was : now))}
          dropped={given => {
            const left = mayWrite ? draggedFrom(given) : undefined
            return left && (() => void take(left))
          }}
          pressed={code => {
            const act = mayWrite ? keys[code] : undefined
            act?.()
            return act !== undefined
          }}
        />
      </Box>
      {isOpen && mayWrite && (
        <Flex className="written-tools" role="toolbar" aria-label={`Looks of: ${label}`}>
          {LOOKS.map(([look, name, Icon]) => (
            <Tool
              key={look}
              name={name}
              isOn={at.looks.includes(look)}
              act={() => desk.current?.run(toggleLook(look))}
              Icon={Icon}
            />
          ))}
          {LINES.map(([kind, name, Icon]) => (
            <Tool
              key={kind}
              name={name}
              isOn={at.kind === kind}
              act={() => desk.current?.run(toggleLines(kind))}
              Icon={Icon}
            />
          ))}
          <chakra.button type="button" aria-expanded={isCiting} onClick={() => setCiting(c => !c)}>
            {at.citing ? 'Change what it cites' : 'Cite a work'} <Kbd>Alt</Kbd> <Kbd>C</Kbd>
          </chakra.button>
        </Flex>
      )}
      {isOpen && mayWrite && isCiting && (
        <CiteHere
          key={JSON.stringify(at.citing)}
          now={at.citing}
          first={work}
          put={(citing, said) => {
            setCiting(false)
            desk.current?.cite(citing, said)
          }}
          close={() => {
            setCiting(false)
            desk.current?.focus()
          }}
        />
      )}
    </>
  )
}

const isSame = (a: object, b: object): boolean => JSON.stringify(a) === JSON.stringify(b)

function Tool({ name, isOn, act, Icon }: { name: string; isOn: boolean; act: () => void; Icon: LucideIcon }) {
  return (
    <chakra.button
      type="button"
      aria-label={name}
      title={name}
      aria-pressed={isOn}
      // what is chosen in the text stays chosen
      onMouseDown={e => e.preventDefault()}
      onClick={act}
    >
      <Icon size={15} aria-hidden="true" />
    </chakra.button>
  )
}
