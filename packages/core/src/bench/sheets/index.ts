import { plural } from '../../plural';
import { fail } from '../../result';
import { type Command, type Topology, applyBatch } from '../../topology';
import { ADDRESSES } from './addresses';
import { DEVICES } from './devices';
import { LINKS } from './links';
import { PORTS } from './ports';
import { type Sheet, type SheetColumn, type SheetRow } from './sheet';
import { VLANS } from './vlans';

export { SHEET_IDS, type Sheet, type SheetColumn, type SheetId, type SheetRow } from './sheet';

/** Every sheet, in the order in which they stand. */
export const SHEETS: readonly Sheet[] = [DEVICES, PORTS, LINKS, ADDRESSES, VLANS];

/** One cell with the text that is to stand in it. */
export interface CellText {
  readonly row: SheetRow;
  readonly column: SheetColumn;
  readonly text: string;
}

/**
 * Writes many cells as one change, each as if it were typed after the others. `refused` tells of every cell that cannot
 * take its text; the others are written all the same.
 */
export function writeCells(topology: Topology, cells: readonly CellText[]): { commands: Command[]; refused: string[] } {
  const commands: Command[] = [];
  const refused: string[] = [];
  let draft = topology;
  for (const { row, column, text } of cells) {
    if (column.read(draft, row) === text.trim()) continue;
    const written = column.write
      ? column.write(draft, row, text)
      : fail(`${column.label} is worked out and cannot be typed.`);
    const done = written.ok ? applyBatch(draft, 'a cell', written.value) : written;
    if (!done.ok) {
      refused.push(done.error);
      continue;
    }
    if (written.ok) commands.push(...written.value);
    draft = done.value.document;
  }
  return { commands, refused: [...new Set(refused)] };
}

/** The refusals of a paste in one sentence. */
export const refusedWords = (refused: readonly string[]): string =>
  refused.length === 1
    ? refused[0]!
    : `${plural(refused.length, 'cell')} could not take the text: ${refused.slice(0, 3).join(' ')}`;
