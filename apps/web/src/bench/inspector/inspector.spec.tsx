import { act, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { type BenchStore } from '../bench-store';
import { type Selection } from '../../drawing/selection';
import { fill, openInspector } from '../../tests/bench';

const start = (): Topology => ({
  ...emptyTopology(),
  title: 'Two stations',
  sites: { v: { name: 'Valley' }, h: { name: 'Hall', parent: 'v' } },
  devices: {
    r: {
      name: 'RT-1',
      model: 'modular-router',
      at: { x: 0, y: 0 },
      settings: { hostname: 'RT-1', routes: [{ prefix: '10.84.8.0/22', via: '10.84.15.2' }] },
    },
    s: { name: 'SW-1', model: 'access-switch-12', at: { x: 0, y: 100 }, site: 'v' },
    h: {
      name: 'DESK-1',
      model: 'desktop',
      at: { x: 0, y: 200 },
      interfaces: { e0: { on: { kind: 'port', port: 'e0' }, v4: { addresses: ['10.84.1.11/26'] } } },
    },
    c: { name: 'CAM-1', model: 'camera', at: { x: 90, y: 200 } },
  },
  links: {
    up: { a: { device: 'r', port: 'g0' }, b: { device: 's', port: 'u1' }, medium: 'straight', cableId: 'KR-1' },
    l: { a: { device: 's', port: 'p1' }, b: { device: 'h', port: 'e0' }, medium: 'crossover' },
  },
});

const open = (selection: Partial<Selection>, showsEngine = true, about = false): BenchStore =>
  openInspector(start(), selection, { showsEngine, about });
const device = (store: BenchStore, id: string) => store.getState().document.devices[id]!;
test('nothing chosen, nothing shown; the drawing’s own fields when asked for', async () => {
  open({});
  expect(screen.queryByLabelText('Inspector')).toBeNull();
  const store = open({}, true, true);
  await fill('Title', 'Three stations');
  expect(store.getState().document.title).toBe('Three stations');
  await userEvent.clear(screen.getByLabelText('Title'));
  await userEvent.tab();
  expect(store.getState().document).not.toHaveProperty('title');
});

describe('a host', () => {
  test('is renamed, addressed and given a gateway', async () => {
    const store = open({ devices: ['h'] });
    await fill('Name', 'DESK-2');
    await fill('Address of e0', '10.84.1.12/26');
    await fill('Gateway', '10.84.1.1');
    await fill('DNS server', '10.84.1.2');
    expect(device(store, 'h')).toMatchObject({
      name: 'DESK-2',
      interfaces: { e0: { v4: { addresses: ['10.84.1.12/26'] } } },
      settings: { gateway4: '10.84.1.1', dns: ['10.84.1.2'] },
    });
  });
  test('a phone carries an address at its own port, not where a computer is plugged in behind it', async () => {
    const topology = start();
    topology.devices.t = { name: 'TEL-1', model: 'phone', at: { x: 0, y: 300 } };
    const store = openInspector(topology, { devices: ['t'] }, { showsEngine: true, about: false });
    await fill('Address of e0', '10.84.3.11/24');
    expect(device(store, 't').interfaces!.e0!.v4).toEqual({ addresses: ['10.84.3.11/24'] });
    expect(screen.queryByLabelText('Address of d0')).toBeNull();
  });
  test('an IPv6 address typed into the address field goes where it belongs', async () => {
    const store = open({ devices: ['h'] });
    await fill('Address of e0', 'fd5e:7a3c:90b1::11/64');
    expect(device(store, 'h').interfaces!.e0).toMatchObject({
      v4: { addresses: ['10.84.1.11/26'] },
      v6: { addresses: ['fd5e:7a3c:90b1::11/64'] },
    });
  });
  test.each([
    ['10.84.1. 12/26', /space/],
    ['10.84.1.12', /prefix length/],
    ['10.84.1.12/33', /33/],
    ['10.84.1.256/26', /256/],
  ])('the mistake in %s is said while it is typed, and it is taken all the same', async (text, sentence) => {
    const store = open({ devices: ['h'] });
    const field = screen.getByLabelText('Address of e0');
    await userEvent.clear(field);
    await userEvent.type(field, text);
    expect(field).toHaveAccessibleDescription(sentence);
    await userEvent.keyboard('{Enter}');
    expect(device(store, 'h').interfaces!.e0!.v4!.addresses).toEqual([text]);
  });
  test('goes to a site, is switched off, and is removed with its links', async () => {
    const store = open({ devices: ['h'] });
    await userEvent.selectOptions(screen.getByLabelText('Site'), 'Hall');
    await userEvent.selectOptions(screen.getByLabelText('Power'), 'off');
    expect(device(store, 'h')).toMatchObject({ site: 'h', powered: false });
    await userEvent.click(screen.getByRole('button', { name: 'Remove this device' }));
    expect(Object.keys(store.getState().document.devices)).not.toContain('h');
    expect(Object.keys(store.getState().document.links)).toEqual(['up']);
    act(() => store.getState().undo());
    expect(store.getState().document).toMatchObject({
      devices: { h: { powered: false } },
      links: { l: { medium: 'crossover' } },
    });
  });
  test('only what is fed over its cable may have a supply of its own', () => {
    open({ devices: ['h'] });
    expect(within(screen.getByLabelText('Power')).queryByText(/own supply/)).toBeNull();
    open({ devices: ['c'] });
    expect(screen.getAllByText(/own supply/)).toHaveLength(1);
  });
});

describe('a router', () => {
  test('its hostname follows its name as long as they are the same', async () => {
    const store = open({ devices: ['r'] });
    await fill('Name', 'RT-V');
    expect(device(store, 'r').settings!.hostname).toBe('RT-V');
    await fill('Hostname', 'border');
    await fill('Name', 'RT-W');
    expect(device(store, 'r').settings!.hostname).toBe('border');
  });
  test('a module brings its ports, and takes them along when it is pulled out', async () => {
    const store = open({ devices: ['r'] });
    expect(screen.queryByLabelText('Address of b1/f0')).toBeNull();
    await userEvent.selectOptions(screen.getByLabelText('Module in b1'), 'Single-mode fibre transceiver');
    await fill('Address of b1/f0', '10.84.15.1/30');
    expect(device(store, 'r').modules).toEqual({ b1: 'fibre-sm' });
    await userEvent.selectOptions(screen.getByLabelText('Module in b1'), 'empty');
    expect(device(store, 'r')).not.toHaveProperty('modules');
    expect(device(store, 'r')).not.toHaveProperty('interfaces');
  });
  test('routes are typed into a list, one after the other', async () => {
    const store = open({ devices: ['r'] });
    await userEvent.click(screen.getByRole('button', { name: 'Add a route' }));
    await userEvent.type(screen.getByLabelText('Route 2: prefix'), '0.0.0.0/0{Enter}');
    await userEvent.type(screen.getByLabelText('Route 2: next hop'), '10.84.15.6{Enter}');
    expect(device(store, 'r').settings!.routes).toEqual([
      { prefix: '10.84.8.0/22', via: '10.84.15.2' },
      { prefix: '0.0.0.0/0', via: '10.84.15.6' },
    ]);
    await userEvent.click(screen.getByRole('button', { name: 'Remove route 1' }));
    await userEvent.click(screen.getByRole('button', { name: 'Remove route 1' }));
    expect(device(store, 'r').settings).toEqual({ hostname: 'RT-1' });
  });
  test('host bits in the prefix of a route are named', async () => {
    open({ devices: ['r'] });
    const field = screen.getByLabelText('Route 1: prefix');
    await userEvent.clear(field);
    await userEvent.type(field, '10.84.8.1/22');
    expect(field).toHaveAccessibleDescription(/10\.84\.8\.0\/22/);
  });
});

describe('a switch', () => {
  test('a port is labelled, slowed and switched off; defaults leave nothing behind', async () => {
    const store = open({ devices: ['s'] });
    await userEvent.click(screen.getByRole('button', { name: 'Settings of u1' }));
    await fill('Label of u1', 'to RT-1');
    await userEvent.selectOptions(screen.getByLabelText('Speed of u1'), '100 Mb/s');
    await userEvent.selectOptions(screen.getByLabelText('Duplex of u1'), 'half');
    await userEvent.selectOptions(screen.getByLabelText('u1 is'), 'off');
    expect(device(store, 's').ports).toEqual({ u1: { label: 'to RT-1', speed: 100, duplex: 'half', enabled: false } });
    await userEvent.selectOptions(screen.getByLabelText('Speed of u1'), 'automatic');
    await userEvent.selectOptions(screen.getByLabelText('u1 is'), 'on');
    await userEvent.clear(screen.getByLabelText('Label of u1'));
    await userEvent.tab();
    expect(device(store, 's')).not.toHaveProperty('ports');
  });
  test('of each port of a switch it is told which VLANs it bears', () => {
    const drawing = start();
    const switched = { kind: 'switched' as const };
    drawing.devices.s!.ports = {
      p1: { role: { ...switched, mode: 'access', accessVlan: 20, voiceVlan: 50 } },
      u1: { role: { ...switched, mode: 'trunk', allowed: [10, 11, 12, 20] } },
      u2: { role: { ...switched, mode: 'trunk' } },
    };
    openInspector(drawing, { devices: ['s'] }, { showsEngine: true });
    for (const words of ['VLAN 20, voice 50', 'tagged 10-12, 20', 'tagged all'])
      expect(screen.getByText(words)).toBeInTheDocument();
  });
  test('what is plugged in is told, and why a link is down', () => {
    open({ devices: ['s'] });
    const ports = screen.getByRole('region', { name: 'Ports' });
    expect(within(ports).getByText('2 of 17 connected')).toBeInTheDocument();
    expect(within(ports).getByText('DESK-1 e0')).toBeInTheDocument();
    expect(within(ports).getByText(/SW-1 p1.*DESK-1 e0.*straight/)).toBeInTheDocument();
  });
  test('where the lab wants it, nothing is told', () => {
    open({ devices: ['s'] }, false);
    expect(screen.queryByText(/straight/)).toBeNull();
    expect(screen.queryByLabelText('wrong cable')).toBeNull();
  });
});

describe('a link', () => {
  test('its medium, identifier and length are set; a length that is none is said', async () => {
    const store = open({ links: ['l'] });
    const link = () => store.getState().document.links.l!;
    await userEvent.selectOptions(screen.getByLabelText('Medium'), 'straight-through copper');
    await fill('Cable identifier', 'KR-021');
    await fill('Length in metres', '12,5 m');
    expect(link()).toMatchObject({ medium: 'straight', cableId: 'KR-021', lengthM: 12.5 });
    const length = screen.getByLabelText('Length in metres');
    await userEvent.clear(length);
    await userEvent.type(length, 'long');
    expect(length).toHaveAccessibleDescription(/number of metres/);
  });
  test('an end is plugged into another port; taken ones are said to be taken', async () => {
    const store = open({ links: ['l'] });
    const choice = screen.getByLabelText('Port of SW-1');
    expect(within(choice).getByText('u1 (taken)')).toBeInTheDocument();
    await userEvent.selectOptions(choice, 'p7');
    expect(store.getState().document.links.l!.a.port).toBe('p7');
  });
  test('its end is plugged into another device by a field, with the cable that it is; one without a free port says so', async () => {
    const store = open({ links: ['l'] });
    const other = screen.getByLabelText('Device at the other end');
    expect(within(other).queryByText('SW-1')).toBeNull();
    await userEvent.selectOptions(other, 'RT-1');
    expect(store.getState().document.links.l).toMatchObject({
      a: { device: 's', port: 'p1' },
      b: { device: 'r' },
      medium: 'crossover',
    });
    expect(store.getState().document.links.l!.b.port).not.toBe('g0');
    expect(screen.queryByRole('alert')).toBeNull();
  });
  test('that a person bent through a device is told, until it is let lie by itself', async () => {
    const bent = start();
    bent.links.l!.bends = [
      { x: 110, y: 150 },
      { x: 110, y: 220 },
      { x: 60, y: 245 },
    ];
    openInspector(bent, { links: ['l'] }, { showsEngine: true });
    expect(screen.getByText(/Runs beneath CAM-1/)).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: 'Undo bends and moved texts' }));
    expect(screen.queryByText(/Runs beneath/)).toBeNull();
  });
  test('showsEngine its state and the reason in a sentence', () => {
    open({ links: ['l'] });
    expect(screen.getByRole('status')).toHaveTextContent(/Wrong cable or no match.*straight/);
    open({ links: ['up'] });
    expect(screen.getAllByRole('status')[1]).toHaveTextContent('Passes traffic, 1 Gb/s');
  });
});

test('a site is renamed and nested, but never into itself or what lies in it', async () => {
  const store = open({ sites: ['v'] });
  await fill('Name of the site', 'Valley Station');
  expect(store.getState().document.sites.v!.name).toBe('Valley Station');
  expect(
    within(screen.getByLabelText('Lies in'))
      .getAllByRole('option')
      .map((element) => element.textContent),
  ).toEqual(['no other site']);
  const inner = open({ sites: ['h'] });
  await userEvent.selectOptions(screen.getAllByLabelText('Lies in')[1]!, 'no other site');
  expect(inner.getState().document.sites.h).toEqual({ name: 'Hall' });
});

test('a device is tinted, several are, and what differs is told', async () => {
  const store = open({ devices: ['h'] });
  await userEvent.selectOptions(screen.getByLabelText('Tint'), 'sky');
  expect(device(store, 'h').tint).toBe(5);
  await userEvent.selectOptions(screen.getByLabelText('Tint'), 'none');
  expect(device(store, 'h')).not.toHaveProperty('tint');
  await userEvent.selectOptions(screen.getByLabelText('Tint'), 'rose');
  act(() => store.getState().select({ devices: ['h', 'c'], links: [], sites: [] }));
  expect(screen.getByLabelText('Tint of all of them')).toHaveDisplayValue('different ones');
  await userEvent.selectOptions(screen.getByLabelText('Tint of all of them'), 'green');
  expect([device(store, 'h').tint, device(store, 'c').tint]).toEqual([3, 3]);
});

test('a link has a word, a tint beside it and never without, and its line is thick and square', async () => {
  const store = open({ links: ['up'] });
  const link = () => store.getState().document.links.up!;
  expect(screen.queryByLabelText('Tint beside its word')).toBeNull();
  await fill('Word in its middle', 'Pylon cable');
  await userEvent.selectOptions(screen.getByLabelText('Tint beside its word'), 'violet');
  await userEvent.selectOptions(screen.getByLabelText('How thick its line is'), 'thick, 1½');
  await userEvent.selectOptions(screen.getByLabelText('Form of its bends'), 'square');
  expect(link()).toMatchObject({ label: 'Pylon cable', tint: 8, thickness: 'thick', corners: 'square' });
  await userEvent.clear(screen.getByLabelText('Word in its middle'));
  await userEvent.tab();
  expect(link()).not.toHaveProperty('tint');
  expect(link()).not.toHaveProperty('label');
});

test('several things are counted and removed together', async () => {
  const store = open({ devices: ['h', 'c'], links: ['up'] });
  expect(screen.getByText('2 devices, 1 link')).toBeInTheDocument();
  await userEvent.click(screen.getByRole('button', { name: 'Remove all of them' }));
  expect([Object.keys(store.getState().document.devices), store.getState().document.links]).toEqual([['r', 's'], {}]);
  act(() => store.getState().undo());
  expect(store.getState().document).toEqual(start());
});

test('the panel is made wider by its edge, within bounds, and that is remembered', async () => {
  open({ devices: ['h'] });
  const edge = screen.getByRole('separator', { name: 'Width of this panel' });
  const before = Number(edge.getAttribute('aria-valuenow'));
  act(() => edge.focus());
  await userEvent.keyboard('{ArrowLeft}{ArrowLeft}');
  expect(edge).toHaveAttribute('aria-valuenow', String(before + 32));
  expect(localStorage.getItem('sobrin-preferences')).toContain(`"panelWidth":${before + 32}`);
  await userEvent.keyboard('{ArrowRight>40/}');
  expect(edge).toHaveAttribute('aria-valuenow', edge.getAttribute('aria-valuemin'));
});

test('gateways, DNS, VLAN, leases and power are set at several hosts at once; what differs is told', async () => {
  const drawing = start();
  drawing.devices.h!.settings = { gateway4: '10.84.1.1' };
  drawing.links.k = { a: { device: 's', port: 'p2' }, b: { device: 'c', port: 'e0' }, medium: 'straight' };
  const store = openInspector(drawing, { devices: ['h', 'c'] }, { showsEngine: true });
  expect(screen.getByLabelText('Gateway of all of them')).toHaveAttribute('placeholder', 'different ones');
  await fill('Gateway of all of them', '10.84.1.62');
  await fill('DNS server of all of them', 'nobody');
  expect(screen.getByLabelText('DNS server of all of them')).toBeInvalid();
  await fill('DNS server of all of them', '10.84.1.2');
  await fill('VLAN of the ports they are plugged into', '20');
  await userEvent.selectOptions(screen.getByLabelText('Power of all of them'), 'off');
  const now = () => store.getState().document.devices;
  for (const id of ['h', 'c'])
    expect(now()[id]).toMatchObject({ powered: false, settings: { gateway4: '10.84.1.62', dns: ['10.84.1.2'] } });
  for (const port of ['p1', 'p2'])
    expect(now().s!.ports![port]).toMatchObject({ role: { kind: 'switched', mode: 'access', accessVlan: 20 } });
  expect(now().s!.settings!.vlans).toEqual({ 20: 'VLAN 20' });
  await userEvent.click(screen.getByRole('button', { name: 'Automatic for all of them' }));
  for (const id of ['h', 'c']) {
    expect(now()[id]!.interfaces!.e0!.v4).toEqual({ dhcp: true });
    expect(now()[id]!.settings).not.toHaveProperty('gateway4');
  }
});

test('a note that nothing was written on is gone after Escape; one with a text stays', async () => {
  const drawing = start();
  drawing.notes = { n: { text: '', at: { x: 0, y: 0 } }, m: { text: 'Mast', at: { x: 0, y: 90 } } };
  const store = openInspector(drawing, { notes: ['n'] });
  await userEvent.type(screen.getByLabelText('Text of the note'), 'no, after all{Escape}');
  expect(Object.keys(store.getState().document.notes!)).toEqual(['m']);
  const other = openInspector(drawing, { notes: ['m'] });
  await userEvent.type(screen.getAllByLabelText('Text of the note').at(-1)!, '{Escape}');
  expect(Object.keys(other.getState().document.notes!)).toEqual(['n', 'm']);
});
