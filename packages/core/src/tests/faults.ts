import { type Topology } from '../topology';

/** What may happen to a network: the number chooses the thing it happens to. */
export const FAULTS: Record<string, (topology: Topology, number: number) => void> = {
  breakLink: ({ links }, number) => {
    const id = pick(links, number);
    if (id) links[id]!.broken = true;
  },
  dropLink: ({ links }, number) => {
    const id = pick(links, number);
    if (id) delete links[id];
  },
  replug: ({ links }, number) => {
    const [one, other] = [pick(links, number), pick(links, number + 1)];
    if (one && other && one !== other) [links[one]!.b, links[other]!.b] = [links[other]!.b, links[one]!.b];
  },
  forget: ({ devices }, number) => {
    const settings = devices[pick(devices, number)!]!.settings ?? {};
    const key = pick(settings, Math.floor(number / 7)) as keyof typeof settings | undefined;
    if (key) delete settings[key];
  },
  portOff: ({ devices }, number) => {
    const ports = devices[pick(devices, number)!]!.ports ?? {};
    const key = pick(ports, Math.floor(number / 7));
    if (key) ports[key] = { ...ports[key], enabled: false };
  },
  otherVlan: ({ devices }, number) => {
    const ports = devices[pick(devices, number)!]!.ports ?? {};
    const key = pick(ports, Math.floor(number / 7));
    if (key) ports[key] = { ...ports[key], role: { kind: 'switched', mode: 'access', accessVlan: 1 + (number % 30) } };
  },
  otherAddress: ({ devices }, number) => {
    const faces = devices[pick(devices, number)!]!.interfaces ?? {};
    const key = pick(faces, Math.floor(number / 7));
    if (key)
      faces[key] = { ...faces[key]!, v4: { addresses: [`10.${number % 3}.0.${number % 250}/${8 + (number % 23)}`] } };
  },
  wildRoute: ({ devices }, number) => {
    const device = devices[pick(devices, number)!]!;
    const via = `10.${number % 4}.0.${1 + (number % 5)}`;
    device.settings = {
      ...device.settings,
      routes: [
        { prefix: `10.${number % 7}.0.0/16`, via },
        { prefix: '0.0.0.0/0', via },
      ],
    };
  },
  mend: ({ links }, number) => {
    const id = pick(links, number);
    if (id) delete links[id]!.broken;
  },
  rename: ({ devices }, number) => {
    devices[pick(devices, number)!]!.name = `N${number % 17}`;
  },
  power: ({ devices }, number) => {
    const device = devices[pick(devices, number)!]!;
    device.powered = device.powered === false;
  },
  leave: ({ devices, links }, number) => {
    const id = pick(devices, number)!;
    if (Object.keys(devices).length < 3) return;
    delete devices[id];
    for (const [key, { a, b }] of Object.entries(links)) if (a.device === id || b.device === id) delete links[key];
  },
  join: ({ devices, links }, number) => {
    const twin = pick(devices, number)!;
    const cable = Object.values(links).find(({ a, b }) => a.device === twin || b.device === twin);
    if (!cable || Object.keys(devices).length > 40) return;
    const id = `x${number}`;
    devices[id] = structuredClone(devices[twin]!);
    for (const face of Object.values(devices[id].interfaces ?? {}))
      if (face.v4?.addresses)
        face.v4.addresses = face.v4.addresses.map((address) => address.replace(/\d+\//, `${number % 250}/`));
    const [mine, other] = cable.a.device === twin ? [cable.a, cable.b] : [cable.b, cable.a];
    const busy = new Set(
      Object.values(links).flatMap(({ a, b }) => [`${a.device} ${a.port}`, `${b.device} ${b.port}`]),
    );
    const port = Object.keys(devices[other.device]!.ports ?? {}).find((key) => !busy.has(`${other.device} ${key}`));
    links[id] = { a: { ...mine, device: id }, b: { ...other, ...(port && { port }) }, medium: cable.medium };
  },
  costs: ({ devices }, number) => {
    const faces = devices[pick(devices, number)!]!.interfaces ?? {};
    const key = pick(faces, Math.floor(number / 7));
    if (key) faces[key] = { ...faces[key]!, ospf: { ...faces[key]!.ospf, cost: 1 + (number % 50) } };
  },
  filter: ({ devices }, number) => {
    const device = devices[pick(devices, number)!]!;
    const key = pick(device.interfaces ?? {}, Math.floor(number / 7));
    if (!key) return;
    const some = { kind: 'prefix' as const, prefix: `10.${number % 5}.0.0/16` };
    const rule = { action: number % 2 ? ('permit' as const) : ('deny' as const), proto: 'ip' as const };
    const filters = {
      kept: { name: 'kept', family: 4 as const, rules: [{ ...rule, src: some, dst: { kind: 'any' as const } }] },
    };
    device.settings = { ...device.settings, filters: { ...device.settings?.filters, ...filters } };
    device.interfaces![key] = { ...device.interfaces![key]!, [number % 3 ? 'filterIn4' : 'filterOut4']: 'kept' };
  },
  noTree: ({ devices }, number) => {
    const device = devices[pick(devices, number)!]!;
    device.settings = { ...device.settings, spanningTree: { on: false } };
  },
};
const pick = (map: object, number: number): string | undefined => {
  const keys = Object.keys(map).sort();
  return keys[number % keys.length];
};
