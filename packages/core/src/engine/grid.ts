import { type Family, formatPrefix, subnetOf } from '../address';
import { byName } from '../order';
import { type NetworkModel, analyse } from './model';
import { listensAt } from './listening';
import { type Probe, ECHO } from './trace';
import { type Switchable, switchedOff } from './what-if';

export type Grouping = 'device' | 'site' | 'subnet' | 'kind';
export interface GridWish {
  readonly by: Grouping;
  /** An echo where nothing is said. */
  readonly probe?: Probe | undefined;
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

export function gridOf(model: NetworkModel, { by, probe = ECHO, family, off = [] }: GridWish): Grid {
  const asked = off.length ? analyse(switchedOff(model.topology, off), model.options, model) : model;
  const { reach, layer3, instances } = asked;
  const groups = groupsOf(asked, by);
  const rows = [...groups.names].map(([id, name]) => ({ id, name })).sort((a, b) => byName(a.name, b.name));
  const place = new Map(rows.map((one, at) => [one.id, at]));
  const [yes, no, unsure] = [0, 1, 2].map(() => new Uint32Array(rows.length ** 2)) as [
    Grid['yes'],
    Grid['no'],
    Grid['unsure'],
  ];
  const targets = reach
    .targets()
    .map((target, at) => ({ target, at }))
    .filter(({ target }) => !family || target.address.family === family)
    .map(({ target, at }) => ({
      target,
      at,
      columns: groups.of(target.device, target.address.value).map((one) => place.get(one)!),
      listens: probe.protocol !== 'tcp' || listensAt(asked, target.device, probe.port),
    }));
  const sources = new Set(targets.map((one) => one.target.device));
  for (const from of sources) {
    const own = layer3.nodes.get(from)!.attachments.flatMap((one) => one.addresses.map((on) => on.address.value));
    const lines = groups.of(from, null).map((one) => place.get(one)!);
    const answerAt = reach.answersTo(from, probe);
    for (const { target, at, columns, listens } of targets) {
      if (target.device === from || own.includes(target.address.value)) continue;
      if (by === 'device' && instances.get(from)!.deviceId === instances.get(target.device)!.deviceId) continue;
      const { answer } = answerAt(at);
      const count = answer === 'uncertain' ? unsure : answer === 'yes' && listens ? yes : no;
      for (const row of lines) for (const column of columns) count[row * rows.length + column]!++;
    }
  }
  return { by, rows, yes, no, unsure };
}

interface Groups {
  /** Names by id. */
  readonly names: ReadonlyMap<string, string>;
  /** The groups of an address of a device, or of the device as a sender. */
  of(device: string, address: bigint | null): readonly string[];
}

function groupsOf({ topology, instances, layer3 }: NetworkModel, by: Grouping): Groups {
  const withAddress = [...instances.values()].filter((one) =>
    layer3.nodes.get(one.id)!.attachments.some((each) => each.addresses.length),
  );
  if (by === 'subnet') {
    const subnets = new Map<string, [bigint, string][]>(
      withAddress.map(({ id }) => [
        id,
        layer3.nodes
          .get(id)!
          .attachments.flatMap((one) =>
            one.addresses.map((on): [bigint, string] => [on.address.value, formatPrefix(subnetOf(on))]),
          ),
      ]),
    );
    return {
      names: new Map([...subnets.values()].flat().map(([, prefix]) => [prefix, prefix])),
      of: (device, address) => [
        ...new Set(
          (subnets.get(device) ?? []).flatMap(([value, prefix]) =>
            address === null || value === address ? prefix : [],
          ),
        ),
      ],
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
