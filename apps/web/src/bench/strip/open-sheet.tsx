import { Box, Checkbox, Menu, MenuItem, Typography } from '@mui/material';
import { IconColumns3 } from '@tabler/icons-react';
import { type CellText, type Sheet, type SheetId, type SheetRow, refusedWords, writeCells } from '@sobrin/core/bench';
import { useState } from 'react';
import { NOTHING } from '../../drawing/selection';
import { IconTool } from '../../ui/icon-tool';
import { type Facts } from '../../workers/facts';
import { type Found } from '../files/drawing-files';
import { useBench } from '../use-bench';
import { SheetGrid } from './sheet-grid';
import { useSheetTable } from './use-sheet-table';

/** What a sheet without rows says, and how they come there. */
const NOTHING_IN: Readonly<Record<SheetId, string>> = {
  devices: 'No devices yet. Add them to the drawing, or paste a table with headings here.',
  ports: 'No ports yet: they come with the devices.',
  links: 'No links yet. Drag from the grip of one tile to another, or type “link” and two names.',
  addresses: 'No addresses yet. Type them into the sheet of ports, or into the inspector.',
  vlans: 'No VLANs yet. A switch gets them in its inspector, or by “vlan 20 SW-1 p1-p8”.',
};

/** A sheet that is open: what is chosen in it is chosen in the drawing, and what is typed into it changes the drawing. */
export default function OpenSheet({
  sheet,
  only,
  filter,
  facts,
  onReveal,
  onTell,
  onTable,
}: {
  sheet: Sheet;
  only: readonly string[] | null;
  filter: string;
  facts: Facts | null;
  onReveal: (ids: string[]) => void;
  onTell: (text: string) => void;
  /** A table that was pasted, as it can be read, before any of it is taken. */
  onTable: (found: Found) => void;
}) {
  const { document: topology, selection, select, do: run } = useBench((state) => state);
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const table = useSheetTable(topology, sheet, { only, filter, facts });
  const [devices, links] = [new Set(selection.devices), new Set(selection.links)];
  const isChosen = (row: SheetRow): boolean =>
    row.link === undefined ? devices.has(row.device!) : links.has(row.link);
  const pick = (picked: readonly SheetRow[]): void => {
    const links = picked.flatMap((row) => row.link ?? []);
    const devices = [...new Set(picked.flatMap((row) => row.device ?? []))];
    select({ ...NOTHING, devices, links });
    if (picked.length > 1) return;
    onReveal([...devices, ...links.flatMap((id) => [topology.links[id]!.a.device, topology.links[id]!.b.device])]);
  };
  const write = (title: string, cells: readonly CellText[]): void => {
    const { commands, refused } = writeCells(topology, cells);
    if (commands.length) run(title, ...commands);
    if (refused.length) onTell(refusedWords(refused));
  };
  const pasteTable = async (text: string): Promise<boolean> => {
    const found = (await import('../files/drawing-files')).readPasted(text, topology);
    if (found?.ok) onTable(found.value);
    else if (found) onTell(found.error);
    return found !== null;
  };
  return (
    <Box sx={{ position: 'relative', height: '100%' }}>
      <SheetGrid
        title={sheet.title}
        topology={topology}
        table={table}
        isChosen={isChosen}
        onWrite={write}
        onPick={pick}
        onTable={pasteTable}
      />
      {table.getRowModel().rows.length === 0 && (
        <Typography color="text.secondary" sx={{ position: 'absolute', top: 40, left: 16, right: 16 }}>
          {filter.trim() ? `Nothing in this sheet fits “${filter.trim()}”.` : NOTHING_IN[sheet.id]}
        </Typography>
      )}
      <Box sx={{ position: 'absolute', top: -1, right: 10, zIndex: 3, background: 'var(--ground)' }}>
        <IconTool title="Choose columns" onClick={(event) => setMenu(event.currentTarget)}>
          <IconColumns3 size={14} />
        </IconTool>
      </Box>
      <Menu open={menu !== null} anchorEl={menu} onClose={() => setMenu(null)}>
        {table.getAllLeafColumns().map((column) => {
          const isShown = column.getIsVisible();
          return (
            <MenuItem
              key={column.id}
              role="menuitemcheckbox"
              aria-checked={isShown}
              dense
              disabled={isShown && table.getVisibleLeafColumns().length === 1}
              onClick={() => column.toggleVisibility()}
            >
              <Checkbox size="small" checked={isShown} tabIndex={-1} disableRipple sx={{ p: 0, mr: 1 }} />
              {column.columnDef.header as string}
            </MenuItem>
          );
        })}
      </Menu>
    </Box>
  );
}
