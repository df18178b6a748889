import { type Command, type Note, type Topology, entryOf } from '../topology';
import { type Position } from './place';

/** What a note hangs on. */
export type NoteAnchor = NonNullable<Note['anchor']>;

/** Where a note stands beside what it hangs on. */
const BESIDE: Position = { x: 60, y: -56 };
const rounded = ({ x, y }: Position): Position => ({ x: Math.round(x), y: Math.round(y) });

/** A new note without a text, that hangs on something or stands at a place. */
export const addNote = (id: string, at: Position, anchor?: NoteAnchor): Command => ({
  kind: 'setNote',
  id,
  set: { text: '', at: anchor ? BESIDE : rounded(at), ...(anchor && { anchor }) },
});

/** Hangs a note on something, or takes it off: then it stands at the corner of the drawing. */
export const hangNote = (id: string, anchor: NoteAnchor | null): Command => ({
  kind: 'changeNote',
  id,
  set: { anchor, at: anchor ? BESIDE : { x: 0, y: 0 } },
});

/** Moves a note by a step; none where it is gone. */
export function moveNote({ notes }: Topology, id: string, by: Position): Command[] {
  const note = entryOf(notes, id);
  return note ? [{ kind: 'changeNote', id, set: { at: rounded({ x: note.at.x + by.x, y: note.at.y + by.y }) } }] : [];
}
