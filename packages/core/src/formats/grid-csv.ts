import Papa from 'papaparse';
import { formatAddress } from '../address';
import { type Grid, type GridRequest, type NetworkModel, pairsWithReasons } from '../engine';
import { textCell } from './csv-tables';

/** A reach grid as a table: a row for whoever sends, a column for whoever is asked. */
export function writeGrid(grid: Grid): string {
  const heads = grid.rows.map((row) => textCell(row.name));
  const lines = grid.rows.map(({ name }, row) => [
    textCell(name),
    ...grid.rows.map((_column, column) => cellWords(grid, row, column)),
  ]);
  return `${Papa.unparse([['from \\ to', ...heads], ...lines], { newline: '\r\n' })}\r\n`;
}

/** Every pair of a grid as a line, with what comes of it and why. */
export function writePairs(model: NetworkModel, request: GridRequest): string {
  const name = (id: string): string => textCell(model.instances.get(id)?.name ?? id);
  const lines = [...pairsWithReasons(model, request)].map(({ from, target, answer, reason }) => [
    name(from),
    name(target.device),
    formatAddress(target.address),
    answer,
    reason?.code ?? '',
    reason ? textCell(reason.text) : '',
  ]);
  return `${Papa.unparse([['from', 'to', 'address', 'answer', 'code', 'reason'], ...lines], { newline: '\r\n' })}\r\n`;
}

/** One cell in words: "yes", "no", "uncertain", or how many of how many; nothing where nothing is asked. */
export function cellWords({ rows, yes, no, unsure }: Grid, row: number, column: number): string {
  const at = row * rows.length + column;
  const [reached, failed, open] = [yes[at]!, no[at]!, unsure[at]!];
  const all = reached + failed + open;
  if (all === 0) return '';
  if (reached === all) return 'yes';
  if (failed === all) return 'no';
  if (reached + failed === 0) return 'uncertain';
  return `${reached} of ${all}${open ? `, ${open} uncertain` : ''}`;
}
