import './sheet-grid.css';
import { useVirtualizer } from '@tanstack/react-virtual';
import { type CellText, type SheetColumn, type SheetRow } from '@sobrin/core/bench';
import { type Topology } from '@sobrin/core/topology';
import { type ClipboardEvent, type KeyboardEvent, useEffect, useId, useRef, useState } from 'react';
import { type Column } from '@tanstack/react-table';
import { announce } from '../../ui/announce';
import { latinKey } from '../../ui/keys/latin-key';
import { useShortcuts } from '../../ui/keys/shortcuts';
import { type Cell, type Range, cellsOf, rangeOf, tableText, textsInto } from './sheet-range';
import { type SheetTable } from './use-sheet-table';

const ROW = 24;
const SORTED = {
  asc: { aria: 'ascending', sign: ' ↑' },
  desc: { aria: 'descending', sign: ' ↓' },
  not: { aria: 'none', sign: '' },
} as const;
const sheetOf = (column: Column<SheetRow>): SheetColumn => column.columnDef.meta!.sheet!;

/**
 * A sheet as a grid of cells: arrow keys move, Shift takes a range, typing or Enter edits, copy and paste exchange ranges
 * with any spreadsheet, Ctrl D fills down, Delete empties.
 */
export function SheetGrid({
  title,
  topology,
  table,
  isChosen,
  onWrite,
  onPick,
  onTable,
}: {
  title: string;
  topology: Topology;
  table: SheetTable;
  /** Whether what a row is about is chosen in the drawing. */
  isChosen: (row: SheetRow) => boolean;
  onWrite: (title: string, cells: readonly CellText[]) => void;
  onPick: (rows: readonly SheetRow[]) => void;
  /** Several lines were pasted: whether they are a table of their own, which is taken elsewhere then. */
  onTable: (text: string) => Promise<boolean>;
}) {
  const { rows } = table.getRowModel();
  const columns = table.getVisibleLeafColumns();
  const box = useRef<HTMLDivElement>(null);
  const id = useId();
  const [anchor, setAnchor] = useState<Cell>({ row: 0, column: 0 });
  const [at, setAt] = useState<Cell>({ row: 0, column: 0 });
  const [draft, showDraft] = useState<string | null>(null);
  /** What is typed into the active cell; leaving the field after it was taken or given up takes nothing more. */
  const typing = useRef<string | null>(null);
  const setDraft = (text: string | null): void => {
    typing.current = text;
    showDraft(text);
  };
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    overscan: 8,
    // The head stands above the rows and stays in sight.
    scrollMargin: ROW,
    scrollPaddingStart: ROW,
  });
  const bounded = ({ row, column }: Cell): Cell => ({
    row: Math.max(0, Math.min(rows.length - 1, row)),
    column: Math.max(0, Math.min(columns.length - 1, column)),
  });
  const active = bounded(at);
  const range: Range = rangeOf(bounded(anchor), active);
  const read = (cell: Cell): string => rows[cell.row]!.getValue(columns[cell.column]!.id);
  // What is chosen in the drawing is shown; what is chosen here stays where it is.
  const firstChosen = rows.findIndex((row) => isChosen(row.original));
  useEffect(() => {
    if (firstChosen >= 0 && !box.current?.contains(document.activeElement)) virtual.scrollToIndex(firstChosen);
  }, [firstChosen, virtual]);
  const go = (to: Cell, extend = false): void => {
    const next = bounded(to);
    setAt(next);
    if (!extend) setAnchor(next);
    virtual.scrollToIndex(next.row);
    if (!rows.length) return;
    const { top, bottom } = rangeOf(extend ? bounded(anchor) : next, next);
    onPick(rows.slice(top, bottom + 1).map((row) => row.original));
  };
  const write = (what: string, texts: readonly { cell: Cell; text: string }[]): void =>
    onWrite(
      what,
      texts.flatMap(({ cell, text }) => {
        const [row, column] = [rows[cell.row], columns[cell.column]];
        return row && column ? [{ row: row.original, column: sheetOf(column), text }] : [];
      }),
    );
  const commit = (by: Cell): void => {
    const text = typing.current?.trim() ?? null;
    if (text === null) return;
    setDraft(null);
    if (text !== read(active)) write('change a cell', [{ cell: active, text }]);
    box.current?.focus();
    go({ row: active.row + by.row, column: active.column + by.column });
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    if (draft !== null || !rows.length) return;
    const page = Math.max(1, Math.floor((box.current?.clientHeight ?? 0) / ROW) - 2);
    const step: Record<string, Cell> = {
      ArrowUp: { row: -1, column: 0 },
      ArrowDown: { row: 1, column: 0 },
      ArrowLeft: { row: 0, column: -1 },
      ArrowRight: { row: 0, column: 1 },
      PageUp: { row: -page, column: 0 },
      PageDown: { row: page, column: 0 },
      Home: { row: event.ctrlKey ? -rows.length : 0, column: -columns.length },
      End: { row: event.ctrlKey ? rows.length : 0, column: columns.length },
    };
    const by = step[event.key];
    const take = (run: () => void): void => {
      event.preventDefault();
      event.stopPropagation();
      run();
    };
    if (by) take(() => go({ row: active.row + by.row, column: active.column + by.column }, event.shiftKey));
    else if (event.key === 'Enter' || event.key === 'F2') take(() => edit(read(active)));
    else if (event.key === 'Delete' || event.key === 'Backspace')
      take(() =>
        write(
          'empty cells',
          cellsOf(range).map((cell) => ({ cell, text: '' })),
        ),
      );
    else if ((event.ctrlKey || event.metaKey) && latinKey(event).toLowerCase() === 'd')
      take(() =>
        write(
          'fill down',
          cellsOf(range).map((cell) => ({ cell, text: read({ row: range.top, column: cell.column }) })),
        ),
      );
    else if ((event.ctrlKey || event.metaKey) && latinKey(event).toLowerCase() === 'a')
      take(() => {
        setAnchor({ row: 0, column: 0 });
        setAt({ row: rows.length - 1, column: columns.length - 1 });
      });
    else if (event.key.length === 1 && !event.ctrlKey && !event.metaKey && !event.altKey) take(() => edit(event.key));
  };
  useShortcuts([
    {
      id: 'sort',
      text: 'Sort the sheet by the column of the cell',
      keys: 'F9',
      off: !rows.length,
      run: () => {
        const { label } = sheetOf(columns[active.column]!);
        columns[active.column]!.toggleSorting();
        announce(`Sorted by ${label}`);
      },
    },
  ]);
  const edit = (text: string): void => {
    if (sheetOf(columns[active.column]!).write) setDraft(text);
  };
  const onCopy = (event: ClipboardEvent): void => {
    if (draft !== null || !rows.length) return;
    event.preventDefault();
    event.clipboardData.setData('text/plain', tableText(range, read));
  };
  const onPaste = (event: ClipboardEvent): void => {
    if (draft !== null) return;
    event.preventDefault();
    const text = event.clipboardData.getData('text/plain');
    const put = (): void => void (rows.length && write('paste cells', textsInto(range, text)));
    // With headings it is a table to be read, not cells that happen to lie side by side.
    if (text.includes('\n')) void onTable(text).then((isTaken) => !isTaken && put());
    else put();
  };
  const row = rows[active.row];
  const choices = row && sheetOf(columns[active.column]!).choices?.(topology, row.original);
  return (
    <div
      ref={box}
      className="sheet-grid"
      role="grid"
      tabIndex={0}
      aria-label={title}
      aria-rowcount={rows.length + 1}
      aria-colcount={columns.length}
      aria-multiselectable
      aria-activedescendant={rows.length ? `${id}-${active.row}-${active.column}` : undefined}
      onKeyDown={onKeyDown}
      onCopy={onCopy}
      onPaste={onPaste}
    >
      <div
        className="sheet-row sheet-head"
        role="row"
        aria-rowindex={1}
        style={{ width: 'max-content', minWidth: '100%' }}
      >
        {columns.map((column) => (
          <div
            key={column.id}
            role="columnheader"
            className="sheet-cell"
            style={{ width: sheetOf(column).width }}
            aria-sort={SORTED[column.getIsSorted() || 'not'].aria}
            title="Sort by it (F9 in a cell)"
            onClick={column.getToggleSortingHandler()}
          >
            {sheetOf(column).label}
            {SORTED[column.getIsSorted() || 'not'].sign}
          </div>
        ))}
      </div>
      <div
        role="rowgroup"
        style={{ height: virtual.getTotalSize(), position: 'relative', width: 'max-content', minWidth: '100%' }}
      >
        {virtual.getVirtualItems().map(({ index, start }) => {
          const row = rows[index];
          if (!row) return null;
          return (
            <div
              key={row.id}
              role="row"
              aria-rowindex={index + 2}
              aria-selected={isChosen(row.original)}
              className={`sheet-row${isChosen(row.original) ? ' chosen' : ''}`}
              style={{ position: 'absolute', top: start - ROW, left: 0, minWidth: '100%' }}
            >
              {row.getVisibleCells().map((cell, nth) => {
                const column = sheetOf(cell.column);
                const text = cell.getValue<string>();
                const isActive = index === active.row && nth === active.column;
                const inRange = index >= range.top && index <= range.bottom && nth >= range.left && nth <= range.right;
                const single = range.top === range.bottom && range.left === range.right;
                return (
                  <div
                    key={column.key}
                    id={`${id}-${index}-${nth}`}
                    role="gridcell"
                    aria-readonly={!column.write}
                    className={`sheet-cell${column.mono ? ' mono' : ''}${column.write ? '' : ' fixed'}${isActive ? ' active' : ''}${inRange && !single ? ' in-range' : ''}`}
                    style={{ width: column.width }}
                    title={text}
                    onMouseDown={(event) => {
                      if (draft !== null) return;
                      go({ row: index, column: nth }, event.shiftKey);
                    }}
                    onMouseEnter={(event) =>
                      event.buttons === 1 && draft === null && go({ row: index, column: nth }, true)
                    }
                    onDoubleClick={() => edit(text)}
                  >
                    {isActive && draft !== null ? (
                      <CellInput
                        label={`${column.label} of row ${index + 1}`}
                        text={draft}
                        choices={choices}
                        onText={setDraft}
                        onCommit={commit}
                        onCancel={() => {
                          setDraft(null);
                          box.current?.focus();
                        }}
                      />
                    ) : (
                      text
                    )}
                  </div>
                );
              })}
            </div>
          );
        })}
      </div>
    </div>
  );
}

function CellInput({
  label,
  text,
  choices,
  onText,
  onCommit,
  onCancel,
}: {
  label: string;
  text: string;
  choices: readonly string[] | undefined;
  onText: (text: string) => void;
  onCommit: (by: Cell) => void;
  onCancel: () => void;
}) {
  const listId = useId();
  return (
    <>
      <input
        autoFocus
        aria-label={label}
        value={text}
        maxLength={500}
        list={choices && listId}
        onChange={(event) => onText(event.target.value)}
        onBlur={() => onCommit({ row: 0, column: 0 })}
        onKeyDown={(event) => {
          event.stopPropagation();
          const by =
            event.key === 'Enter'
              ? { row: event.shiftKey ? -1 : 1, column: 0 }
              : event.key === 'Tab'
                ? { row: 0, column: event.shiftKey ? -1 : 1 }
                : null;
          if (by) {
            event.preventDefault();
            onCommit(by);
          }
          if (event.key === 'Escape') onCancel();
        }}
      />
      {choices && (
        <datalist id={listId}>
          {choices.map((choice) => (
            <option key={choice} value={choice} />
          ))}
        </datalist>
      )}
    </>
  );
}
