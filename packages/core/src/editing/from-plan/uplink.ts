import { entriesById } from '../../topology';
import { cableBetween } from '../cabling';
import { switchedRole } from '../change';
import { makeTrunks, putIntoVlan } from '../configuring';
import type { NewId } from '../place';
import type { Draft } from './draft';

/** A VLAN and its name at a switch; none at one that knows no VLANs. */
export function createVlan(draft: Draft, bridge: string, vlan: number, name: string): void {
  if (draft.model(bridge).bridges === 'vlan') draft.run(...putIntoVlan(draft.topology, bridge, [], vlan, name));
}

/** The cable between a router and its switch, laid where there is none: the router's port; the switch's becomes a trunk. */
export function uplink(
  draft: Draft,
  router: string,
  bridge: string | null,
  vlans: readonly number[],
  newId: NewId,
): string | null {
  if (bridge === null || bridge === router) return null;
  const between = (): { own: string; other: string } | undefined =>
    entriesById(draft.topology.links).flatMap(([, { a, b }]) =>
      a.device === router && b.device === bridge
        ? [{ own: a.port, other: b.port }]
        : b.device === router && a.device === bridge
          ? [{ own: b.port, other: a.port }]
          : [],
    )[0];
  if (!between()) {
    const link = cableBetween(draft.topology, { device: router }, { device: bridge });
    if (!link) {
      draft.left.push(
        `No cable fits between ${draft.name(router)} and ${draft.name(bridge)}: one of them has no free port.`,
      );
      return null;
    }
    draft.run({ kind: 'connect', id: newId('link'), link });
  }
  const ends = between();
  if (!ends) return null;
  if (vlans.length) {
    trunk(draft, bridge, ends.other, vlans);
    if (draft.model(router).bridges === 'vlan') {
      trunk(draft, router, ends.own, vlans);
    }
  }
  return ends.own;
}

/** A port carries these VLANs, too. */
function trunk(draft: Draft, device: string, port: string, vlans: readonly number[]): void {
  if (draft.model(device).bridges !== 'vlan') return;
  const now = switchedRole(draft.topology.devices[device]!, port);
  const carried = now.mode === 'trunk' ? (now.allowed ?? 'all') : [];
  if (carried === 'all') return;
  const allowed = [...new Set([...carried, ...vlans])].sort((a, b) => a - b);
  if (now.mode === 'trunk' && allowed.length === carried.length) return;
  draft.run(...makeTrunks(draft.topology, device, [port], allowed));
}
