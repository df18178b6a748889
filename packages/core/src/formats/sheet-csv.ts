import Papa from 'papaparse';
import { type Sheet } from '../bench';
import { type Topology } from '../topology';
import { textCell } from './csv-tables';

/** A table of the strip as CSV, with the headings it has on the screen. */
export function writeSheet(topology: Topology, sheet: Sheet): string {
  const rows = sheet.rows(topology).map((row) => sheet.columns.map((column) => column.read(topology, row)));
  const cell = (text: string): string => (text === '' ? '' : textCell(text));
  return `${Papa.unparse([sheet.columns.map((column) => column.label), ...rows.map((row) => row.map(cell))], { newline: '\r\n' })}\r\n`;
}
