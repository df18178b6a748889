/**
 * The assignment of rows to columns with the largest total value, each column at most once (Hungarian method with
 * potentials, Kuhn 1955, in the shortest-augmenting-path form of Jonker and Volgenant 1987; O(rows² · columns)).
 * A row may stay without a column at value 0: give hopeless pairs a value of 0 or less.
 * @param value row-major, rows × columns
 * @returns for each row its column, or -1
 */
export function assign(rows: number, columns: number, value: (row: number, column: number) => number): number[] {
  // One dummy column a row takes those for whom nothing is left. Costs are negated values; index 0 is the sentinel.
  const width = columns + rows;
  const cost = (row: number, column: number): number => (column < columns ? -Math.max(0, value(row, column)) : 0);
  const rowPotential = new Float64Array(rows + 1);
  const columnPotential = new Float64Array(width + 1);
  const rowAt = new Int32Array(width + 1);
  for (let row = 1; row <= rows; row++) {
    const before = new Int32Array(width + 1);
    const shortest = new Float64Array(width + 1).fill(Infinity);
    const done = new Uint8Array(width + 1);
    rowAt[0] = row;
    let column = 0;
    do {
      done[column] = 1;
      const at = rowAt[column]!;
      let delta = Infinity;
      let next = 0;
      for (let j = 1; j <= width; j++) {
        if (done[j]) continue;
        const reduced = cost(at - 1, j - 1) - rowPotential[at]! - columnPotential[j]!;
        if (reduced < shortest[j]!) {
          shortest[j] = reduced;
          before[j] = column;
        }
        if (shortest[j]! < delta) {
          delta = shortest[j]!;
          next = j;
        }
      }
      for (let j = 0; j <= width; j++)
        if (done[j]) {
          rowPotential[rowAt[j]!]! += delta;
          columnPotential[j]! -= delta;
        } else shortest[j]! -= delta;
      column = next;
    } while (rowAt[column] !== 0);
    while (column !== 0) {
      const previous = before[column]!;
      rowAt[column] = rowAt[previous]!;
      column = previous;
    }
  }
  const result = new Array<number>(rows).fill(-1);
  for (let j = 1; j <= columns; j++) if (rowAt[j]) result[rowAt[j]! - 1] = j - 1;
  return result.map((column, row) => (column >= 0 && value(row, column) > 0 ? column : -1));
}
