import {
  type Active,
  type Announcements,
  type DragEndEvent,
  type UniqueIdentifier,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  closestCenter,
  useDroppable,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { type ReactNode, useMemo, useRef } from 'react';
import { flushSync } from 'react-dom';

/** Said of every handle. */
const INSTRUCTIONS = 'Space takes it up, arrow keys move it, Space puts it down, and Escape leaves it where it was.';

/** One of several lists between which lines are moved. */
export interface SortedList {
  readonly id: string;
  /** How it is called where there are several. */
  readonly name: string;
  readonly ids: readonly string[];
}

/** A list that is empty, as a place to put something down. */
const EMPTY = 'list ';

/**
 * Lists that are put in order with the pointer, after a little way so that a click stays a click, or with the keyboard;
 * what is carried beyond the end of one goes into the next. Their lines have a handle each, marked `data-sort-handle`;
 * after a move the focus is at the handle of what was moved. Each list stands in a {@link SortablePart}.
 */
export function SortableLists({
  lists,
  nameOf,
  onMove,
  children,
}: {
  lists: readonly SortedList[];
  /** What a line is called when it is heard. */
  nameOf: (id: string) => string;
  /** @param before the line that it stands before then; null at the end of the list */
  onMove: (id: string, list: string, before: string | null) => void;
  children: ReactNode;
}) {
  const root = useRef<HTMLDivElement>(null);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const listOf = (id: string): SortedList | undefined =>
    lists.find((list) => list.ids.includes(id) || EMPTY + list.id === id);
  const placeOf = (at: UniqueIdentifier, { id }: Active): string => {
    const list = listOf(String(at));
    if (!list) return 'no place';
    const nth = Math.max(0, list.ids.indexOf(String(at)));
    const many = new Set([...list.ids, id]).size;
    return `place ${nth + 1} of ${many}${lists.length > 1 ? `, ${list.name}` : ''}`;
  };
  const announcements: Announcements = {
    onDragStart: ({ active }) => `${nameOf(String(active.id))}, ${placeOf(active.id, active)}, is taken up.`,
    onDragOver: ({ active, over }) =>
      over ? `${nameOf(String(active.id))} would be at ${placeOf(over.id, active)}.` : 'No place of the list.',
    onDragEnd: ({ active, over }) => `${nameOf(String(active.id))} is at ${placeOf((over ?? active).id, active)}.`,
    onDragCancel: ({ active }) => `${nameOf(String(active.id))} is left at ${placeOf(active.id, active)}.`,
  };
  const isMoving = useRef(false);
  const drop = ({ active, over, activatorEvent }: DragEndEvent): void => {
    isMoving.current = false;
    const [id, at] = [String(active.id), String((over ?? active).id)];
    const [from, to] = [listOf(id), listOf(at)];
    if (!from || !to) return;
    const nth = to.ids.indexOf(at);
    // In its own list it takes the place of the other one, which moves up where it came from above.
    const isDown = from === to && from.ids.indexOf(id) < nth;
    const before = nth < 0 ? null : isDown ? (to.ids[nth + 1] ?? null) : at;
    const isMoved = over !== null && id !== at;
    if (isMoved) flushSync(() => onMove(id, to.id, before));
    if (!(activatorEvent instanceof KeyboardEvent)) return;
    // By its place: lines may be called by theirs.
    const order = lists.flatMap((list) => {
      const others = list.ids.filter((each) => each !== id || !isMoved);
      const place = before === null ? others.length : others.indexOf(before);
      return list === to && isMoved ? [...others.slice(0, place), id, ...others.slice(place)] : others;
    });
    root.current?.querySelectorAll<HTMLElement>('[data-sort-handle]')[order.indexOf(id)]?.focus();
  };
  return (
    <div
      ref={root}
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
        {children}
      </DndContext>
    </div>
  );
}

/** The lines of one of several lists. */
export function SortablePart({ list: { id, ids }, children }: { list: SortedList; children: ReactNode }) {
  const { setNodeRef, isOver } = useDroppable({ id: EMPTY + id, disabled: ids.length > 0 });
  // Lines look again where they stand whenever these are others.
  const items = useMemo(() => [...ids], [ids]);
  return (
    <SortableContext id={id} items={items} strategy={verticalListSortingStrategy}>
      <div
        ref={setNodeRef}
        style={ids.length ? undefined : { minHeight: 12, background: isOver ? 'var(--spruce-tint)' : undefined }}
      >
        {children}
      </div>
    </SortableContext>
  );
}

/** One list by itself. */
export function SortableList({
  ids,
  nameOf,
  onMove,
  children,
}: {
  ids: readonly string[];
  nameOf: (id: string) => string;
  /** @param to where it stands then, counted without it */
  onMove: (from: number, to: number) => void;
  children: ReactNode;
}) {
  const list: SortedList = { id: 'all', name: '', ids };
  return (
    <SortableLists
      lists={[list]}
      nameOf={nameOf}
      onMove={(id, _list, before) => {
        const others = ids.filter((each) => each !== id);
        onMove(ids.indexOf(id), before === null ? others.length : others.indexOf(before));
      }}
    >
      <SortablePart list={list}>{children}</SortablePart>
    </SortableLists>
  );
}
