import {
  formatAddress,
  formatInterfaceAddress,
  isHostScope,
  networkAddress,
  broadcastAddress,
  sameAddress,
  subnetOf,
} from '../../address';
import { entriesById } from '../../topology';
import { filterLintsOf } from './filter-lints';
import { lintsOf } from './lints';
import { type NetworkModel } from '../analysis';
import { type Reason } from '../devices';
import { realmsOf } from '../forwarding';
import { serviceLintsOf } from './service-lints';
import { treeLintsOf } from './spanning-tree-lints';

/**
 * What is wrong in a drawing as far as it can be told without a spec: links that do not come up, ports and supplies
 * that are off, addresses that cannot be read or used, names and addresses that are there twice, and what works only
 * in part. In a fixed order: names, links, power, addresses, and what is unlikely to be meant.
 */
export function problemsOf(model: NetworkModel): Reason[] {
  return [
    ...nameProblems(model),
    ...linkReasons(model),
    ...powerProblems(model),
    ...addressProblems(model),
    ...lintsOf(model),
    ...serviceLintsOf(model),
    ...treeLintsOf(model),
    ...filterLintsOf(model),
  ];
}

function nameProblems({ instances }: NetworkModel): Reason[] {
  const byName = new Map<string, string[]>();
  for (const { id, name } of instances.values()) byName.set(name.trim(), [...(byName.get(name.trim()) ?? []), id]);
  return [...byName].flatMap(([name, ids]): Reason[] => {
    if (!name) return ids.map((id) => ({ code: 'NO_NAME', text: 'A device has no name.', at: { device: id } }));
    return ids.length > 1
      ? [{ code: 'NAME_TWICE', text: `${ids.length} devices are called "${name}".`, at: { device: ids[1]! } }]
      : [];
  });
}

function linkReasons({ layer1, layer2 }: NetworkModel): Reason[] {
  const dark = new Set([...layer1.unpowered.values()].map((reason) => reason.text));
  return [
    // Without power all links of a device are down: that is said once, for the device. Cables that wait for use are none.
    ...[...new Set(layer1.links.values())].flatMap(({ reason, warnings }) => [
      ...(reason && !dark.has(reason.text) && reason.code !== 'CHANNEL_SPARE' ? [reason] : []),
      ...warnings,
    ]),
    ...layer2.warnings,
  ];
}

const powerProblems = ({ layer1 }: NetworkModel): Reason[] => [...layer1.unpowered.values()];

function addressProblems(model: NetworkModel): Reason[] {
  const { instances, layer3 } = model;
  const realmOf = realmsOf(model);
  const problems = [...layer3.nodes.values()].flatMap((node) => {
    // With no interface up, that the gateway cannot be reached is no mistake of its own.
    const up = node.interfaceStates.some((interfaceState) => interfaceState.up);
    return node.refused.filter((reason) => up || reason.code !== 'GATEWAY_OUTSIDE');
  });
  const users = new Map<string, { text: string; list: { device: string; key: string }[] }>();
  for (const node of layer3.nodes.values())
    for (const state of node.interfaceStates) {
      const { key, addresses } = state;
      for (const on of addresses) {
        const { name, id } = node.instance;
        const text = formatAddress(on.address);
        const known = `${text} ${realmOf(state, on.address.family)}`;
        const user = { device: id, key };
        const before = users.get(known);
        if (before) before.list.push(user);
        else users.set(known, { text, list: [user] });
        const subnet = subnetOf(on);
        const at = { device: id, port: key };
        const [network, broadcast] = [networkAddress(subnet), broadcastAddress(subnet)];
        if (network && on.address.family === 4 && sameAddress(network, on.address))
          problems.push({
            code: 'ADDRESS_NOT_USABLE',
            text: `${name} has ${formatInterfaceAddress(on)}: that is the network address of its subnet.`,
            at,
          });
        else if (broadcast && sameAddress(broadcast, on.address))
          problems.push({
            code: 'ADDRESS_NOT_USABLE',
            text: `${name} has ${formatInterfaceAddress(on)}: that is the broadcast address of its subnet.`,
            at,
          });
        else if (!isHostScope(on.address))
          problems.push({
            code: 'ADDRESS_NOT_USABLE',
            text: `${name} has ${text}: such an address belongs to no single device.`,
            at,
          });
      }
    }
  for (const [, { text, list }] of entriesById(Object.fromEntries(users)))
    if (list.length > 1) {
      const names = list.map((place) => instances.get(place.device)!.name).join(' and ');
      // Others go by a router's address: where a host has it as well, the host is the one that moves.
      const { device, key } = list.findLast((place) => !instances.get(place.device)!.model.forwards) ?? list[1]!;
      problems.push({
        code: 'DUPLICATE_ADDRESS',
        text: `${text} is used by ${names}.`,
        at: { device, port: key },
      });
    }
  return problems;
}
