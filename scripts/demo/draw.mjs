// Small words for building a drawing as plain data.

/** A host interface with one address. */
export const host = (name, model, site, x, y, address, gateway) => ({
  name, model, site, at: { x, y },
  interfaces: { e0: { on: { kind: 'port', port: 'e0' }, v4: { addresses: [address] } } },
  settings: { gateway4: gateway },
});

/** A router: interfaces as { port: address }. */
export const router = (name, model, site, x, y, addresses, more = {}) => ({
  name, model, site, at: { x, y }, ...more,
  interfaces: Object.fromEntries(Object.entries(addresses).map(([port, address]) => [port.replace('/', '.'), { on: { kind: 'port', port }, v4: { addresses: [address] } }])),
  settings: { hostname: name, ...more.settings },
});

export const netSwitch = (name, model, site, x, y) => ({ name, model, site, at: { x, y }, settings: { hostname: name } });

/** A cable: "RT-V g1" to "SW-V u1". Every port it joins gets its own name as label, as the labs ask for. */
export function cable(topology, id, from, to, medium = 'straight', more = {}) {
  const end = (text) => {
    const [device, port] = text.split(' ');
    return { device, port };
  };
  const [a, b] = [end(from), end(to)];
  topology.links[id] = { a, b, medium, ...more };
  for (const { device, port } of [a, b]) {
    const found = topology.devices[device];
    if (!found.settings.hostname) continue;
    found.ports = { ...found.ports, [port]: { ...found.ports?.[port], label: port } };
  }
}

export const sheet = (title, author, legend) => ({ format: 'sobrin-topology', version: 4, title, author, legend, sites: {}, devices: {}, links: {} });
