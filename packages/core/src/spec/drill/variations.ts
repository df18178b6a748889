import { formatAddress, formatInterfaceAddress } from '../../address';
import { type NetworkModel, analyse, leaseKey } from '../../engine';
import {
  type KeepingOperator,
  moved,
  oneMoreSwitch,
  otherModels,
  otherVlans,
  portsExchanged,
  readdressed,
  renamed,
  seeded,
  tilesApart,
  tilesJoined,
  twoForOne,
  typedForLeased,
  unvaried,
  withoutSome,
} from '../../faults';
import { type Plan } from '../../plan';
import { type Topology, canonicalJson } from '../../topology';
import { type PreparedLab, judgeByRequirements } from '../check';
import { type CheckResult } from '../result';
import { toldOf } from '../told';

/** A drawing of the same network otherwise, and what it lost. */
export interface DrilledVariation {
  readonly operator: string;
  readonly text: string;
  /** The points that it lost for nothing. */
  readonly lost: number;
  /** The requirements on which it lost them though students are told nothing of it, with what was found. */
  readonly requirements: readonly { readonly id: string; readonly text: string }[];
  /** Those on which a person said that it is meant to lose. */
  readonly meant: readonly string[];
  /** Those on which it lost since students are told what they ask: that is prescribed, and no false alarm. */
  readonly prescribed: readonly string[];
}

/** Every way to draw a network otherwise that keeps what it does. */
function keepingIn(reference: NetworkModel): KeepingOperator[] {
  const leaseOf = (device: string, key: string) => {
    const lease = reference.layer3.leases.get(leaseKey(device, key));
    return lease
      ? { address: formatInterfaceAddress(lease.address), router: lease.router && formatAddress(lease.router) }
      : null;
  };
  return [
    { kind: 'renamed', title: 'Other names', vary: renamed },
    { kind: 'moved', title: 'Other ids, another order, other places', vary: moved },
    { kind: 'portsExchanged', title: 'Other ports of the same sort', vary: portsExchanged },
    { kind: 'readdressed', title: 'Other subnets of the block', vary: readdressed },
    { kind: 'otherModels', title: 'Larger models', vary: otherModels },
    { kind: 'otherVlans', title: 'Other VLAN numbers', vary: otherVlans },
    { kind: 'typedForLeased', title: 'Typed addresses where others are leased', vary: typedForLeased(leaseOf) },
    { kind: 'oneMoreSwitch', title: 'One switch more', vary: oneMoreSwitch },
    { kind: 'twoForOne', title: 'Two switches for one', vary: twoForOne },
    { kind: 'tilesApart', title: 'Tiles drawn as single devices', vary: tilesApart },
    { kind: 'tilesJoined', title: 'Hosts that are alike drawn as one tile', vary: tilesJoined },
  ];
}
/** Variations in turn: each way with several seeds, as far as it changes anything; the same for the same seed. */
export function* variationsOf(
  prepared: PreparedLab,
  seed: number,
  each: number,
): Iterable<{ kind: string; title: string; topology: Topology }> {
  const { reference } = prepared;
  const before = canonicalJson(reference.topology);
  for (const [nth, { kind, title, vary }] of keepingIn(reference).entries()) {
    // Where names are prescribed, others do not keep what is asked.
    if (kind === 'renamed' && prepared.lab.policy.names === 'exact') continue;
    const seen = new Set([before]);
    for (let at = 0; at < each; at++) {
      const { topology } = vary(unvaried(reference.topology), seeded(seed * 1000 + nth * 50 + at));
      const text = canonicalJson(topology);
      if (seen.has(text)) continue;
      seen.add(text);
      yield { kind, title, topology };
    }
  }
}

/** Tells what a variation lost: of what students are told nothing that is a false alarm. */
export class Fairness {
  private readonly told: ReadonlyMap<string, boolean>;
  constructor(
    private readonly prepared: PreparedLab,
    private readonly whole: CheckResult,
    private readonly plan: Plan,
  ) {
    const { reference, spec, brief, tasks = [] } = prepared.lab;
    const { of } = toldOf({ reference, spec, brief, tasks: [...tasks] });
    this.told = new Map([...of].map(([id, { by }]) => [id, by !== 'nowhere' && by !== 'itself']));
  }

  judge({ kind, title, topology }: { kind: string; title: string; topology: Topology }): DrilledVariation {
    const result = judgeByRequirements(this.prepared, { drawing: topology, plan: this.plan });
    const fallen = result.requirements.filter(({ points, verdict }, at) => {
      const before = this.whole.requirements[at]!;
      return verdict !== 'notApplying' && points < before.points;
    });
    const isPrescribed = ({ id }: { id: string }): boolean => this.told.get(id) === true;
    const isMeant = ({ id }: { id: string }): boolean =>
      (this.prepared.lab.spec.meant ?? []).some(({ way, requirement }) => way === kind && requirement === id);
    const requirements = fallen
      .filter((each) => !isPrescribed(each) && !isMeant(each))
      .map(({ id, items }) => ({ id, text: items.find(({ met }) => met !== true)?.text ?? '' }));
    const ids = new Set(requirements.map(({ id }) => id));
    const lost = result.requirements.reduce(
      (sum, { id, points }, at) => (ids.has(id) ? sum + this.whole.requirements[at]!.points - points : sum),
      0,
    );
    return {
      operator: kind,
      text: title,
      lost: Math.round(lost * 100) / 100,
      requirements,
      meant: fallen.filter((each) => !isPrescribed(each) && isMeant(each)).map(({ id }) => id),
      prescribed: fallen.filter(isPrescribed).map(({ id }) => id),
    };
  }
}

/** A drawing that still gets everything though something of the reference is not there. */
export interface CheapFull {
  readonly without: readonly string[];
}

/** The smallest drawing, of the reference with some of it left out, that would still get the full mark; null where none is found. */
export function cheapestFull(
  prepared: PreparedLab,
  whole: CheckResult,
  plan: Plan,
  seed: number,
  tries: number,
): CheapFull | null {
  const { reference } = prepared;
  let best: readonly string[] = [];
  let topology = reference.topology;
  for (let at = 0; at < tries; at++) {
    const { topology: less } = withoutSome(unvaried(topology), seeded(seed * 1000 + 900 + at));
    const model = analyse(less, reference.options);
    if (!model.instances.size) continue;
    const { points } = judgeByRequirements(prepared, { drawing: less, plan });
    if (points < whole.points) continue;
    topology = less;
    best = Object.entries(reference.topology.devices).flatMap(([id, { name }]) => (less.devices[id] ? [] : name));
  }
  return best.length ? { without: best } : null;
}
