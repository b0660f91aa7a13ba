import { Box } from '@chakra-ui/react'
import { closestCenter, DndContext, PointerSensor, useSensor, useSensors } from '@dnd-kit/core'
import { arrayMove, SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable'
import { GripVertical } from 'lucide-react'
import type { ReactNode } from 'react'

type Id = string | number

/** A list of which each row is dragged by its handle to another place. Keys move them besides, by what the row offers. */
export function Sortable<I extends Id>({
  ids,
  moved,
  children,
}: {
  ids: readonly I[]
  /** Told of the new order. */
  moved: (ids: I[]) => void
  children: ReactNode
}) {
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }))
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={({ active, over }) => {
        const [from, to] = [ids.indexOf(active.id as I), over ? ids.indexOf(over.id as I) : -1]
        if (from >= 0 && to >= 0 && from !== to) moved(arrayMove([...ids], from, to))
      }}
    >
      <SortableContext items={[...ids]} strategy={verticalListSortingStrategy}>
        {children}
      </SortableContext>
    </DndContext>
  )
}

/** A row of such a list, with its handle at the side. */
export function SortableRow({ id, name, children }: { id: Id; name: string; children: ReactNode }) {
  const { setNodeRef, listeners, transform, transition, isDragging } = useSortable({ id })
  // rows differ in height: they move, and are not stretched
  const at = transform ? `translate(0, ${Math.round(transform.y)}px)` : undefined
  return (
    <Box
      ref={setNodeRef}
      className="sortable-row"
      data-dragged={isDragging || undefined}
      style={{ ...(at ? { transform: at } : {}), ...(transition ? { transition } : {}) }}
    >
      <span {...listeners} className="sortable-handle" title={`Drag “${name}” to another place`} aria-hidden="true">
        <GripVertical size={15} />
      </span>
      {children}
    </Box>
  )
}
