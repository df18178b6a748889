import { Box, IconButton } from '@mui/material';
import { IconChevronRight } from '@tabler/icons-react';
import { type PortUse, portUses } from '@sobrin/core/engine';
import { type Device, type Topology, isSwitched } from '@sobrin/core/topology';
import { useState } from 'react';
import { Part } from '../../ui/sections';
import { type Facts } from '../../workers/facts';
import { useAddressSuggestions } from '../plan-of-lab';
import { useBench } from '../use-bench';
import { ChipSign } from './chip-sign';
import { PortRow } from './port-row';

/** The ports with what is plugged in and, where they carry addresses, the address; each opens to its settings. */
export function PortsPart({
  id,
  device,
  facts,
  showsEngine,
}: {
  id: string;
  device: Device;
  facts: Facts;
  showsEngine: boolean;
}) {
  const topology = useBench((state) => state.document);
  const { addresses } = useAddressSuggestions(id);
  const firstMember = Object.keys(device.members ?? {}).sort()[0];
  const uses = portUses(topology, id, firstMember);
  const [open, setOpen] = useState<string | null>(null);
  const [unfolded, setUnfolded] = useState(false);
  const taken = uses.filter((use) => use.links.length).length;
  return (
    <Part title="Ports" aside={`${taken} of ${uses.length} connected`}>
      {runsOf(uses, (use) => isUntouched(topology, device, use)).map((run) => {
        const [first, last] = [run[0]!.facts.key, run.at(-1)!.facts.key];
        if (run.length >= LONG && !unfolded)
          return (
            <FreePorts key={first} first={first} last={last} count={run.length} onUnfold={() => setUnfolded(true)} />
          );
        return run.map(({ facts: port, links }) => (
          <PortRow
            key={port.key}
            id={id}
            device={device}
            port={port}
            peer={links[0] === undefined ? null : peerOf(topology, links[0], id)}
            fact={showsEngine && links[0] !== undefined ? facts.links[links[0]] : undefined}
            offers={addresses}
            open={open === port.key}
            onToggle={() => setOpen(open === port.key ? null : port.key)}
          />
        ));
      })}
    </Part>
  );
}

/** So many free ports in a row are one line. */
const LONG = 4;

/** A port of a switch or a panel that nothing is plugged into and nothing is set at. */
const isUntouched = (topology: Topology, device: Device, { facts, links }: PortUse): boolean =>
  links.length === 0 &&
  device.ports?.[facts.key] === undefined &&
  (facts.through !== undefined || isSwitched(topology, device, facts));

/** Ports one by one, and those of a series that nothing is done with as runs. */
function runsOf(uses: readonly PortUse[], isFree: (use: PortUse) => boolean): PortUse[][] {
  const runs: PortUse[][] = [];
  let before: string | null = null;
  for (const use of uses) {
    const series = isFree(use) ? use.facts.key.replace(/\d+$/, '') : null;
    if (series !== null && series === before) runs.at(-1)!.push(use);
    else runs.push([use]);
    before = series;
  }
  return runs;
}

const FreePorts = ({
  first,
  last,
  count,
  onUnfold,
}: {
  first: string;
  last: string;
  count: number;
  onUnfold: () => void;
}) => (
  <Box
    sx={{
      display: 'grid',
      gridTemplateColumns: '12px minmax(0, 1fr) 24px',
      gap: '6px',
      alignItems: 'center',
      minHeight: 30,
    }}
  >
    <ChipSign fact={undefined} connected={false} />
    <span>
      <span className="mono" style={{ fontSize: 12.5 }}>
        {first} – {last}
      </span>{' '}
      <span style={{ color: 'var(--ink2)', fontSize: 12 }}>{count} free</span>
    </span>
    <IconButton size="small" aria-label={`Show the free ports ${first} to ${last}`} onClick={onUnfold} sx={{ p: 0.25 }}>
      <IconChevronRight size={16} />
    </IconButton>
  </Box>
);

function peerOf(topology: Topology, linkId: string, mine: string): string {
  const { a, b } = topology.links[linkId]!;
  const other = a.device === mine ? b : a;
  return `${topology.devices[other.device]?.name ?? ''} ${other.port}`;
}
