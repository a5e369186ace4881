import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  type UniqueIdentifier,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { SortableContext, sortableKeyboardCoordinates, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { GripVertical } from 'lucide-react';
import type { CSSProperties, ReactNode, Ref } from 'react';

/** What stands around the items of a list that can be put in another order, by dragging or with keys. */
export function Sortable<T>({
  items,
  idOf,
  nameOf,
  onOrder,
  children,
}: {
  items: readonly T[];
  idOf(item: T): string;
  /** As it is told to whoever does not see it move. */
  nameOf(item: T): string;
  onOrder(items: T[]): void;
  children: ReactNode;
}) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const placeOf = (id: UniqueIdentifier) => items.findIndex((i) => idOf(i) === id);
  function drop({ active, over }: DragEndEvent) {
    if (over && active.id !== over.id) onOrder(moved(items, placeOf(active.id), placeOf(over.id)));
  }
  const says = (id: UniqueIdentifier) => {
    const item = items[placeOf(id)];
    return item === undefined ? 'it' : nameOf(item);
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={drop}
      accessibility={{
        announcements: {
          onDragStart: ({ active }) => `Picked up ${says(active.id)}.`,
          onDragOver: ({ active, over }) => (over ? `${says(active.id)} is over the place of ${says(over.id)}.` : undefined),
          onDragEnd: ({ over }) => (over ? `Dropped at the place of ${says(over.id)}.` : 'Dropped where it was.'),
          onDragCancel: () => 'Left where it was.',
        },
      }}
    >
      <SortableContext items={items.map(idOf)} strategy={verticalListSortingStrategy}>
        {children}
      </SortableContext>
    </DndContext>
  );
}

/** The same with one of them at another place. */
export function moved<T>(items: readonly T[], from: number, to: number): T[] {
  const order = [...items];
  order.splice(to, 0, ...order.splice(from, 1));
  return order;
}

/** What one item of such a list puts on its element, and the handle by which it is moved. */
export function useSortableItem(
  id: string,
  name: string,
): { item: { ref: Ref<HTMLLIElement>; style: CSSProperties }; isDragging: boolean; handle: ReactNode } {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({ id });
  return {
    item: {
      ref: setNodeRef,
      style: { transform: transform ? `translate3d(0, ${Math.round(transform.y)}px, 0)` : undefined, transition: transition ?? undefined },
    },
    isDragging,
    handle: (
      <button
        type="button"
        ref={setActivatorNodeRef}
        {...attributes}
        {...listeners}
        aria-label={`Move ${name}`}
        className="grid h-8 w-8 flex-none cursor-grab touch-none place-items-center rounded text-soft hover:bg-hair"
      >
        <GripVertical className="h-4 w-4" />
      </button>
    ),
  };
}
