// Labs of 5 to 60 devices, each made from its number alone: what arranging is measured on, and tested on.
'use strict';

/** Numbers from 0 up to 1 that a seed decides (mulberry32). */
function chance(seed) {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
}

/** The lab with a number: routers as a line, a ring or a star, a firewall between, switches in one or two steps, hosts, telephones with computers behind, access points with tablets. */
exports.seededLab = (seed) => {
  const next = chance(seed * 7919 + 1);
  const upTo = (most) => Math.floor(next() * (most + 1));
  const wanted = 5 + upTo(55);
  const topology = { format: 'sobrin-topology', version: 3, sites: {}, devices: {}, links: {} };
  const ports = {};
  const counts = {};
  const sites = wanted > 20 ? 1 + upTo(2) : 1;
  const size = () => Object.keys(topology.devices).length;
  const add = (word, model, site) => {
    counts[word] = (counts[word] ?? 0) + 1;
    const id = `${word}-${counts[word]}`;
    const at = size();
    if (sites > 1) topology.sites[`s${site}`] = { name: `Site ${site + 1}` };
    topology.devices[id] = {
      name: id,
      model,
      at: { x: (at % 8) * 180, y: Math.floor(at / 8) * 140 },
      ...(sites > 1 && { site: `s${site}` }),
    };
    return id;
  };
  const link = (a, b, medium = 'straight') => {
    const end = (device) => {
      ports[device] = (ports[device] ?? 0) + 1;
      return { device, port: `x${ports[device]}` };
    };
    topology.links[`l${Object.keys(topology.links).length + 1}`] = { a: end(a), b: end(b), medium };
  };
  const routers = Array.from({ length: 1 + upTo(Math.min(4, Math.floor(wanted / 8))) }, (_one, at) =>
    add('RT', 'border-router', at % sites),
  );
  const form = upTo(2);
  for (const [at, router] of routers.entries()) {
    if (at === 0) continue;
    link(form === 2 ? routers[0] : routers[at - 1], router);
  }
  if (form === 1 && routers.length > 2) link(routers[0], routers.at(-1));
  if (next() < 0.3) link(add('CLOUD', 'provider-cloud', 0), routers[0]);
  if (next() < 0.3) {
    const wall = add('FW', 'firewall', 0);
    link(routers[0], wall);
    link(wall, add('SRV', 'server', 0));
  }
  const switches = [];
  // Two cores that every switch of the first site is linked to: whatever fails, the other one carries.
  const cores = wanted > 12 && next() < 0.35 ? [add('CORE', 'l3-switch', 0), add('CORE', 'l3-switch', 0)] : [];
  if (cores.length) link(...cores);
  for (const core of cores) link(routers[0], core);
  for (const [at, router] of routers.entries()) {
    const first = add('SW', 'access-switch-20', at % sites);
    if (at === 0 && cores.length) for (const core of cores) link(core, first);
    else link(router, first);
    switches.push([first, at % sites]);
    if (size() + 4 > wanted) break;
    for (let below = upTo(3); below > 0 && size() < wanted; below--) {
      const access = add('SW', 'access-switch-12', at % sites);
      if (at === 0 && cores.length) for (const core of cores) link(core, access);
      else link(first, access);
      switches.push([access, at % sites]);
    }
    const [one, two] = [switches.at(-2)?.[0], switches.at(-1)[0]];
    if (next() < 0.3 && one && one !== first && two !== first) link(one, two);
  }
  while (size() < wanted) {
    const [parent, site] = switches[upTo(switches.length - 1)];
    const kind = next();
    if (kind < 0.12) {
      const phone = add('PHONE', 'phone', site);
      link(parent, phone);
      if (size() < wanted) link(phone, add('PC', 'desktop', site));
    } else if (kind < 0.2) {
      const point = add('AP', 'access-point', site);
      link(parent, point);
      for (let clients = upTo(3); clients > 0 && size() < wanted; clients--)
        link(point, add('TAB', 'tablet', site), 'wireless');
    } else if (kind < 0.3) link(parent, add('SRV', 'server', site));
    else link(parent, add('PC', 'desktop', site));
  }
  return topology;
};

/** How often ways cross: pairs of sections that meet in one point inside of both. */
exports.crossingsOf = (ways) => {
  const sections = ways.flatMap((way, of) => way.slice(1).map((to, at) => ({ of, from: way[at], to })));
  const side = (p, q, r) => Math.sign((q.x - p.x) * (r.y - p.y) - (q.y - p.y) * (r.x - p.x));
  let count = 0;
  for (const [at, one] of sections.entries())
    for (const two of sections.slice(at + 1)) {
      if (one.of === two.of) continue;
      const isBetween = (a, b) => side(a.from, a.to, b.from) * side(a.from, a.to, b.to) < 0;
      if (isBetween(one, two) && isBetween(two, one)) count++;
    }
  return count;
};
