import {
  type Announcements,
  type DragEndEvent,
  type UniqueIdentifier,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  closestCenter,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { type ReactNode, useRef } from 'react';
import { flushSync } from 'react-dom';

/** Said of every handle. */
const INSTRUCTIONS = 'Space takes it up, arrow keys move it, Space puts it down, and Escape leaves it where it was.';

/**
 * A list that is put in order with the pointer, after a little way so that a click stays a click, or with the keyboard.
 * Its lines have a handle each, marked `data-sort-handle`; after a move the focus is at the handle of what was moved.
 */
export function SortableList({
  ids,
  nameOf,
  onMove,
  children,
}: {
  ids: readonly string[];
  /** What a line is called when it is heard. */
  nameOf: (id: string) => string;
  /** @param to where it stands then, counted without it */
  onMove: (from: number, to: number) => void;
  children: ReactNode;
}) {
  const list = useRef<HTMLDivElement>(null);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const placeOf = (id: UniqueIdentifier): string => `place ${ids.indexOf(String(id)) + 1} of ${ids.length}`;
  const announcements: Announcements = {
    onDragStart: ({ active }) => `${nameOf(String(active.id))}, ${placeOf(active.id)}, is taken up.`,
    onDragOver: ({ active, over }) =>
      over ? `${nameOf(String(active.id))} would be at ${placeOf(over.id)}.` : 'No place of the list.',
    onDragEnd: ({ active, over }) => `${nameOf(String(active.id))} is at ${placeOf((over ?? active).id)}.`,
    onDragCancel: ({ active }) => `${nameOf(String(active.id))} is left at ${placeOf(active.id)}.`,
  };
  const isMoving = useRef(false);
  const drop = ({ active, over, activatorEvent }: DragEndEvent): void => {
    isMoving.current = false;
    const to = ids.indexOf(String((over ?? active).id));
    flushSync(() => {
      if (over && active.id !== over.id) onMove(ids.indexOf(String(active.id)), to);
    });
    if (activatorEvent instanceof KeyboardEvent)
      list.current?.querySelectorAll<HTMLElement>('[data-sort-handle]')[to]?.focus();
  };
  return (
    <div
      ref={list}
      onKeyDown={(event) => {
        // Escape ends the move, and not the panel round it as well.
        if (event.key === 'Escape' && isMoving.current) event.preventDefault();
      }}
    >
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragStart={() => {
          isMoving.current = true;
        }}
        onDragCancel={() => {
          isMoving.current = false;
        }}
        onDragEnd={drop}
        accessibility={{
          announcements,
          screenReaderInstructions: { draggable: INSTRUCTIONS },
          restoreFocus: false,
        }}
      >
        <SortableContext items={[...ids]} strategy={verticalListSortingStrategy}>
          {children}
        </SortableContext>
      </DndContext>
    </div>
  );
}
