import { type Family, type Prefix, parsePrefix } from '../../address';
import { type Block, type Plan } from '../../plan';
import { entriesById } from '../../topology';

/** A prefix of a block of the plan, in either family. */
export interface PlacedPrefix {
  readonly id: string;
  readonly block: Block;
  readonly property: 'prefix' | 'prefix6';
  readonly family: Family;
  readonly prefix: Prefix;
}
export const prefixesOf = ({ blocks }: Plan): PlacedPrefix[] =>
  entriesById(blocks).flatMap(([id, block]) =>
    (['prefix', 'prefix6'] as const).flatMap((property) => {
      const text = block[property];
      const read = text === undefined ? null : parsePrefix(text);
      return read?.ok ? [{ id, block, property, family: read.value.family, prefix: read.value }] : [];
    }),
  );
