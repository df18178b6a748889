import { Box, Button, Stack, Typography } from '@mui/material';
import { type Result } from '@sobrin/core';
import { type Prefix, formatRange } from '@sobrin/core/address';
import {
  type PlanAddress,
  type PlannedChange,
  type Standing,
  STANDINGS,
  mergeBlocks,
  swapBlocks,
  removePlanned,
} from '@sobrin/core/plan';
import { Row, TextInput } from '../../ui/fields';
import { Heading } from '../../ui/sections';
import { RANGE_WORDS } from '../plan-tree-table';
import { SidePanel } from '../../ui/side-panel';
import { usePlan, usePlanFacts } from '../use-plan';
import { BlockInspector } from './block-inspector';
import { Consequences } from './prefix-field';

/** What is chosen in the plan: a block, several, an address or a range. */
export function PlanInspector({
  onDivide,
  onFree,
  onWorkings,
}: {
  onDivide: () => void;
  onFree: (within: string, prefix: Prefix) => void;
  onWorkings: (text: string) => void;
}) {
  const selection = usePlan((state) => state.selection);
  const tree = usePlanFacts((facts) => facts.tree);
  const [first] = selection.blocks;
  const node = first === undefined ? undefined : tree.nodes.get(first);
  return (
    <SidePanel label="Inspector">
      {selection.address !== null ? (
        <AddressInspector key={selection.address} address={selection.address} />
      ) : selection.range !== null ? (
        <RangeInspector id={selection.range} />
      ) : selection.blocks.length > 1 ? (
        <SeveralInspector ids={selection.blocks} />
      ) : node ? (
        <BlockInspector node={node} onDivide={onDivide} onFree={onFree} onWorkings={onWorkings} />
      ) : (
        <Typography color="text.secondary">
          Choose a block to see what it holds, why it has its size, and what is free in it.
        </Typography>
      )}
    </SidePanel>
  );
}

const STANDING_DEEDS: Record<Standing, string> = {
  proposed: 'Propose',
  decided: 'Decide',
  'kept-free': 'Keep free',
  'being-vacated': 'Vacate',
};

function AddressInspector({ address }: { address: string }) {
  const tree = usePlanFacts((facts) => facts.tree);
  const run = usePlan((state) => state.do);
  const entry = tree.plan.addresses?.[address];
  if (!entry) return null;
  const set = (change: Partial<PlanAddress>): void => {
    const { name, ...about } = { ...entry, ...change };
    const said = Object.fromEntries(Object.entries(about).filter(([, text]) => text));
    run('change an address', { kind: 'setAddress', address, set: { name, ...said } });
  };
  return (
    <>
      <Heading title={address} under="An address of the plan" />
      <Row label="Name" narrow>
        <TextInput
          id="block-name"
          label="Name"
          value={entry.name}
          maxLength={80}
          onCommit={(name) => set({ name: name.trim() })}
        />
      </Row>
      <Row label="DNS name" narrow>
        <TextInput label="DNS name" mono value={entry.dns ?? ''} onCommit={(dns) => set({ dns: dns.trim() })} />
      </Row>
      <Row label="Role" narrow>
        <TextInput label="Role" value={entry.role ?? ''} onCommit={(role) => set({ role: role.trim() })} />
      </Row>
      <Row label="Note" narrow>
        <TextInput label="Note" value={entry.note ?? ''} onCommit={(note) => set({ note: note.trim() })} />
      </Row>
      <Button
        color="error"
        sx={{ mt: 1.5 }}
        onClick={() => run('free an address', { kind: 'freeAddresses', addresses: [address] })}
      >
        Free this address
      </Button>
    </>
  );
}

function RangeInspector({ id }: { id: string }) {
  const range = usePlanFacts((facts) => facts.ranges).find((fact) => fact.id === id);
  const run = usePlan((state) => state.do);
  if (!range) return null;
  return (
    <>
      <Heading title={formatRange(range.span)} under={`Set aside: ${RANGE_WORDS[range.range.use]}`} />
      <Row label="Name" narrow>
        <TextInput
          label="Name"
          value={range.range.name ?? ''}
          maxLength={80}
          onCommit={(text) => {
            const { name: _old, ...rest } = range.range;
            run('name a range', { kind: 'setRange', id, set: { ...rest, ...(text.trim() && { name: text.trim() }) } });
          }}
        />
      </Row>
      <Button color="error" sx={{ mt: 1.5 }} onClick={() => run('free a range', { kind: 'setRange', id, set: null })}>
        Free this range
      </Button>
    </>
  );
}

/** Several blocks: decide, merge, swap or remove them, with what that brings. */
function SeveralInspector({ ids }: { ids: readonly string[] }) {
  const tree = usePlanFacts((facts) => facts.tree);
  const run = usePlan((state) => state.do);
  const merged = mergeBlocks(tree, ids);
  const swapped = ids.length === 2 ? swapBlocks(tree, ids[0]!, ids[1]!) : null;
  const names = ids.map((id) => tree.nodes.get(id)?.block.name ?? '').join(', ');
  return (
    <>
      <Heading title={`${ids.length} blocks`} under={names} />
      <Stack direction="row" spacing={1}>
        {STANDINGS.map((standing) => (
          <Button
            key={standing}
            size="small"
            variant="outlined"
            onClick={() =>
              run('set a standing', ...ids.map((id) => ({ kind: 'setBlock', id, set: { standing } }) as const))
            }
          >
            {STANDING_DEEDS[standing]}
          </Button>
        ))}
      </Stack>
      <Offer title="Merge" change={merged} onDo={(change) => run('merge blocks', ...change.commands)} />
      {swapped && <Offer title="Swap" change={swapped} onDo={(change) => run('swap blocks', ...change.commands)} />}
      <Button
        color="error"
        sx={{ mt: 2 }}
        onClick={() => run('remove blocks', ...removePlanned(tree, { blocks: ids, address: null, range: null }))}
      >
        Remove {ids.length} blocks with all in them
      </Button>
    </>
  );
}

function Offer({
  title,
  change,
  onDo,
}: {
  title: string;
  change: Result<PlannedChange, string>;
  onDo: (change: PlannedChange) => void;
}) {
  return (
    <Box component="section" aria-label={title} sx={{ mt: 2 }}>
      <Typography variant="h3">{title}</Typography>
      {change.ok ? (
        <Consequences change={change.value} onDo={() => onDo(change.value)} word={title} />
      ) : (
        <Typography color="text.secondary">{change.error}</Typography>
      )}
    </Box>
  );
}
