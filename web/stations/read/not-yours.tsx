import { Button } from '@chakra-ui/react'
import { Link } from 'react-router'
import type { Opening } from '../../../core/access/copy-rights'
import { useHere } from '../../frame/inquiry-frame'
import { Empty } from '../../frame/parts'

/** A copy that is here by another's right, or whose time is over: what is left of it, and the way to one of one's own. */
export function NotYours({
  copy: { title, opening, passages, work },
}: {
  copy: { title: string; work: number; opening: Opening; passages: number }
}) {
  const { inquiry } = useHere()
  const at = `/inquiries/${inquiry.id}`
  return (
    <Empty
      title={`“${title}” does not open for you`}
      action={
        <>
          <Button asChild colorPalette="vine" size="sm">
            <Link to={`${at}/obtain?work=${work}`}>Ways to its text</Link>
          </Button>
          {passages > 0 && (
            <Button asChild variant="outline" size="sm">
              <Link to={`${at}/read?view=passages`}>What was noted</Link>
            </Button>
          )}
        </>
      }
    >
      {opening.said}
    </Empty>
  )
}
