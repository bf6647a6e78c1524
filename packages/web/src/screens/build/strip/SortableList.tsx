import { DndContext, type DragEndEvent, PointerSensor, closestCenter, useSensor, useSensors } from '@dnd-kit/core';
import { SortableContext, verticalListSortingStrategy } from '@dnd-kit/sortable';
import type { ReactNode } from 'react';

interface SortableListProps {
  ids: readonly string[];
  onMove: (from: number, to: number) => void;
  children: ReactNode;
}

/**
 * Rows that a pointer drags into another order. Keys do the same with Alt and an arrow, for the chosen row.
 */
export function SortableList({ ids, onMove, children }: SortableListProps) {
  // A click must stay a click: dragging starts after four pixels.
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }));
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (over && over.id !== active.id) onMove(ids.indexOf(String(active.id)), ids.indexOf(String(over.id)));
  };
  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
      <SortableContext items={[...ids]} strategy={verticalListSortingStrategy}>
        {children}
      </SortableContext>
    </DndContext>
  );
}
