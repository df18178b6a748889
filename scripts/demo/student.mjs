// Turns a reference into what a student handed in: other ids, other names, another layout, and the student's own mistakes.

/** A small repeatable source of numbers (mulberry32). */
function numbers(seed) {
  let state = seed * 0x9e3779b9;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

const shuffled = (list, next) => list.map((item) => [next(), item]).sort((a, b) => a[0] - b[0]).map(([, item]) => item);

/** Where things stand: everybody draws differently. */
const LAYOUTS = {
  same: ({ x, y }) => ({ x, y }),
  mirrored: ({ x, y }) => ({ x: 1400 - x, y }),
  turned: ({ x, y }) => ({ x: y * 1.9, y: x * 1.45 }),
  wide: ({ x, y }) => ({ x: x * 1.25, y: y * 1.15 + 20 }),
};

/** The submission file of a student. `names` maps names of the reference to the student's; `mistakes` change the drawing. */
export function handIn(reference, { student, names = {}, sites = {}, layout = 'same', mistakes = [] }, seed) {
  const next = numbers(seed);
  const drawing = structuredClone(reference);
  drawing.author = student;
  for (const mistake of mistakes) mistake(drawing);
  const ids = new Map(shuffled(Object.keys(drawing.devices), next).map((id, at) => [id, `n${at + 1}`]));
  const siteIds = new Map(Object.keys(drawing.sites).map((id, at) => [id, `place${at + 1}`]));
  const result = { ...drawing, sites: {}, devices: {}, links: {} };
  for (const [id, site] of Object.entries(drawing.sites)) result.sites[siteIds.get(id)] = { ...site, name: sites[site.name] ?? site.name };
  for (const [id, device] of Object.entries(drawing.devices)) {
    const name = names[device.name] ?? device.name;
    const settings = { ...device.settings };
    if (settings.hostname === device.name) settings.hostname = name;
    const { x, y } = LAYOUTS[layout](device.at);
    result.devices[ids.get(id)] = { ...device, name, settings, at: { x: Math.round(x), y: Math.round(y) }, ...(device.site && { site: siteIds.get(device.site) }) };
  }
  for (const [at, { bends, ...link }] of shuffled(Object.values(drawing.links), next).entries())
    result.links[`c${at + 1}`] = { ...link, ...(bends && layout === 'same' && { bends }), a: { ...link.a, device: ids.get(link.a.device) }, b: { ...link.b, device: ids.get(link.b.device) } };
  return { format: 'sobrin-submission', version: 3, student, topology: result };
}

// The mistakes, each as product.md's list has them. All speak in the reference's ids.
const face = (drawing, device, key = 'e0') => drawing.devices[device].interfaces[key];
export const address = (device, text, key) => (drawing) => void (face(drawing, device, key).v4 = { addresses: [text] });
export const noAddress = (device, key) => (drawing) => void delete face(drawing, device, key).v4;
export const gateway = (device, text) => (drawing) => {
  if (text === undefined) delete drawing.devices[device].settings.gateway4;
  else drawing.devices[device].settings.gateway4 = text;
};
export const medium = (link, kind) => (drawing) => void (drawing.links[link].medium = kind);
export const port = (device, key, set) => (drawing) => {
  const ports = (drawing.devices[device].ports ??= {});
  ports[key] = { ...ports[key], ...set };
};
export const unlabelled = (device, key) => (drawing) => void delete drawing.devices[device].ports[key].label;
export const replug = (link, end, key) => (drawing) => {
  const { device, port: old } = drawing.links[link][end];
  drawing.links[link][end] = { device, port: key };
  const ports = drawing.devices[device].ports;
  if (ports?.[old]) {
    ports[key] = { ...ports[key], ...ports[old] };
    delete ports[old];
  }
};
export const unplug = (link) => (drawing) => void delete drawing.links[link];
export const rename = (device, name) => (drawing) => {
  const found = drawing.devices[device];
  if (found.settings.hostname === found.name) found.settings.hostname = name;
  found.name = name;
};
export const hostname = (device, name) => (drawing) => void (drawing.devices[device].settings.hostname = name);
export const site = (device, id) => (drawing) => void (drawing.devices[device].site = id);
export const routes = (device, list) => (drawing) => void (drawing.devices[device].settings.routes = list);
export const forwardingOff = (device) => (drawing) => void (drawing.devices[device].settings.forwarding = { v4: false });
export const model = (device, id) => (drawing) => void (drawing.devices[device].model = id);
export const remove = (device) => (drawing) => {
  delete drawing.devices[device];
  for (const [id, link] of Object.entries(drawing.links)) if (link.a.device === device || link.b.device === device) delete drawing.links[id];
};
export const extra = (id, device) => (drawing) => void (drawing.devices[id] = device);
export const untitled = (drawing) => void delete drawing.title;
export const noLegend = (drawing) => void delete drawing.legend;
export const routerAddress = (device, key, text) => (drawing) => void (face(drawing, device, key).v4 = { addresses: [text] });
