import { Button } from '@chakra-ui/react'
import { ChevronDown } from 'lucide-react'
import { useState } from 'react'
import { ChooseStyle, type ChosenStyle } from './choose-style'

/** The citation style as it is chosen; pressed, all styles. */
export function StyleField({
  value,
  onChange,
  size = 'md',
  disabled = false,
}: {
  value: ChosenStyle
  onChange: (to: ChosenStyle) => void
  size?: 'sm' | 'md'
  disabled?: boolean
}) {
  const [choosing, setChoosing] = useState(false)
  return (
    <>
      <Button
        variant="outline"
        size={size}
        bg="surface"
        w="full"
        px="12px"
        justifyContent="space-between"
        fontWeight={size === 'sm' ? '600' : '400'}
        disabled={disabled}
        aria-label={`Citation style: ${value.name}`}
        aria-haspopup="dialog"
        onClick={() => setChoosing(true)}
      >
        <span className="style-name">{value.name}</span>
        <ChevronDown size={16} />
      </Button>
      {choosing && (
        <ChooseStyle
          now={value}
          close={() => setChoosing(false)}
          choose={to => {
            setChoosing(false)
            onChange(to)
          }}
        />
      )}
    </>
  )
}
