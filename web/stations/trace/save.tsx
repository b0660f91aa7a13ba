import { Button, Menu, Portal } from '@chakra-ui/react'
import type { RefObject } from 'react'
import { useHere } from '../../frame/inquiry-frame'
import { savePicture } from '../../frame/save-picture'

/** The trails as files: the drawing as it stands, the citations as a table, the graph for other programs. */
export function SaveTrails({ drawing, isDrawn }: { drawing: RefObject<SVGSVGElement | null>; isDrawn: boolean }) {
  const { inquiry } = useHere()
  const at = `/api/inquiries/${inquiry.id}`
  return (
    <Menu.Root positioning={{ placement: 'bottom-end' }}>
      <Menu.Trigger asChild>
        <Button size="xs" variant="ghost">
          Save …
        </Button>
      </Menu.Trigger>
      <Portal>
        <Menu.Positioner>
          <Menu.Content minW="230px">
            {isDrawn && (
              <Menu.Item value="picture" onClick={() => drawing.current && savePicture('trellis.svg', drawing.current)}>
                The trellis as it is drawn (SVG)
              </Menu.Item>
            )}
            <Menu.Item value="table" asChild>
              <a href={`${at}/citations.csv`} download>
                All citations as a table (CSV)
              </a>
            </Menu.Item>
            <Menu.Item value="graph" asChild>
              <a href={`${at}/graph.graphml`} download>
                The graph for other programs (GraphML)
              </a>
            </Menu.Item>
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  )
}
