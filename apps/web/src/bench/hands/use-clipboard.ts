import { SHEETS } from '@sobrin/core/bench';
import { partOf } from '@sobrin/core/editing';
import { type Topology } from '@sobrin/core/topology';
import { useEffect, useRef } from 'react';

interface Clipboard {
  topology: Topology;
  chosen: readonly string[];
  onPaste: (part: Topology) => void;
  onCut: () => void;
  onTell: (text: string) => void;
}
const JSON_TYPE = 'application/json';

/** What is chosen as a table for any spreadsheet: the columns of the sheet of devices. */
function tableOf(topology: Topology, chosen: readonly string[]): string {
  const { rows, columns } = SHEETS[0]!;
  const inside = new Set(chosen);
  return [
    columns.map((column) => column.label),
    ...rows(topology)
      .filter((row) => inside.has(row.device!))
      .map((row) => columns.map((column) => column.read(topology, row))),
  ]
    .map((cells) => cells.join('\t'))
    .join('\n');
}

/**
 * Copy, cut and paste of devices with their links, within and between drawings: as JSON for the Bench and as a table for
 * everything else. Text fields and the sheets keep their own.
 */
export function useClipboard(clipboard: Clipboard): void {
  const current = useRef(clipboard);
  useEffect(() => {
    current.current = clipboard;
  });
  useEffect(() => {
    const isElsewhere = (event: ClipboardEvent): boolean =>
      event.defaultPrevented ||
      (event.target instanceof Element &&
        event.target.closest('input, textarea, [contenteditable], [role=grid], [role=dialog]') !== null);
    const copy = (event: ClipboardEvent): boolean => {
      const { topology, chosen } = current.current;
      if (isElsewhere(event) || !chosen.length || document.getSelection()?.toString()) return false;
      event.preventDefault();
      event.clipboardData?.setData('text/plain', tableOf(topology, chosen));
      event.clipboardData?.setData(JSON_TYPE, JSON.stringify(partOf(topology, chosen)));
      return true;
    };
    const cut = (event: ClipboardEvent): void => {
      if (copy(event)) current.current.onCut();
    };
    const paste = (event: ClipboardEvent): void => {
      if (isElsewhere(event)) return;
      const text = event.clipboardData?.getData(JSON_TYPE) || event.clipboardData?.getData('text/plain') || '';
      if (!text.trim()) return;
      event.preventDefault();
      const { onPaste, onTell } = current.current;
      void import('../files/drawing-files').then(({ readPart }) => {
        const part = readPart(text);
        if (part) onPaste(part);
        else
          onTell(
            'What was copied is no part of a drawing. Copy devices from a bench, or paste a table into a sheet below.',
          );
      });
    };
    window.addEventListener('copy', copy);
    window.addEventListener('cut', cut);
    window.addEventListener('paste', paste);
    return () => {
      window.removeEventListener('copy', copy);
      window.removeEventListener('cut', cut);
      window.removeEventListener('paste', paste);
    };
  }, []);
}
