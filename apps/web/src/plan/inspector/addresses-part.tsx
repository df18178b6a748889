import { Box, Button, Typography } from '@mui/material';
import { IconPlus } from '@tabler/icons-react';
import { formatAddress, parseAddress, parseRange } from '@sobrin/core/address';
import {
  type PlanCommand,
  type PlanNode,
  type PlanTree,
  blockAt,
  fillOf,
  isGivenOut,
  isSubnet,
  mainFamily,
  nextFreeIn,
  takeTypedAddresses,
} from '@sobrin/core/plan';
import { useState } from 'react';
import { AskDialog } from '../../ui/ask-dialog';
import { TextInput } from '../../ui/fields';
import { Part } from '../../ui/sections';
import { STANDING_WORDS } from '../standing-icon';
import { usePlan, usePlanFacts, usePlanSetting } from '../use-plan';
import { AddressGrid } from './address-grid';

const addressProblem = (text: string): string | null => {
  const single = parseAddress(text.trim());
  if (single.ok) return null;
  const range = parseRange(text);
  if (range.ok) return null;
  return /-|–|\bto\b/.test(text) ? range.error.text : single.error.text;
};

/** The subnets of the plan in which the addresses lie that a command takes. */
const homesOf = (tree: PlanTree, command: PlanCommand): PlanNode[] =>
  command.kind !== 'takeAddresses'
    ? []
    : Object.keys(command.addresses).flatMap((key) => {
        const read = parseAddress(key);
        const home = read.ok ? blockAt(tree, read.value) : null;
        return home && isSubnet(home) ? [home] : [];
      });

/** The addresses of a subnet, and taking the next one, a certain one, or a range. */
export function AddressesPart({ node }: { node: PlanNode }) {
  const { tree, ranges } = usePlanFacts((facts) => facts);
  const { do: run, select } = usePlan((state) => state);
  const { brief } = usePlanSetting();
  const [address, setAddress] = useState('');
  const [name, setName] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  /** What was typed here and lies in another subnet. */
  const [elsewhere, setElsewhere] = useState<{ command: PlanCommand; text: string; home: PlanNode } | null>(null);
  /** What was wrong was wrong of another text. */
  const retype = (text: string): void => {
    setAddress(text);
    setProblem(null);
    setElsewhere(null);
  };
  const fill = fillOf(tree, node, brief, ranges);
  const next = nextFreeIn(tree, node, mainFamily(node), brief, ranges);
  if (!fill) return null;
  const take = (text: string, of: string): void => {
    const wish = takeTypedAddresses(tree, node, text, of.trim(), brief, ranges);
    if (!wish.ok) return setProblem(wish.error);
    setProblem(null);
    const other = homesOf(tree, wish.value.command).find((home) => home.id !== node.id);
    if (other) return setElsewhere({ command: wish.value.command, text: text.trim(), home: other });
    put(wish.value.command, node.id);
  };
  const put = (command: PlanCommand, home: string): void => {
    setElsewhere(null);
    if (!run('take an address', command)) return;
    setAddress('');
    setName('');
    select({ blocks: [home], address: null, range: null });
  };
  const open = fill.of - fill.taken - fill.reserved;
  return (
    <Part
      title="Addresses"
      aside={
        fill.of > 99_999n ? `${fill.taken} taken` : `${fill.taken} taken, ${fill.reserved} set aside, ${open} open`
      }
    >
      <Box
        component="form"
        onSubmit={(event) => {
          event.preventDefault();
          take(address, name);
        }}
        sx={{
          display: 'grid',
          gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1fr) auto',
          gap: 0.75,
          alignItems: 'start',
        }}
      >
        <div>
          <TextInput
            label="Address or range"
            mono
            maxLength={100}
            value={address}
            placeholder={
              next ? formatAddress(next) : isGivenOut(node.block) ? 'full' : STANDING_WORDS[node.block.standing!]
            }
            check={addressProblem}
            onDraft={retype}
            onCommit={setAddress}
          />
        </div>
        <div>
          <TextInput
            id="take-name"
            label="For whom"
            value={name}
            maxLength={80}
            placeholder="name"
            onDraft={setName}
            onCommit={setName}
          />
        </div>
        <Button
          type="submit"
          size="small"
          variant="outlined"
          sx={{ minWidth: 0, minHeight: 30, px: 1 }}
          aria-label="Take it"
          title="Take it (Enter)"
        >
          <IconPlus size={15} />
        </Button>
      </Box>
      <Typography variant="body2" color="text.secondary" sx={{ mt: 0.5 }}>
        {problem !== null ? (
          <span style={{ color: 'var(--brick)' }}>{problem}</span>
        ) : (
          'One, or a range such as 10.84.16.21-40; empty takes the next free one.'
        )}
      </Typography>
      <AskDialog
        open={elsewhere !== null}
        title="Take it in another subnet?"
        yes={`Take it in ${elsewhere?.home.block.name ?? ''}`}
        onClose={() => setElsewhere(null)}
        onYes={() => elsewhere && put(elsewhere.command, elsewhere.home.id)}
      >
        {elsewhere?.text} lies in {elsewhere?.home.block.name}, not in {node.block.name}.
      </AskDialog>
      <AddressGrid node={node} onTake={(at) => take(at, '')} />
    </Part>
  );
}
