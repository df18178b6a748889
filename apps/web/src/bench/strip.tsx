import { Box, Button, Chip, Table, TableBody, TableCell, TableHead, TableRow } from '@mui/material';
import { IconChevronDown, IconChevronUp } from '@tabler/icons-react';
import { type Topology, MEDIUM_NAMES, MEDIUM_TAGS, entriesById, firstAddressText, modelOf } from '@sobrin/core';
import { memo } from 'react';
import { type Selection } from '../drawing/selection';
import { type Facts } from '../workers/facts';
import { speedWords } from './inspector/state-line';
import { useBench } from './use-bench';

export type Sheet = 'devices' | 'links';
/** A sheet that shows only what belongs to some devices; null for all of it. */
export interface Listed {
  sheet: Sheet;
  devices: readonly string[] | null;
}

/** The tables under the drawing: the same document as rows; what is chosen is one with the drawing. */
export function SheetStrip({
  facts,
  tells,
  listed,
  onListed,
  onReveal,
}: {
  facts: Facts;
  tells: boolean;
  listed: Listed | null;
  onListed: (listed: Listed | null) => void;
  onReveal: (ids: string[]) => void;
}) {
  const { document: topology, selection, select } = useBench((state) => state);
  const open = listed?.sheet ?? null;
  const setOpen = (sheet: Sheet | null): void => onListed(sheet && { sheet, devices: null });
  const only = listed?.devices ? new Set(listed.devices) : null;
  const counts: Record<Sheet, number> = {
    devices: Object.keys(topology.devices).length,
    links: Object.keys(topology.links).length,
  };
  return (
    <Box
      component="section"
      aria-label="Sheet strip"
      sx={{ flex: 'none', borderTop: '1px solid var(--line2)', background: 'var(--ground)' }}
    >
      <Box sx={{ height: 32, display: 'flex', alignItems: 'stretch', px: 1 }}>
        {(['devices', 'links'] as const).map((sheet) => (
          <Button
            key={sheet}
            size="small"
            aria-expanded={open === sheet}
            onClick={() => setOpen(open === sheet ? null : sheet)}
            sx={{
              color: 'var(--ink)',
              fontWeight: open === sheet ? 700 : 500,
              borderRadius: 0,
              borderBottom: open === sheet ? '3px solid var(--spruce)' : '3px solid transparent',
              minHeight: 0,
            }}
          >
            {sheet === 'devices' ? 'Devices' : 'Links'}&nbsp;
            <span className="mono" style={{ color: 'var(--ink3)' }}>
              {counts[sheet]}
            </span>
          </Button>
        ))}
        {only && (
          <Chip
            size="small"
            label={`of ${[...only].map((id) => topology.devices[id]?.name ?? '').join(', ')}`}
            onDelete={() => setOpen(open)}
            sx={{ alignSelf: 'center', ml: 1 }}
          />
        )}
        <Box sx={{ flex: 1 }} />
        <Button
          size="small"
          onClick={() => setOpen(open ? null : 'devices')}
          endIcon={open ? <IconChevronDown size={16} /> : <IconChevronUp size={16} />}
          sx={{ color: 'var(--ink2)', minHeight: 0 }}
        >
          {open ? 'Close the strip' : 'Open the strip'}
        </Button>
      </Box>
      {open && (
        <Box sx={{ height: 190, overflow: 'auto', borderTop: '1px solid var(--line)', background: 'var(--surface)' }}>
          {open === 'devices' ? (
            <Devices
              topology={topology}
              only={only}
              selection={selection}
              onPick={(id) => {
                select({ devices: [id], links: [], sites: [] });
                onReveal([id]);
              }}
            />
          ) : (
            <Links
              topology={topology}
              only={only}
              facts={facts}
              tells={tells}
              selection={selection}
              onPick={(id) => {
                select({ devices: [], links: [id], sites: [] });
                const link = topology.links[id]!;
                onReveal([link.a.device, link.b.device]);
              }}
            />
          )}
        </Box>
      )}
    </Box>
  );
}

const CELL = { py: '2px', px: 1, height: 22, whiteSpace: 'nowrap' } as const;
const rowStyle = (selected: boolean) => ({
  cursor: 'pointer',
  background: selected ? 'var(--spruce-tint)' : undefined,
});

const Devices = memo(function Devices({
  topology,
  only,
  selection,
  onPick,
}: {
  topology: Topology;
  only: ReadonlySet<string> | null;
  selection: Selection;
  onPick: (id: string) => void;
}) {
  return (
    <Table size="small" stickyHeader aria-label="Devices">
      <TableHead>
        <TableRow>
          {['Name', 'Model', 'Site', 'Address', 'Gateway', 'Links'].map((one) => (
            <TableCell key={one} sx={CELL}>
              {one}
            </TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {entriesById(topology.devices)
          .filter(([id]) => !only || only.has(id))
          .sort(([, a], [, b]) => a.name.localeCompare(b.name, 'en', { numeric: true }))
          .map(([id, device]) => (
            <TableRow
              key={id}
              hover
              selected={selection.devices.includes(id)}
              tabIndex={0}
              onClick={() => onPick(id)}
              onKeyDown={(event) => event.key === 'Enter' && onPick(id)}
              sx={rowStyle(selection.devices.includes(id))}
            >
              <TableCell sx={{ ...CELL, fontWeight: 650 }}>
                {device.name}
                {device.members ? ` ×${Object.keys(device.members).length}` : ''}
              </TableCell>
              <TableCell sx={CELL}>{modelOf(topology, device)?.name ?? device.model}</TableCell>
              <TableCell sx={CELL}>{device.site ? topology.sites[device.site]?.name : ''}</TableCell>
              <TableCell sx={CELL} className="mono">
                {firstAddressText(device) ?? ''}
              </TableCell>
              <TableCell sx={CELL} className="mono">
                {device.settings?.gateway4 ?? ''}
              </TableCell>
              <TableCell sx={CELL} className="mono">
                {Object.values(topology.links).filter(({ a, b }) => a.device === id || b.device === id).length}
              </TableCell>
            </TableRow>
          ))}
      </TableBody>
    </Table>
  );
});

const Links = memo(function Links({
  topology,
  only,
  facts,
  tells,
  selection,
  onPick,
}: {
  topology: Topology;
  only: ReadonlySet<string> | null;
  facts: Facts;
  tells: boolean;
  selection: Selection;
  onPick: (id: string) => void;
}) {
  const name = (device: string): string => topology.devices[device]?.name ?? '';
  return (
    <Table size="small" stickyHeader aria-label="Links">
      <TableHead>
        <TableRow>
          {[
            'Cable',
            'From',
            'Port',
            'To',
            'Port',
            'Medium',
            'Length',
            ...(tells ? ['Speed', 'State and why'] : []),
          ].map((one, at) => (
            <TableCell key={at} sx={CELL}>
              {one}
            </TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {entriesById(topology.links)
          .filter(([, { a, b }]) => !only || only.has(a.device) || only.has(b.device))
          .sort(([, a], [, b]) => (a.cableId ?? '').localeCompare(b.cableId ?? '', 'en', { numeric: true }))
          .map(([id, link]) => {
            const fact = facts.links[id];
            return (
              <TableRow
                key={id}
                hover
                selected={selection.links.includes(id)}
                tabIndex={0}
                onClick={() => onPick(id)}
                onKeyDown={(event) => event.key === 'Enter' && onPick(id)}
                sx={rowStyle(selection.links.includes(id))}
              >
                <TableCell sx={CELL} className="mono">
                  {link.cableId ?? ''}
                </TableCell>
                <TableCell sx={{ ...CELL, fontWeight: 650 }}>{name(link.a.device)}</TableCell>
                <TableCell sx={CELL} className="mono">
                  {link.a.port}
                </TableCell>
                <TableCell sx={{ ...CELL, fontWeight: 650 }}>{name(link.b.device)}</TableCell>
                <TableCell sx={CELL} className="mono">
                  {link.b.port}
                </TableCell>
                <TableCell sx={CELL}>
                  {MEDIUM_NAMES[link.medium]}{' '}
                  <span className="mono" style={{ color: 'var(--ink3)' }}>
                    {MEDIUM_TAGS[link.medium]}
                  </span>
                </TableCell>
                <TableCell sx={CELL} className="mono">
                  {link.lengthM === undefined ? '' : `${link.lengthM} m`}
                </TableCell>
                {tells && (
                  <TableCell sx={CELL} className="mono">
                    {fact?.speedMbps ? speedWords(fact.speedMbps) : '–'}
                  </TableCell>
                )}
                {tells && (
                  <TableCell sx={CELL}>
                    {fact?.state === 'up' ? fact.text || 'Passes traffic' : (fact?.text ?? '')}
                  </TableCell>
                )}
              </TableRow>
            );
          })}
      </TableBody>
    </Table>
  );
});
