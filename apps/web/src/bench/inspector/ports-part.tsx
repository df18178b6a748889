import { Box, Button, IconButton } from '@mui/material';
import { IconChevronDown, IconChevronRight } from '@tabler/icons-react';
import { portInterface, setAddress, changePort } from '@sobrin/core/editing';
import { type PortUse, portUses } from '@sobrin/core/engine';
import {
  type Device,
  type PortConfig,
  type PortFacts,
  type Topology,
  isSwitched,
  modelOf,
} from '@sobrin/core/topology';
import { useContext, useState } from 'react';
import { Choice, Row, TextInput } from '../../ui/fields';
import { type Facts, type LinkFact } from '../../workers/facts';
import { OpenTalk } from '../comments/open-talk';
import { useAddressSuggestions } from '../plan-of-lab';
import { useBench } from '../use-bench';
import { Part } from '../../ui/sections';
import { speedWords } from '../../ui/speed-words';
import { interfaceAddressProblem } from './checks';
import { InterfaceFields } from './interface-fields';
import { RoleFields } from './switching-parts';
import { RadioFields } from './wireless-parts';

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

/** A port of a switch that nothing is plugged into and nothing is set at. */
const isUntouched = (topology: Topology, device: Device, { facts, links }: PortUse): boolean =>
  links.length === 0 && device.ports?.[facts.key] === undefined && isSwitched(topology, device, facts);

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

interface PortRowProps {
  id: string;
  device: Device;
  port: PortFacts;
  peer: string | null;
  fact: LinkFact | undefined;
  /** Addresses that the plan has for the device. */
  offers: readonly string[];
  open: boolean;
  onToggle: () => void;
}

function PortRow({ id, device, port, peer, fact, offers, open, onToggle }: PortRowProps) {
  const { document: topology, do: run } = useBench((state) => state);
  const talk = useContext(OpenTalk);
  const config = device.ports?.[port.key] ?? {};
  const [key, face] = portInterface(device, port.key);
  const model = modelOf(topology, device);
  const addressed =
    port.connector !== 'console' &&
    model?.bridges !== 'hub' &&
    !isSwitched(topology, device, port) &&
    device.members === undefined;
  const Arrow = open ? IconChevronDown : IconChevronRight;
  const set = (change: { [K in keyof PortConfig]?: PortConfig[K] | undefined }): void =>
    void run('change a port', changePort(id, port.key, change));
  return (
    <Box sx={{ py: '1px' }}>
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: '12px 58px minmax(0, 1fr) 24px',
          gap: '6px',
          alignItems: 'center',
          minHeight: 30,
        }}
      >
        <ChipSign fact={fact} connected={peer !== null} />
        <span
          className="mono"
          style={{ fontSize: 12.5, overflow: 'hidden', textOverflow: 'ellipsis' }}
          title={config.label && config.label !== port.key ? `labelled ${config.label}` : port.key}
        >
          {port.key}
        </span>
        {addressed ? (
          <TextInput
            label={`Address of ${port.key}`}
            mono
            placeholder={face.v4?.dhcp ? 'automatic' : 'address/prefix'}
            value={face.v4?.addresses?.[0] ?? ''}
            check={interfaceAddressProblem}
            maxLength={64}
            suggestions={offers.filter((offer) => !offer.includes(':'))}
            onCommit={(text) =>
              run('set an address', setAddress(topology, id, port.key, text.includes(':') ? 6 : 4, text))
            }
          />
        ) : (
          <span style={{ color: 'var(--ink2)', whiteSpace: 'nowrap', overflow: 'hidden', textOverflow: 'ellipsis' }}>
            {peer ?? 'free'}
          </span>
        )}
        <IconButton
          size="small"
          aria-label={`Settings of ${port.key}`}
          aria-expanded={open}
          onClick={onToggle}
          sx={{ p: 0 }}
        >
          <Arrow size={16} />
        </IconButton>
      </Box>
      {addressed && peer && (
        <Box sx={{ pl: '82px', color: 'var(--ink3)', fontSize: 12, lineHeight: '14px', pb: '2px' }}>to {peer}</Box>
      )}
      {fact && (fact.state !== 'up' || fact.warning) && (
        <Box
          sx={{
            ml: '18px',
            pl: 1,
            borderLeft: `2px solid var(--${fact.state === 'crossed' ? 'brick' : 'ochre-text'})`,
            color: 'var(--ink2)',
            fontSize: 12,
            lineHeight: '16px',
            mb: 0.5,
          }}
        >
          {fact.text}
        </Box>
      )}
      {open && (
        <Box sx={{ pl: '18px', pb: 1 }}>
          <Row label="Label">
            <TextInput
              label={`Label of ${port.key}`}
              mono
              value={config.label ?? ''}
              maxLength={80}
              onCommit={(text) => set({ label: text || undefined })}
            />
          </Row>
          {addressed && (
            <InterfaceFields
              id={id}
              device={device}
              name={key}
              face={face}
              offers={offers.filter((offer) => offer.includes(':'))}
              routes={model?.forwards ?? false}
            />
          )}
          {model?.bridges === 'vlan' && port.switched && <RoleFields id={id} device={device} port={port.key} />}
          {port.connector === 'radio' && !port.many && (
            <RadioFields port={port.key} radio={config.radio} onChange={(radio) => set({ radio })} />
          )}
          <Row label="Switched">
            <Choice
              label={`${port.key} is`}
              value={config.enabled === false ? 'off' : 'on'}
              options={[
                { value: 'on', text: 'on' },
                { value: 'off', text: 'off' },
              ]}
              onChange={(value) => set({ enabled: value === 'off' ? false : undefined })}
            />
          </Row>
          {port.speeds.length > 1 && (
            <Row label="Speed">
              <Choice
                label={`Speed of ${port.key}`}
                value={String(config.speed ?? 'auto')}
                options={[
                  { value: 'auto', text: 'automatic' },
                  ...port.speeds.map((speed) => ({ value: String(speed), text: speedWords(speed) })),
                ]}
                onChange={(value) =>
                  set({
                    speed: value === 'auto' ? undefined : Number(value),
                    ...(value === 'auto' && { duplex: undefined }),
                  })
                }
              />
            </Row>
          )}
          {typeof config.speed === 'number' && (
            <Row label="Duplex">
              <Choice
                label={`Duplex of ${port.key}`}
                value={config.duplex ?? 'full'}
                options={[
                  { value: 'full', text: 'full' },
                  { value: 'half', text: 'half' },
                ]}
                onChange={(value) => set({ duplex: value })}
              />
            </Row>
          )}
          {port.connector === 'serial' && (
            <Row label="Clock">
              <Choice
                label={`Clock at ${port.key}`}
                value={config.clockEnd ? 'here' : 'other'}
                options={[
                  { value: 'other', text: 'from the other end' },
                  { value: 'here', text: 'given here' },
                ]}
                onChange={(value) => set({ clockEnd: value === 'here' ? true : undefined })}
              />
            </Row>
          )}
          <Button size="small" onClick={() => talk({ about: { kind: 'device', id, port: port.key } })}>
            Comment on this port
          </Button>
        </Box>
      )}
    </Box>
  );
}

/** The same forms as the chips of the drawing: filled, hollow, crossed; dashed for a free port. */
function ChipSign({ fact, connected }: { fact: LinkFact | undefined; connected: boolean }) {
  const state = fact?.state;
  const colour = state === 'up' ? 'var(--spruce)' : state === 'crossed' ? 'var(--brick)' : 'var(--ink2)';
  return (
    <svg
      width={12}
      height={12}
      viewBox="0 0 12 12"
      role="img"
      aria-label={
        !connected
          ? 'free'
          : state === 'up'
            ? 'passes traffic'
            : state === 'crossed'
              ? 'wrong cable'
              : state === 'down'
                ? 'down'
                : 'connected'
      }
    >
      <rect
        x={1.75}
        y={1.75}
        width={8.5}
        height={8.5}
        rx={2.5}
        fill={state === 'up' ? colour : 'none'}
        stroke={connected ? colour : 'var(--ink3)'}
        strokeWidth={1.5}
        strokeDasharray={connected ? undefined : '2 2'}
      />
      {state === 'crossed' && <path d="M1 1 11 11M11 1 1 11" stroke={colour} strokeWidth={1.75} />}
    </svg>
  );
}
