import { type Family, contains, formatPrefix, subnetOf } from '../../address';
import { byName } from '../../collation';
import { AnalysisSession, type NetworkModel } from '../analysis';
import { type NetworkSignIn, isTaken, letsIn, listensAt, signIn, signInProbe } from '../services';
import { type Target } from '../reach';
import { type Reason } from '../devices';
import { type Answer, type Probe, ECHO, trace } from '../forwarding';
import { type Switchable, switchOff } from './what-if';

/** What the rows and columns of a grid are. */
export type Grouping = 'device' | 'site' | 'subnet' | 'kind' | 'group';
/** Groups of devices that somebody has named, by id; a device may be in several. */
export type NamedGroups = Readonly<Record<string, { readonly name: string; readonly devices: readonly string[] }>>;
/** What a grid is asked for. */
export interface GridRequest {
  readonly by: Grouping;
  /** What `by: 'group'` goes by. */
  readonly groups?: NamedGroups | undefined;
  /** An echo where nothing is said. */
  readonly probe?: Probe | undefined;
  /** Whether somebody there can sign in, instead of whether packets arrive. */
  readonly signIn?: { readonly by: NetworkSignIn; readonly changing: boolean } | undefined;
  readonly family?: Family | undefined;
  /** What is switched off meanwhile. */
  readonly off?: readonly Switchable[] | undefined;
}

/**
 * Who reaches whom, by groups. `yes`, `no` and `unsure` count pairs of a device with an address and an address of
 * another device, row by row: the entry for row r and column c is at r × rows.length + c. Rows send.
 */
export interface Grid {
  readonly by: Grouping;
  readonly rows: readonly { readonly id: string; readonly name: string }[];
  readonly yes: Uint32Array<ArrayBuffer>;
  readonly no: Uint32Array<ArrayBuffer>;
  readonly unsure: Uint32Array<ArrayBuffer>;
}

/** The grid of a model. It is worked out from classes of pairs that are answered alike, not pair by pair. */
export function gridOf(model: NetworkModel, request: GridRequest): Grid {
  const pairs = new Pairs(model, request);
  const { rows } = pairs;
  const [yes, no, unsure] = [0, 1, 2].map(() => new Uint32Array(rows.length ** 2)) as [
    Grid['yes'],
    Grid['no'],
    Grid['unsure'],
  ];
  pairs.each(({ lines, columns, answer }) => {
    const count = answer === 'uncertain' ? unsure : answer === 'yes' ? yes : no;
    for (const row of lines) for (const column of columns) count[row * rows.length + column]!++;
  });
  return { by: request.by, rows, yes, no, unsure };
}

/** Why pairs do not reach one another, with how many it keeps apart, those that keep most apart first. */
export interface CellReason {
  readonly text: string;
  readonly count: number;
}
/** So many pairs of a cell are followed to tell why. */
const MOST_FOLLOWED = 200;

/** Why some pairs of a cell are not reached; `row` and `column` are the ids of its row and column. */
export function cellReasons(model: NetworkModel, request: GridRequest & { row: string; column: string }): CellReason[] {
  const pairs = new Pairs(model, request);
  const [row, column] = [request.row, request.column].map((id) => pairs.rows.findIndex((row) => row.id === id));
  const counts = new Map<string, number>();
  let followed = 0;
  pairs.each(({ from, target, lines, columns, answer }) => {
    if (answer === 'yes' || !lines.includes(row!) || !columns.includes(column!) || followed >= MOST_FOLLOWED) return;
    followed++;
    const { text } = pairs.reasonOf(from, target);
    counts.set(text, (counts.get(text) ?? 0) + 1);
  });
  return [...counts].map(([text, count]) => ({ text, count })).sort((a, b) => b.count - a.count);
}

/** One pair of a device and an address of another one, with what comes of it. */
export interface Pair {
  readonly from: string;
  readonly target: Target;
  readonly answer: Answer;
}
/** All pairs of a grid with the reason of each, one by one. */
export function* pairsWithReasons(
  model: NetworkModel,
  request: GridRequest,
): Iterable<Pair & { reason: Reason | null }> {
  const pairs = new Pairs(model, request);
  const all: Pair[] = [];
  pairs.each(({ from, target, answer }) => all.push({ from, target, answer }));
  for (const pair of all)
    yield { ...pair, reason: pair.answer === 'yes' ? null : pairs.reasonOf(pair.from, pair.target) };
}

/** The pairs that a grid asks for, with the rows and columns they count in. */
class Pairs {
  readonly rows: Grid['rows'];
  private readonly asked: NetworkModel;
  private readonly groups: Groups;
  private readonly place: ReadonlyMap<string, number>;

  constructor(
    model: NetworkModel,
    private readonly request: GridRequest,
  ) {
    const { off = [] } = request;
    const session = AnalysisSession.from(model);
    if (off.length) session.apply(switchOff(model.topology, off));
    this.asked = session.model;
    this.groups = groupsOf(this.asked, request);
    this.rows = [...this.groups.names].map(([id, name]) => ({ id, name })).sort((a, b) => byName(a.name, b.name));
    this.place = new Map(this.rows.map((row, at) => [row.id, at]));
  }

  each(take: (pair: Pair & { lines: readonly number[]; columns: readonly number[] }) => void): void {
    const { by, family, signIn: entry } = this.request;
    const probe = entry ? signInProbe(entry.by) : (this.request.probe ?? ECHO);
    const { reach, layer3, instances } = this.asked;
    const translators = new Set(layer3.translators.map(({ instance }) => instance.id));
    // Who reaches a device is answered by whoever listens there, and let in by what it is set to. Behind a device that
    // translates it may be another one that is asked, at another port.
    const answers = ({ device, address }: Target): ((from: string) => boolean) => {
      const isIn = entry && letsIn(instances.get(device)!, entry.by, entry.changing).answer === 'yes';
      if (isIn !== undefined) return () => isIn;
      if (probe.protocol !== 'tcp') return () => true;
      if (translators.has(device)) return (from) => isTaken(this.asked, reach.ask(from, { device, address }, probe));
      const listens = listensAt(this.asked, device, probe.port);
      return () => listens;
    };
    const placed = (ids: readonly string[]): number[] => ids.map((id) => this.place.get(id)!);
    const targets = reach
      .targets()
      .map((target, at) => ({ target, at }))
      .filter(({ target }) => !family || target.address.family === family)
      .map(({ target, at }) => ({
        target,
        at,
        columns: placed(this.groups.of(target.device, target.address.value)),
        listens: answers(target),
      }));
    for (const from of new Set(targets.map((target) => target.target.device))) {
      const own = layer3.nodes
        .get(from)!
        .interfaceStates.flatMap((interfaceState) => interfaceState.addresses.map((on) => on.address.value));
      const lines = placed(this.groups.of(from, null));
      const answerAt = reach.answersTo(from, probe);
      for (const { target, at, columns, listens } of targets) {
        if (target.device === from || own.includes(target.address.value)) continue;
        if (by === 'device' && instances.get(from)!.deviceId === instances.get(target.device)!.deviceId) continue;
        const { answer } = answerAt(at);
        take({ from, target, lines, columns, answer: answer === 'yes' && !listens(from) ? 'no' : answer });
      }
    }
  }

  reasonOf(from: string, { device, address }: Target): Reason {
    const { signIn: entry } = this.request;
    if (entry) {
      const { text } = signIn(this.asked, { from, to: device, address, ...entry });
      return { code: 'NO_ANSWER', text, at: { device } };
    }
    const { reason } = trace(this.asked, from, device, address, this.request.probe);
    const { name } = this.asked.instances.get(device)!;
    return (
      reason ?? { code: 'NO_ANSWER', text: `${name} is reached, but refuses: nothing listens there.`, at: { device } }
    );
  }
}

interface Groups {
  /** Names by id. */
  readonly names: ReadonlyMap<string, string>;
  /** The groups of an address of a device, or of the device as a sender. */
  of(device: string, address: bigint | null): readonly string[];
}

function groupsOf({ topology, instances, layer3, reach }: NetworkModel, { by, groups = {} }: GridRequest): Groups {
  const withAddress = [...instances.values()].filter((instance) =>
    layer3.nodes.get(instance.id)!.interfaceStates.some((each) => each.addresses.length),
  );
  if (by === 'subnet') {
    const subnets = new Map<string, [bigint, string][]>(
      withAddress.map(({ id }) => [
        id,
        layer3.nodes
          .get(id)!
          .interfaceStates.flatMap((interfaceState) =>
            interfaceState.addresses.map((on): [bigint, string] => [on.address.value, formatPrefix(subnetOf(on))]),
          ),
      ]),
    );
    // An address that no interface has counts in the subnet that it lies in.
    const around = new Map<bigint, string>();
    for (const { device, address } of reach.targets()) {
      if (subnets.get(device)?.some(([value]) => value === address.value)) continue;
      const subnet = withAddress
        .flatMap(({ id }) => layer3.nodes.get(id)!.interfaceStates.flatMap((each) => each.addresses.map(subnetOf)))
        .find((subnet) => contains(subnet, address));
      if (subnet) around.set(address.value, formatPrefix(subnet));
    }
    return {
      names: new Map([...subnets.values()].flat().map(([, prefix]) => [prefix, prefix])),
      of: (device, address) => {
        const own = (subnets.get(device) ?? []).filter(([value]) => address === null || value === address);
        const lent = address === null || own.length ? undefined : around.get(address);
        return [...new Set([...own.map(([, prefix]) => prefix), ...(lent === undefined ? [] : [lent])])];
      },
    };
  }
  if (by === 'group') {
    const present = new Set(withAddress.map((instance) => instance.deviceId));
    const names = Object.entries(groups).filter(([, { devices }]) => devices.some((device) => present.has(device)));
    return {
      names: new Map(names.map(([id, { name }]) => [id, name])),
      of: (device) => {
        const { deviceId } = instances.get(device)!;
        return names.filter(([, { devices }]) => devices.includes(deviceId)).map(([id]) => id);
      },
    };
  }
  const keyOf = new Map(
    withAddress.map(({ id, deviceId, device, model }) => [
      id,
      by === 'device' ? deviceId : by === 'site' ? (device.site ?? '') : model.kind,
    ]),
  );
  const nameOf = (key: string): string =>
    by === 'device'
      ? topology.devices[key]!.name
      : by === 'site'
        ? (topology.sites[key]?.name ?? 'without a site')
        : key.replaceAll('-', ' ');
  return {
    names: new Map([...new Set(keyOf.values())].map((key) => [key, nameOf(key)])),
    of: (device) => {
      const key = keyOf.get(device);
      return key === undefined ? [] : [key];
    },
  };
}
