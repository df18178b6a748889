import './plan.css';
import { type Fill } from '@sobrin/core/plan';

/** How full a block is; of a subnet also what is set aside, and where the later number of its group will be. */
export function FillBar({ fill, later }: { fill: Fill; later?: number | undefined }) {
  const share = (part: bigint): number =>
    fill.of === 0n ? 0 : Math.min(100, Number((part * 10_000n) / fill.of) / 100);
  const [taken, reserved] = [share(fill.taken), share(fill.reserved)];
  return (
    <div className="fill-bar" aria-hidden>
      <span className="fill-taken" style={{ width: `${taken}%` }} />
      <span className="fill-reserved" style={{ left: `${taken}%`, width: `${Math.min(reserved, 100 - taken)}%` }} />
      {later !== undefined && <span className="fill-later" style={{ left: `calc(${share(BigInt(later))}% - 1px)` }} />}
    </div>
  );
}
