import { canonicalJson, type Device, type Topology } from '../topology';
import { demoLab } from '../tests/topologies';
import { checkSubmission } from '.';

/**
 * A drawing in which hosts that differ by name and addresses alone are one tile of as many members. A tile's settings are
 * those of all of its members.
 */
function inTiles(topology: Topology): { drawing: Topology; tiles: number } {
  const { devices, links, ...rest } = structuredClone(topology);
  const alike = new Map<string, string[]>();
  for (const [id, device] of Object.entries(devices)) {
    if (
      device.model !== 'desktop' &&
      device.model !== 'controller' &&
      device.model !== 'camera' &&
      device.model !== 'till'
    )
      continue;
    const { name: _name, at: _at, interfaces: _own, ...common } = device;
    const key = canonicalJson(common);
    alike.set(key, [...(alike.get(key) ?? []), id]);
  }
  const memberOf = new Map<string, string>();
  for (const [nth, ids] of [...alike.values()].entries()) {
    if (ids.length < 2) continue;
    const first = devices[ids[0]!]!;
    const tile: Device = { ...first, name: `Tile ${nth}`, members: {} };
    delete tile.interfaces;
    for (const id of ids) {
      const { name, interfaces } = devices[id]!;
      tile.members![id] = { name, ...(interfaces && { interfaces }) };
      memberOf.set(id, `tile${nth}`);
      delete devices[id];
    }
    devices[`tile${nth}`] = tile;
  }
  const moved = Object.fromEntries(
    Object.entries(links).map(([id, link]) => {
      const end = <E extends { device: string }>(of: E): E => {
        const tile = memberOf.get(of.device);
        return tile === undefined ? of : { ...of, device: tile, member: of.device };
      };
      return [id, { ...link, a: end(link.a), b: end(link.b) }];
    }),
  );
  return { drawing: { ...rest, devices, links: moved }, tiles: new Set(memberOf.values()).size };
}

test.each(['valley-lan', 'three-stations', 'winch-isolation', 'summit-dual-stack'])(
  'like hosts drawn as one tile earn what as many tiles earn, in %s',
  (slug) => {
    const lab = demoLab(slug);
    const { drawing, tiles } = inTiles(lab.reference);
    expect(tiles).toBeGreaterThan(0);
    const { points, of, requirements } = checkSubmission(lab, drawing, lab.plan);
    const lost = requirements.filter(({ verdict }) => verdict !== 'met');
    expect(
      lost.flatMap(({ id, items }) => items.filter(({ met }) => met !== true).map(({ text }) => `${id} ${text}`)),
    ).toEqual([]);
    expect(points).toBe(of);
  },
);
