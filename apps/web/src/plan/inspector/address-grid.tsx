import { Box } from '@mui/material';
import {
  type PlanNode,
  broadcastAddress,
  formatAddress,
  gatewayOf,
  lastOf,
  networkAddress,
  rangesIn,
  sizeOf,
  usableIn,
} from '@sobrin/core';
import { RANGE_WORDS } from '../plan-tree-table';
import { usePlan, usePlanFacts, usePlanSetting } from '../use-plan';

const MOST = 256n;
const COLUMNS = 16;

/** Every address of a small IPv4 subnet as a cell: taken, set aside, the gateway, the unusable ends, and free. */
export function AddressGrid({ node, onTake }: { node: PlanNode; onTake: (address: string) => void }) {
  const { tree, ranges } = usePlanFacts((facts) => facts);
  const { selection, select } = usePlan((state) => state);
  const { brief } = usePlanSetting();
  const prefix = node.space[4];
  if (!prefix || sizeOf(prefix) > MOST) return null;
  const usable = usableIn(node.block, prefix);
  const gateway = gatewayOf(node.block, prefix, brief)?.value;
  const aside = rangesIn(ranges, prefix);
  const cells: bigint[] = [];
  for (let value = prefix.value; value <= lastOf(prefix).value; value++) cells.push(value);
  const ends = [networkAddress(prefix)?.value, broadcastAddress(prefix)?.value];
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: `repeat(${Math.min(COLUMNS, cells.length)}, 1fr)`,
        gap: '2px',
        mt: 0.75,
      }}
    >
      {cells.map((value) => {
        const address = formatAddress({ family: 4, value });
        const entry = tree.plan.addresses?.[address];
        const range = aside.find(({ span }) => span.from.value <= value && value <= span.to.value)?.range;
        const isEnd = value < usable.from.value || value > usable.to.value;
        const isGateway = value === gateway;
        const words = entry
          ? entry.name || 'taken'
          : isGateway
            ? 'gateway'
            : isEnd
              ? value === ends[0]
                ? 'network address'
                : 'broadcast address'
              : range
                ? RANGE_WORDS[range.use]
                : 'free';
        return (
          <Box
            key={address}
            component="button"
            type="button"
            tabIndex={-1}
            aria-label={`${address}, ${words}`}
            title={`${address} ${words}`}
            disabled={isEnd && !entry}
            onClick={() => (entry ? select({ blocks: [node.id], address, range: null }) : onTake(address))}
            sx={{
              all: 'unset',
              boxSizing: 'border-box',
              aspectRatio: '1',
              borderRadius: '3px',
              fontSize: 9,
              fontWeight: 700,
              textAlign: 'center',
              lineHeight: '14px',
              cursor: 'pointer',
              border: '1px solid var(--line2)',
              color: 'var(--surface)',
              background: isGateway
                ? 'var(--ink)'
                : entry
                  ? 'var(--spruce)'
                  : isEnd
                    ? 'linear-gradient(135deg, transparent 45%, var(--line2) 45% 55%, transparent 55%)'
                    : range
                      ? 'repeating-linear-gradient(135deg, var(--line2) 0 1.5px, transparent 1.5px 4px)'
                      : 'var(--surface)',
              outline: selection.address === address ? '2px solid var(--ochre)' : undefined,
            }}
          >
            {isGateway ? 'G' : ''}
          </Box>
        );
      })}
    </Box>
  );
}
