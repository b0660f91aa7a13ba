import { Button } from '@chakra-ui/react'

/** Any of a few values, each a button that stays pressed. */
export function Several<T extends string | number>({
  of,
  chosen,
  choose,
  say = String,
  name,
}: {
  of: readonly T[]
  chosen: readonly T[]
  choose: (chosen: T[]) => void
  say?: (value: T) => string
  /** In full, where what is said is short. */
  name?: (value: T) => string
}) {
  return (
    <>
      {of.map(v => {
        const isOn = chosen.includes(v)
        return (
          <Button
            key={v}
            size="2xs"
            variant={isOn ? 'solid' : 'outline'}
            colorPalette={isOn ? 'slate' : undefined}
            borderColor={isOn ? undefined : 'line'}
            aria-pressed={isOn}
            {...(name ? { 'aria-label': name(v), title: name(v) } : {})}
            onClick={() => choose(isOn ? chosen.filter(x => x !== v) : of.filter(x => x === v || chosen.includes(x)))}
          >
            {say(v)}
          </Button>
        )
      })}
    </>
  )
}
