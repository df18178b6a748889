import { type Command, type Topology, entryOf } from '../topology';
import { type Position } from './place';

/** Bends a link at some places; none make it straight. */
export const bend = (id: string, bends: readonly Position[]): Command => ({
  kind: 'setLink',
  id,
  set: { bends: bends.length ? [...bends] : null },
});

/** Moves the text at one end of a link from where it would stand; null puts it back there. */
export function moveLabel({ links }: Topology, id: string, end: 'a' | 'b', offset: Position | null): Command {
  const { [end]: _old, ...others } = entryOf(links, id)?.labelOffsets ?? {};
  const labelOffsets = { ...others, ...(offset && { [end]: offset }) };
  return { kind: 'setLink', id, set: { labelOffsets: Object.keys(labelOffsets).length ? labelOffsets : null } };
}
