import { Box } from '@mui/material';
import { type Grid } from '@sobrin/core/engine';
import { cellWords } from '@sobrin/core/formats';
import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from 'react';

export interface Cell {
  row: number;
  column: number;
}
/** Widest names at the edges, and the smallest cells in which a sign can be made out. */
const [WIDEST_NAME, SIGN_FROM] = [132, 9];
const LETTER = 7;

interface Sight {
  left: number;
  top: number;
  width: number;
  height: number;
}

/**
 * A reach grid as a picture of cells: filled where all is reached, crossed out where nothing is, half filled where some
 * is, a ring where it is uncertain. The names stay in sight while one scrolls; the arrow keys walk it.
 */
export function GridMatrix({
  grid,
  changed,
  size,
  at,
  onAt,
}: {
  grid: Grid;
  /** Whether a cell is other than it was. */
  changed: ((cell: Cell) => boolean) | null;
  /** Of a cell, in pixels. */
  size: number;
  at: Cell;
  onAt: (cell: Cell) => void;
}) {
  const frame = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [sight, setSight] = useState<Sight>({ left: 0, top: 0, width: 0, height: 0 });
  const count = grid.rows.length;
  const names = Math.min(WIDEST_NAME, 16 + LETTER * Math.max(...grid.rows.map((row) => row.name.length)));
  const whole = names + count * size;
  const look = (): void => {
    const { scrollLeft: left, scrollTop: top, clientWidth: width, clientHeight: height } = frame.current!;
    setSight({ left, top, width, height });
  };
  useEffect(() => {
    const watcher = new ResizeObserver(look);
    watcher.observe(frame.current!);
    return () => watcher.disconnect();
  }, []);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context) return;
    const scale = window.devicePixelRatio || 1;
    canvas.current!.width = sight.width * scale;
    canvas.current!.height = sight.height * scale;
    context.scale(scale, scale);
    paint(context, getComputedStyle(canvas.current!), { grid, changed, size, at, names, sight });
  }, [grid, changed, size, at, names, sight]);
  /** Brings a cell into sight, beside the names. */
  const go = (cell: Cell): void => {
    onAt(cell);
    const box = frame.current!;
    const near = (scrolled: number, room: number, index: number): number =>
      Math.min(index * size, Math.max(scrolled, (index + 1) * size - (room - names)));
    box.scrollLeft = near(box.scrollLeft, box.clientWidth, cell.column);
    box.scrollTop = near(box.scrollTop, box.clientHeight, cell.row);
  };
  const inside = (value: number): number => Math.min(count - 1, Math.max(0, value));
  const onKeyDown = (event: KeyboardEvent): void => {
    const by = { ArrowDown: [1, 0], ArrowUp: [-1, 0], ArrowRight: [0, 1], ArrowLeft: [0, -1] }[event.key];
    const to = { Home: 0, End: count - 1 }[event.key];
    if (!by && to === undefined) return;
    event.preventDefault();
    go(by ? { row: inside(at.row + by[0]!), column: inside(at.column + by[1]!) } : { ...at, column: to! });
  };
  const onPointerDown = (event: PointerEvent<HTMLCanvasElement>): void => {
    const { left, top } = event.currentTarget.getBoundingClientRect();
    const [x, y] = [event.clientX - left, event.clientY - top];
    if (x < names || y < names) return;
    const cell = {
      row: Math.floor((y - names + sight.top) / size),
      column: Math.floor((x - names + sight.left) / size),
    };
    if (cell.row < count && cell.column < count) onAt(cell);
  };
  return (
    <Box
      ref={frame}
      tabIndex={0}
      role="application"
      aria-label={`Reach grid, ${count} by ${count}. The arrow keys walk it.`}
      aria-describedby="reach-cell"
      onKeyDown={onKeyDown}
      onScroll={look}
      sx={{
        flex: 1,
        minHeight: 0,
        overflow: 'auto',
        border: '1px solid var(--line)',
        borderRadius: '12px',
        '&:focus-visible': { outline: '2px solid var(--spruce)' },
      }}
    >
      <Box sx={{ width: whole, height: whole }}>
        <canvas
          ref={canvas}
          onPointerDown={onPointerDown}
          style={{
            position: 'sticky',
            top: 0,
            left: 0,
            width: sight.width,
            height: sight.height,
            display: 'block',
            cursor: 'crosshair',
          }}
        />
      </Box>
    </Box>
  );
}

interface Painted {
  grid: Grid;
  changed: ((cell: Cell) => boolean) | null;
  size: number;
  at: Cell;
  names: number;
  sight: Sight;
}

/** Only what is in sight: a grid of a thousand devices has a million cells. */
function paint(
  context: CanvasRenderingContext2D,
  style: CSSStyleDeclaration,
  { grid, changed, size, at, names, sight }: Painted,
): void {
  const tone = (name: string): string => style.getPropertyValue(`--${name}`).trim();
  const count = grid.rows.length;
  const x = (column: number): number => names + column * size - sight.left;
  const y = (row: number): number => names + row * size - sight.top;
  const span = (scrolled: number, room: number): number[] => {
    const [first, last] = [Math.floor(scrolled / size), Math.ceil((scrolled + room - names) / size)];
    return Array.from({ length: Math.max(0, Math.min(count, last) - first) }, (_one, index) => first + index);
  };
  const [rows, columns] = [span(sight.top, sight.height), span(sight.left, sight.width)];
  const clipped = (left: number, top: number, draw: () => void): void => {
    context.save();
    context.beginPath();
    context.rect(left, top, sight.width - left, sight.height - top);
    context.clip();
    draw();
    context.restore();
  };
  context.fillStyle = tone('ochre-tint');
  clipped(0, names, () => context.fillRect(0, y(at.row), Math.min(sight.width, x(count)), size));
  clipped(names, 0, () => context.fillRect(x(at.column), 0, size, Math.min(sight.height, y(count))));
  clipped(names, names, () => {
    const inset = size >= SIGN_FROM ? 2 : 0;
    for (const row of rows)
      for (const column of columns) {
        const words = cellWords(grid, row, column);
        if (!words) continue;
        drawCell(context, tone, words, { x: x(column) + inset, y: y(row) + inset, width: size - 2 * inset });
        if (!changed?.({ row, column })) continue;
        // A corner turned over: what is in the cell stays to be seen.
        const fold = Math.max(2, size / 3);
        context.fillStyle = tone('plum');
        context.beginPath();
        context.moveTo(x(column) + size - fold, y(row));
        context.lineTo(x(column) + size, y(row));
        context.lineTo(x(column) + size, y(row) + fold);
        context.fill();
      }
    context.strokeStyle = tone('ink');
    context.lineWidth = 2;
    context.strokeRect(x(at.column), y(at.row), size, size);
  });
  if (size < SIGN_FROM) return;
  context.fillStyle = tone('ink');
  context.font = `${Math.min(12, size - 2)}px ${style.fontFamily}`;
  context.textBaseline = 'middle';
  clipped(0, names, () => {
    context.textAlign = 'right';
    for (const row of rows)
      context.fillText(fitted(context, grid.rows[row]!.name, names - 10), names - 6, y(row) + size / 2);
  });
  clipped(names, 0, () => {
    context.textAlign = 'left';
    for (const column of columns) {
      context.save();
      context.translate(x(column) + size / 2, names - 6);
      context.rotate(-Math.PI / 2);
      context.fillText(fitted(context, grid.rows[column]!.name, names - 10), 0, 0);
      context.restore();
    }
  });
}

function drawCell(
  context: CanvasRenderingContext2D,
  tone: (name: string) => string,
  words: string,
  { x, y, width }: { x: number; y: number; width: number },
): void {
  context.lineWidth = 1.5;
  if (words === 'yes') {
    context.fillStyle = tone('spruce');
    context.fillRect(x, y, width, width);
  } else if (words === 'no') {
    context.fillStyle = tone('brick-tint');
    context.fillRect(x, y, width, width);
    if (width < SIGN_FROM - 4) return;
    context.strokeStyle = tone('brick');
    context.beginPath();
    context.moveTo(x + 2, y + 2);
    context.lineTo(x + width - 2, y + width - 2);
    context.moveTo(x + width - 2, y + 2);
    context.lineTo(x + 2, y + width - 2);
    context.stroke();
  } else if (words === 'uncertain') {
    context.strokeStyle = tone('ochre-text');
    context.beginPath();
    context.arc(x + width / 2, y + width / 2, Math.max(1, width / 2 - 1.5), 0, Math.PI * 2);
    context.stroke();
  } else {
    context.fillStyle = tone('brick-tint');
    context.fillRect(x, y, width, width);
    context.fillStyle = tone('spruce');
    context.beginPath();
    context.moveTo(x, y);
    context.lineTo(x, y + width);
    context.lineTo(x + width, y + width);
    context.fill();
  }
}

function fitted(context: CanvasRenderingContext2D, text: string, room: number): string {
  if (context.measureText(text).width <= room) return text;
  let end = text.length;
  while (end > 1 && context.measureText(`${text.slice(0, end)}…`).width > room) end--;
  return `${text.slice(0, end)}…`;
}
