import { byName } from '@sobrin/core';
import { type Sheet, type SheetColumn, type SheetRow } from '@sobrin/core/bench';
import { type Topology } from '@sobrin/core/topology';
import {
  type ColumnDef,
  type FilterFnOption,
  type Row,
  type SortingFnOption,
  type Table,
  getCoreRowModel,
  getFilteredRowModel,
  getSortedRowModel,
  useReactTable,
} from '@tanstack/react-table';
import { useMemo } from 'react';
import { speedWords } from '../../ui/speed-words';
import { type Facts } from '../../workers/facts';

declare module '@tanstack/react-table' {
  // oxlint-disable-next-line no-unused-vars -- the library's own parameters
  interface ColumnMeta<TData, TValue> {
    /** What of the drawing the column reads and writes. */
    sheet?: SheetColumn;
  }
}
export type SheetTable = Table<SheetRow>;

/** The rows of a sheet for the devices that are asked for, filtered, in the order and with the columns that were chosen. */
export function useSheetTable(
  topology: Topology,
  sheet: Sheet,
  { only, filter, facts }: { only: readonly string[] | null; filter: string; facts: Facts | null },
): SheetTable {
  // Rows remember what their columns said: they are made anew with them.
  const { columns, data } = useMemo(
    () => ({
      columns: [...sheet.columns, ...(sheet.id === 'links' && facts ? stateColumns(facts) : [])].map(
        (column): ColumnDef<SheetRow, string> => ({
          id: column.key,
          header: column.label,
          accessorFn: (row) => column.read(topology, row),
          sortingFn: byText,
          sortDescFirst: false,
          meta: { sheet: column },
        }),
      ),
      data: rowsOf(topology, sheet, only),
    }),
    [topology, sheet, only, facts],
  );
  return useReactTable({
    data,
    columns,
    state: { globalFilter: filter },
    autoResetPageIndex: false, // there are no pages
    getRowId: (row) => row.key,
    globalFilterFn: holdsWords,
    // The words may stand in different cells: a row is asked once, not cell by cell.
    getColumnCanGlobalFilter: (column) => column.id === columns[0]!.id,
    getCoreRowModel: getCoreRowModel(),
    getFilteredRowModel: getFilteredRowModel(),
    getSortedRowModel: getSortedRowModel(),
  });
}

const byText: SortingFnOption<SheetRow> = (a, b, column) => byName(a.getValue(column), b.getValue(column));

const holdsWords: FilterFnOption<SheetRow> = (row: Row<SheetRow>, _column: string, filter: string) => {
  const text = row
    .getAllCells()
    .map((cell) => cell.getValue<string>())
    .join(' ')
    .toLowerCase();
  return filter
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word));
};

function rowsOf(topology: Topology, sheet: Sheet, only: readonly string[] | null): SheetRow[] {
  const rows = sheet.rows(topology);
  if (!only) return rows;
  const asked = new Set(only);
  return rows.filter((row) => {
    if (row.device !== undefined) return asked.has(row.device);
    const { a, b } = topology.links[row.link!]!;
    return asked.has(a.device) || asked.has(b.device);
  });
}

/** What the engine says of a link, where the lab tells it. */
const stateColumns = (facts: Facts): SheetColumn[] => [
  {
    key: 'speed',
    label: 'Speed',
    width: 80,
    mono: true,
    read: (_topology, row) => {
      const speed = facts.links[row.link!]?.speedMbps;
      return speed ? speedWords(speed) : '–';
    },
  },
  {
    key: 'state',
    label: 'State and why',
    width: 320,
    read: (_topology, row) => {
      const fact = facts.links[row.link!];
      return fact?.state === 'up' ? fact.text || 'Passes traffic' : (fact?.text ?? '');
    },
  },
];
