import '../plan.css';
import { formatAddress, lastOf, networkAddress, sizeOf } from '@sobrin/core/address';
import { type PlanNode, gatewayOf, isGivenOut, rangesIn, usableIn } from '@sobrin/core/plan';
import { RANGE_WORDS } from '../plan-tree-table';
import { STANDING_WORDS } from '../standing-icon';
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
  const network = networkAddress(prefix)?.value;
  return (
    <div className="address-grid" style={{ gridTemplateColumns: `repeat(${Math.min(COLUMNS, cells.length)}, 1fr)` }}>
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
              ? value === network
                ? 'network address'
                : 'broadcast address'
              : range
                ? RANGE_WORDS[range.use]
                : isGivenOut(node.block)
                  ? 'free'
                  : STANDING_WORDS[node.block.standing!];
        const look = isGateway ? 'gateway' : entry ? 'taken' : isEnd ? 'end' : range ? 'aside' : '';
        return (
          <button
            key={address}
            type="button"
            tabIndex={-1}
            className={`${look}${selection.address === address ? ' chosen' : ''}`}
            aria-label={`${address}, ${words}`}
            title={`${address} ${words}`}
            disabled={(isEnd || !isGivenOut(node.block)) && !entry}
            onClick={() => (entry ? select({ blocks: [node.id], address, range: null }) : onTake(address))}
          >
            {isGateway ? 'G' : ''}
          </button>
        );
      })}
    </div>
  );
}
