/** A place in a table, counted from 0. */
export interface Cell {
  row: number;
  column: number;
}
export interface Range {
  top: number;
  bottom: number;
  left: number;
  right: number;
}

export const rangeOf = (a: Cell, b: Cell): Range => ({
  top: Math.min(a.row, b.row),
  bottom: Math.max(a.row, b.row),
  left: Math.min(a.column, b.column),
  right: Math.max(a.column, b.column),
});
export const cellsOf = ({ top, bottom, left, right }: Range): Cell[] =>
  Array.from({ length: bottom - top + 1 }, (_row, row) =>
    Array.from({ length: right - left + 1 }, (_column, column) => ({ row: top + row, column: left + column })),
  ).flat();

/** A range as spreadsheets exchange it: tabs between cells, a new line after each row. */
export const tableText = ({ top, bottom, left, right }: Range, read: (cell: Cell) => string): string =>
  Array.from({ length: bottom - top + 1 }, (_row, row) =>
    Array.from({ length: right - left + 1 }, (_column, column) =>
      read({ row: top + row, column: left + column }).replace(/[\t\n]/g, ' '),
    ).join('\t'),
  ).join('\n');

/**
 * Where the cells of a pasted table go: from the upper left of a range on. One cell fills the whole range, and a table
 * is repeated as often as it fits into it.
 */
export function textsInto(range: Range, pasted: string): { cell: Cell; text: string }[] {
  const lines = pasted
    .replace(/\r\n?/g, '\n')
    .replace(/\n$/, '')
    .split('\n')
    .map((line) => line.split('\t'));
  const [height, width] = [lines.length, Math.max(...lines.map((line) => line.length))];
  const times = (room: number, size: number): number => Math.max(1, Math.floor(room / size));
  const down = times(range.bottom - range.top + 1, height);
  const across = times(range.right - range.left + 1, width);
  const target = {
    top: range.top,
    left: range.left,
    bottom: range.top + down * height - 1,
    right: range.left + across * width - 1,
  };
  return cellsOf(target).flatMap((cell) => {
    const text = lines[(cell.row - range.top) % height]![(cell.column - range.left) % width];
    return text === undefined ? [] : [{ cell, text: text.trim() }];
  });
}
