import { Button, Menu, Portal } from '@chakra-ui/react'
import { ChevronDown } from 'lucide-react'
import { api } from '../../../core/schema/api'
import { call, placeOf } from '../../api/client'
import { useHere } from '../../frame/inquiry-frame'
import { tell, tellError } from '../../frame/parts'

const formats = [
  { key: 'docx', name: 'Word processor document (.docx)' },
  { key: 'html', name: 'Web page (.html)' },
  { key: 'markdown', name: 'Markdown (.md)' },
  { key: 'bibtex', name: 'BibTeX (.bib)' },
  { key: 'ris', name: 'RIS (.ris)' },
  { key: 'csl', name: 'CSL-JSON (.json)' },
]

/** The bibliography as a file, with what its format cannot carry. */
export function HandIn({ style, empty }: { style: string; empty: boolean }) {
  const { inquiry } = useHere()
  const sayLosses = async (format: 'bibtex' | 'ris') => {
    const lost = await call(api.losses, { params: { inquiry: inquiry.id }, query: { format } })
    const name = format === 'bibtex' ? 'BibTeX' : 'RIS'
    const fields = [...new Set(lost.flatMap(l => l.fields))].join(', ')
    tell(
      lost.length
        ? `${lost.length} ${lost.length === 1 ? 'entry loses' : 'entries lose'} what ${name} cannot carry: ${fields}.`
        : 'Written without loss.',
    )
  }
  const give = async (format: string) => {
    try {
      const answer = await fetch(`/api${placeOf(api.handIn, { inquiry: inquiry.id }, { format, style })}`)
      if (!answer.ok) throw new Error(((await answer.json()) as { title: string }).title)
      const name = decodeURIComponent(
        /filename\*=UTF-8''([^;]+)/.exec(answer.headers.get('content-disposition') ?? '')?.[1] ?? 'bibliography',
      )
      const a = document.createElement('a')
      a.href = URL.createObjectURL(await answer.blob())
      a.download = name
      a.click()
      URL.revokeObjectURL(a.href)
      if (format === 'bibtex' || format === 'ris') await sayLosses(format)
    } catch (e) {
      tellError(e)
    }
  }
  return (
    <Menu.Root positioning={{ placement: 'bottom-end' }}>
      <Menu.Trigger asChild>
        <Button colorPalette="vine" size="sm" disabled={empty}>
          Hand in as <ChevronDown size={15} />
        </Button>
      </Menu.Trigger>
      <Portal>
        <Menu.Positioner>
          <Menu.Content>
            {formats.map(f => (
              <Menu.Item key={f.key} value={f.key} onClick={() => void give(f.key)}>
                {f.name}
              </Menu.Item>
            ))}
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  )
}
