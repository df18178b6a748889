import { SIGN_IN_WAYS } from '@sobrin/core/engine';
import { sitesWithin } from '@sobrin/core/drawing';
import { EDGES } from '@sobrin/core/editing';
import { type Topology, entriesById } from '@sobrin/core/topology';
import { type PortSpot } from '../drawing/menu-target';
import { type Selection, isNothing } from '../drawing/selection';
import { type BenchActions, type BenchOpeners } from './use-bench-actions';

/** One thing to do on the bench: it stands in a menu, and can be typed into the command field. */
export interface MenuEntry {
  id: string;
  text: string;
  /** The key that does it as well. */
  keys?: string;
  group: 'add' | 'change' | 'arrange' | 'ask' | 'file';
  off?: boolean;
  run: () => void;
}

/** All of them, with what cannot be done just now marked as off. */
export function benchMenu(
  topology: Topology,
  selection: Selection,
  actions: BenchActions,
  opens: BenchOpeners,
): MenuEntry[] {
  const chosen = selection.devices;
  const inSites = new Set(selection.sites.flatMap((id) => [...sitesWithin(topology, id)]));
  const arrangeable = [
    ...chosen,
    ...entriesById(topology.devices).flatMap(([id, device]) =>
      inSites.has(device.site ?? '') && !chosen.includes(id) ? id : [],
    ),
  ];
  return [
    { id: 'kit', text: 'Add from the kit', keys: 'A', group: 'add', run: opens.kit },
    ...(opens.fromPlan
      ? [{ id: 'from-plan', text: 'Take from the plan…', keys: 'G', group: 'add' as const, run: opens.fromPlan }]
      : []),
    { id: 'link', text: 'Link by clicking', keys: 'L', group: 'add', run: () => opens.linking(chosen) },
    {
      id: 'link-choose',
      text: 'Link with ports and medium…',
      keys: 'Shift L',
      group: 'add',
      run: () => opens.link({ a: chosen[0] ?? null, b: chosen[1] ?? null }),
    },
    { id: 'site', text: 'Add a site', keys: 'S', group: 'add', run: () => void actions.addSite() },
    { id: 'note', text: 'Add a note', keys: 'N', group: 'add', run: actions.addNote },
    { id: 'comment', text: 'Comment', keys: 'C', group: 'add', run: actions.comment },
    {
      id: 'picture',
      text: 'Picture…',
      group: 'add',
      run: () => actions.picture(false),
    },
    {
      id: 'underlay',
      text: 'Picture to draw over…',
      group: 'add',
      run: () => actions.picture(true),
    },
    {
      id: 'duplicate',
      text: 'Duplicate',
      keys: 'Ctrl D',
      group: 'change',
      off: chosen.length === 0,
      run: () => void actions.duplicate(1),
    },
    ...(['on', 'off'] as const).map((power): MenuEntry => ({
      id: `switch-${power}`,
      text: `Switch ${power}`,
      group: 'change',
      off: !chosen.some((id) => (topology.devices[id]?.powered === false) === (power === 'on')),
      run: () => actions.power(power),
    })),
    ...(['break', 'mend'] as const).map((what): MenuEntry => ({
      id: what,
      text: what === 'break' ? 'Break the cable' : 'Take a whole cable',
      group: 'change',
      off: !selection.links.some((id) => (topology.links[id]?.broken === true) === (what === 'mend')),
      run: () => actions.breakCables(what === 'break'),
    })),
    { id: 'remove', text: 'Remove', keys: 'Del', group: 'change', off: isNothing(selection), run: actions.remove },
    {
      id: 'all',
      text: 'Choose everything',
      keys: 'Ctrl A',
      group: 'change',
      run: actions.chooseAll,
    },
    {
      id: 'rename',
      text: 'Rename',
      keys: 'F2',
      group: 'change',
      off: chosen.length !== 1,
      run: () => opens.rename(chosen[0]!),
    },
    { id: 'box', text: 'Choose in a rectangle', keys: 'B', group: 'change', run: () => opens.marquee('box') },
    { id: 'lasso', text: 'Choose in a free shape', keys: 'O', group: 'change', run: () => opens.marquee('lasso') },
    {
      id: 'same-kind',
      text: 'Choose all of this kind',
      group: 'change',
      off: chosen.length === 0,
      run: () => actions.chooseAlike('kind'),
    },
    {
      id: 'same-site',
      text: 'Choose all at this site',
      group: 'change',
      off: chosen.length === 0,
      run: () => actions.chooseAlike('site'),
    },
    { id: 'undo', text: 'Undo', keys: 'Ctrl Z', group: 'change', run: actions.undo },
    { id: 'redo', text: 'Redo', keys: 'Ctrl Shift Z', group: 'change', run: actions.redo },
    { id: 'arrange', text: 'Arrange everything', group: 'arrange', run: () => opens.arrange() },
    {
      id: 'arrange-chosen',
      text: 'Arrange what is chosen',
      group: 'arrange',
      off: arrangeable.length < 2,
      run: () => opens.arrange(arrangeable),
    },
    ...EDGES.map((edge): MenuEntry => ({
      id: `align-${edge}`,
      text: `Align ${edge}`,
      group: 'arrange',
      off: chosen.length < 2,
      run: () => void actions.align(edge),
    })),
    ...(['across', 'down'] as const).map((direction): MenuEntry => ({
      id: `space-${direction}`,
      text: `Space evenly ${direction}`,
      group: 'arrange',
      off: chosen.length < 3,
      run: () => void actions.space(direction),
    })),
    {
      id: 'group',
      text: 'Group',
      keys: 'Ctrl G',
      group: 'arrange',
      off: chosen.length < 2,
      run: actions.group,
    },
    {
      id: 'ungroup',
      text: 'Ungroup',
      keys: 'Ctrl Shift G',
      group: 'arrange',
      off: !chosen.some((id) => topology.devices[id]?.group !== undefined),
      run: actions.ungroup,
    },
    ...(['front', 'back'] as const).map((end): MenuEntry => ({
      id: end,
      text: `Bring to the ${end}`,
      keys: end === 'front' ? ']' : '[',
      group: 'arrange',
      off: chosen.length === 0,
      run: () => actions.bringTo(end),
    })),
    {
      id: 'straighten',
      text: 'Straighten the link',
      group: 'arrange',
      off: !selection.links.some((id) => topology.links[id]?.bends),
      run: actions.straighten,
    },
    {
      id: 'trace',
      text: 'Follow a packet between two',
      keys: 'P',
      group: 'ask',
      off: chosen.length !== 2,
      run: () => opens.trace(chosen[0]!, chosen[1]!),
    },
    {
      id: 'sign-in',
      text: 'Sign in from the first at the second',
      group: 'ask',
      off: chosen.length !== 2,
      run: () => opens.signIn({ from: chosen[0]!, to: chosen[1]!, ways: SIGN_IN_WAYS, changing: false }),
    },
    {
      id: 'tables',
      text: 'Tables of the device',
      keys: 'K',
      group: 'ask',
      off: chosen.length !== 1,
      run: () => opens.tables(chosen[0]!),
    },
    { id: 'grid', text: 'Who reaches whom…', keys: 'M', group: 'ask', run: () => opens.ask('grid') },
    { id: 'counts', text: 'Counts…', group: 'ask', run: () => opens.ask('counts') },
    { id: 'failures', text: 'What if one fails…', group: 'ask', run: () => opens.ask('failures') },
    { id: 'versions', text: 'Versions…', keys: 'V', group: 'file', run: opens.versions },
    { id: 'comments', text: 'All comments', group: 'file', run: () => opens.comment('all') },
    { id: 'text', text: 'Drawing as text', keys: 'T', group: 'file', run: opens.text },
    { id: 'about', text: 'About this drawing', group: 'file', run: opens.about },
    {
      id: 'show-all',
      text: 'Show all',
      group: 'file',
      run: actions.showAll,
    },
    { id: 'save', text: 'Save as a file or print…', group: 'file', run: opens.save },
    ...(opens.begin
      ? [{ id: 'begin', text: 'Begin from another lab…', group: 'file' as const, run: opens.begin }]
      : []),
    ...(opens.sharing
      ? [{ id: 'sharing', text: 'Show it without signing in…', group: 'file' as const, run: opens.sharing }]
      : []),
    { id: 'replace', text: 'Read a file…', group: 'file', run: () => void actions.readFile() },
  ];
}

/** What can be done with a port of a device. */
export function portMenu(
  topology: Topology,
  { device, port }: PortSpot,
  actions: BenchActions,
  opens: BenchOpeners,
): MenuEntry[] {
  const found = topology.devices[device];
  const isOff = found?.ports?.[port]?.enabled === false;
  const name = `${found?.name ?? ''} ${port}`;
  return [
    {
      id: 'port-switch',
      text: `Switch ${name} ${isOff ? 'on' : 'off'}`,
      group: 'change',
      run: () => actions.switchPort(device, port, isOff),
    },
    {
      id: 'port-comment',
      text: `Comment on ${name}`,
      group: 'add',
      run: () => opens.comment({ about: { kind: 'device', id: device, port } }),
    },
    {
      id: 'port-plug',
      text: `What does a laptop get in ${name}?`,
      group: 'ask',
      run: () => opens.plug(device, port),
    },
    {
      id: 'port-device',
      text: `Choose ${found?.name ?? 'its device'}`,
      group: 'change',
      run: () => actions.choose({ devices: [device] }),
    },
  ];
}
