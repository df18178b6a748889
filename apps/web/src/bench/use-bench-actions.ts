import {
  type AddressSource,
  type Command,
  type Completion,
  type FieldAction,
  type Link,
  type PlanOfLab,
  type Policy,
  type Topology,
  EDGES,
  addDevices,
  align,
  cableBetween,
  cableMany,
  countOf,
  counted,
  entriesById,
  findModels,
  giveAddresses,
  group,
  hasFreePort,
  inLayer,
  kitRefusal,
  modelOf,
  moveBy,
  moveSite,
  moveTo,
  namingScheme,
  partOf,
  pastePart,
  placeDevice,
  plugsOf,
  readSubmissionText,
  removeChosen,
  rename,
  replugged,
  shiftForCopy,
  siteAreas,
  sitesWithin,
  spaceEvenly,
  tilesOf,
  ungroup,
} from '@sobrin/core';
import { type RefObject } from 'react';
import { fileName, give, pickText } from '../api/files';
import { newShortId } from '../api/new-id';
import { type Selection, NOTHING, isNothing } from '../drawing/selection';
import { type MarqueeKind } from '../drawing/marquee';
import { type DrawingView } from '../drawing/view';
import { type Talk } from './comments-panel';
import { BESIDE } from './inspector/note-inspector';
import { type LinkWish } from './link-dialog';
import { useBench, useBenchStore } from './use-bench';

/** One thing to do on the bench: it stands in a menu, and can be typed into the command field. */
export interface MenuEntry {
  id: string;
  text: string;
  /** The key that does it as well. */
  keys?: string;
  group: 'add' | 'change' | 'arrange' | 'file';
  off?: boolean;
  run: () => void;
}

/** What actions open on the page. */
export interface BenchOpeners {
  kit: () => void;
  wish: (wish: LinkWish) => void;
  marquee: (kind: MarqueeKind) => void;
  rename: (device: string) => void;
  comment: (about: Exclude<Talk, 'all'> | 'all') => void;
  picture: (beneath: boolean, middle: { x: number; y: number }) => void;
  linking: (from: readonly string[] | null) => void;
  list: (sheet: 'devices' | 'links', devices: readonly string[]) => void;
  trace: (from: string, to: string) => void;
  about: () => void;
  arrange: (ids?: readonly string[]) => void;
  tell: (text: string) => void;
}

/** Everything one can do on a bench, each once, for menus, keys, command field and direct manipulation. */
export function useBenchActions({
  view,
  title,
  automatic,
  plan,
  kit,
  opens,
}: {
  view: RefObject<DrawingView | null>;
  title: string;
  /** Whether Sobrin may choose ports and media. */
  automatic: boolean;
  plan: PlanOfLab | undefined;
  /** The models that the lab allows; null for all. */
  kit: Policy['kit'] | null;
  opens: BenchOpeners;
}) {
  const store = useBenchStore();
  const { document: topology, selection, select, do: run } = useBench((state) => state);
  const now = (): Topology => store.getState().document;
  const chosen = selection.devices;

  /** What the page shows a moment later: an inspector that opens takes room of the drawing first. */
  const later = (show: (of: DrawingView) => void): void =>
    void window.setTimeout(() => view.current && show(view.current), 120);
  /** Brings things into sight, where they are not in sight already. */
  const reveal = (devices: readonly string[], sites: readonly string[] = []): void =>
    later((of) => of.reveal({ devices, sites }));
  const choose = (next: Partial<Selection>): void => {
    select({ ...NOTHING, ...next });
    const ends = (next.links ?? []).flatMap((id) => [topology.links[id]!.a.device, topology.links[id]!.b.device]);
    const [devices, sites] = [[...(next.devices ?? []), ...ends], next.sites ?? []];
    if (devices.length + sites.length) reveal(devices, sites);
  };
  /** Chooses what is new, and shows everything where some of it lies outside of what is seen. */
  const showNew = (devices: readonly string[]): void => {
    select({ ...NOTHING, devices });
    later((of) => of.showAllIfOutside());
  };
  /** Where new things appear: to the right of what is chosen, else in the middle of what is seen. */
  const wished = (): { x: number; y: number } => {
    const first = chosen[0] === undefined ? undefined : topology.devices[chosen[0]];
    if (first) return { x: first.at.x + 160, y: first.at.y };
    const middle = view.current?.middle();
    return middle ? { x: middle.x - 60, y: middle.y - 60 } : { x: 80, y: 80 };
  };
  const siteOfChosen = (): string | undefined =>
    selection.sites[0] ?? (chosen[0] === undefined ? undefined : topology.devices[chosen[0]]?.site);
  /** Beside what is chosen, where it is said into the room of a site, else in the middle of what is seen. */
  const add = (model: string, count: number, site = siteOfChosen()): boolean => {
    if (refuses(model, count)) return false;
    const at = site !== undefined && (chosen.length === 0 || site !== siteOfChosen()) ? null : wished();
    const scheme = namingScheme(plan?.brief);
    const { ids, commands } = addDevices(topology, model, count, at, site, () => newShortId('d'), scheme);
    if (!run(count > 1 ? `add ${count} devices` : 'add a device', ...commands)) return false;
    showNew(ids);
    return true;
  };
  /** Whether the lab's kit has no more of a model, which is told. */
  const refuses = (model: string, count: number): boolean => {
    const name = findModels(now(), '').find(([id]) => id === model)?.[1].name ?? model;
    const why = kitRefusal(now(), model, name, count, kit ?? undefined);
    if (why !== null) opens.tell(why);
    return why !== null;
  };
  /** A device where somebody pointed. */
  const place = (model: string, at: { x: number; y: number }): boolean => {
    if (refuses(model, 1)) return false;
    const { ids, commands } = placeDevice(now(), model, at, () => newShortId('d'), namingScheme(plan?.brief));
    if (!run('add a device', ...commands)) return false;
    select({ ...NOTHING, devices: ids });
    return true;
  };
  /** Round what is chosen, to the right of the other sites, or in the middle of what is seen. */
  const addSite = (name?: string): boolean => {
    const id = newShortId('s');
    const names = new Set(Object.values(topology.sites).map((one) => one.name));
    const number = Array.from({ length: names.size + 1 }, (_one, at) => at + 1).find((at) => !names.has(`Site ${at}`))!;
    const others = chosen.length ? [] : siteAreas(topology, tilesOf(topology));
    const last = others.reduce<(typeof others)[number] | undefined>(
      (most, one) => (most && most.x + most.width >= one.x + one.width ? most : one),
      undefined,
    );
    const { x, y } = last ? { x: last.x + last.width + BETWEEN_SITES, y: last.y } : wished();
    const members = chosen.map((device) => ({ kind: 'setDevice', id: device, set: { site: id } }) as const);
    const area = members.length ? {} : { area: { x: Math.round(x), y: Math.round(y), width: 240, height: 140 } };
    if (!run('add a site', { kind: 'setSite', id, set: { name: name ?? `Site ${number}`, ...area } }, ...members))
      return false;
    select({ ...NOTHING, sites: [id] });
    later((of) => of.showAllIfOutside());
    return true;
  };
  /** A note that hangs on what is chosen, or stands in the middle of what is seen. */
  const addNote = (): void => {
    const id = newShortId('n');
    const one = (kind: 'device' | 'link' | 'site', ids: readonly string[]) =>
      ids.length === 1 ? { kind, id: ids[0]! } : undefined;
    const anchor = one('device', chosen) ?? one('link', selection.links) ?? one('site', selection.sites);
    const { x, y } = wished();
    const at = anchor ? BESIDE : { x: Math.round(x), y: Math.round(y) };
    if (run('add a note', { kind: 'setNote', id, set: { text: '', at, ...(anchor && { anchor }) } }))
      select({ ...NOTHING, notes: [id] });
  };
  /** Something said about what is chosen, else about the place in the middle of what is seen. */
  const comment = (): void => {
    const [device, link] = [chosen[0], selection.links[0]];
    if (device !== undefined) opens.comment({ about: { kind: 'device', id: device } });
    else if (link !== undefined) opens.comment({ about: { kind: 'link', id: link } });
    else {
      const { x, y } = view.current?.middle() ?? { x: 200, y: 200 };
      opens.comment({ about: { x: Math.round(x), y: Math.round(y) } });
    }
  };
  const moveNote = (id: string, by: { x: number; y: number }): void => {
    const note = topology.notes?.[id];
    if (!note) return;
    const at = { x: Math.round(note.at.x + by.x), y: Math.round(note.at.y + by.y) };
    run('move a note', { kind: 'setNote', id, set: { ...note, at } });
  };
  const connect = (link: Pick<Link, 'a' | 'b' | 'medium'>): boolean => {
    const id = newShortId('l');
    if (!run('link', { kind: 'connect', id, link })) return false;
    select({ ...NOTHING, links: [id] });
    return true;
  };
  const linkMany = (devices: readonly string[], to: string): boolean => {
    const { commands, links, left } = cableMany(now(), devices, to, () => newShortId('l'));
    if (left.length)
      opens.tell(
        `${counted(left.length, 'device')} found no free port that fits at ${now().devices[to]!.name}: ` +
          left.map((id) => now().devices[id]!.name).join(', '),
      );
    if (!commands.length || !run(`link ${counted(links.length, 'device')}`, ...commands)) return false;
    select({ ...NOTHING, links });
    return true;
  };
  /** Links two devices that were pointed at: at once where Sobrin may choose, else by the dialog. */
  const linkPair = (from: readonly string[], to: string): void => {
    if (from.length > 1 && automatic) return void linkMany(from, to);
    const plug = (id: string) => plugsOf(now(), id).find((one) => hasFreePort(now(), one)) ?? plugsOf(now(), id)[0]!;
    const cable = automatic ? cableBetween(now(), plug(from[0]!), plug(to)) : null;
    if (cable) connect(cable);
    else opens.wish({ a: from[0]!, b: to });
  };
  /** Plugs one end of a link into another device, or asks where the lab leaves the choice to its people. */
  const replug = (id: string, end: 'a' | 'b', device: string): void => {
    const link = now().links[id]!;
    const other = link[end === 'a' ? 'b' : 'a'];
    const cable = automatic && link[end].device !== device ? replugged(now(), id, end, device) : null;
    if (cable)
      return void run('replug the link', { kind: 'setLink', id, set: { [end]: cable[end], medium: cable.medium } });
    opens.wish({
      a: end === 'a' ? device : other.device,
      b: end === 'b' ? device : other.device,
      replaces: { id, kept: end === 'a' ? 'b' : 'a' },
    });
  };
  const setLinks = (title: string, set: Record<string, unknown>): void =>
    void run(title, ...selection.links.map((id): Command => ({ kind: 'setLink', id, set })));
  const alike = (is: (id: string, first: string) => boolean): void => {
    const [first] = chosen;
    if (first !== undefined)
      select({ ...NOTHING, devices: Object.keys(topology.devices).filter((id) => is(id, first)) });
  };
  const paste = (part: Topology, shift = shiftForCopy(now(), part)): boolean => {
    const { commands, ids } = pastePart(now(), part, { newId: () => newShortId('d'), shift, plan });
    const models = new Map<string, number>();
    for (const { model, ...one } of Object.values(part.devices))
      models.set(model, (models.get(model) ?? 0) + countOf({ model, ...one }));
    if ([...models].some(([model, count]) => refuses(model, count))) return false;
    if (!commands.length || !run(`copy ${counted(ids.length, 'device')}`, ...commands)) return false;
    showNew(ids);
    return true;
  };
  const duplicate = (times: number): boolean => {
    let part = partOf(topology, chosen);
    const all: string[] = [];
    for (let at = 0; at < times; at++) {
      if (!paste(part)) return at > 0;
      const ids = store.getState().selection.devices;
      all.push(...ids);
      part = partOf(now(), ids);
    }
    select({ ...NOTHING, devices: all });
    return true;
  };
  const address = (devices: readonly string[], source: AddressSource): boolean => {
    const { commands, given, left } = giveAddresses(topology, devices, source);
    if (left.length)
      opens.tell(`No address for ${left.map((id) => topology.devices[id]!.name).join(', ')}: the subnet is full.`);
    if (!run(`address ${counted(given, 'device')}`, ...commands)) return false;
    choose({ devices });
    return true;
  };
  const lay = (title: string, command: Command | null): boolean =>
    command?.kind === 'move' && run(title, ...moveTo(topology, command.to));
  const remove = (): void => {
    if (!isNothing(selection)) run('remove', ...removeChosen(topology, selection));
  };
  const saveFile = (): void =>
    give(fileName(topology.title ?? title, 'json'), 'application/json', `${JSON.stringify(topology, null, 1)}\n`);
  const readFile = async (): Promise<void> => {
    const file = await pickText('.json,application/json');
    if (!file) return;
    const read = readSubmissionText(file.text);
    if (!read.ok)
      return opens.tell(
        `${file.name} was not taken, the drawing is as it was. ${read.error
          .slice(0, 4)
          .map((one) => (one.place ? `${one.place}: ${one.text}` : one.text))
          .join(' ')}`,
      );
    const { topology: drawn } = read.value;
    if (!drawn) opens.tell(`${file.name} holds no drawing: the drawing is as it was.`);
    else if (run('replace the drawing', { kind: 'replace', topology: drawn })) later((of) => of.showAll());
  };

  const inSites = new Set(selection.sites.flatMap((id) => [...sitesWithin(topology, id)]));
  const arrangeable = [
    ...chosen,
    ...entriesById(topology.devices).flatMap(([id, one]) =>
      inSites.has(one.site ?? '') && !chosen.includes(id) ? id : [],
    ),
  ];
  const menu: MenuEntry[] = [
    { id: 'kit', text: 'Add from the kit', keys: 'A', group: 'add', run: opens.kit },
    { id: 'link', text: 'Link by clicking', keys: 'L', group: 'add', run: () => opens.linking(chosen) },
    {
      id: 'link-choose',
      text: 'Link with ports and medium…',
      keys: 'Shift L',
      group: 'add',
      run: () => opens.wish({ a: chosen[0] ?? null, b: chosen[1] ?? null }),
    },
    { id: 'site', text: 'Add a site', keys: 'S', group: 'add', run: () => void addSite() },
    { id: 'note', text: 'Add a note', keys: 'N', group: 'add', run: addNote },
    { id: 'comment', text: 'Comment', keys: 'C', group: 'add', run: comment },
    {
      id: 'picture',
      text: 'Picture…',
      group: 'add',
      run: () => opens.picture(false, view.current?.middle() ?? { x: 200, y: 200 }),
    },
    {
      id: 'underlay',
      text: 'Picture to draw over…',
      group: 'add',
      run: () => opens.picture(true, view.current?.middle() ?? { x: 200, y: 200 }),
    },
    { id: 'comments', text: 'All comments', group: 'file', run: () => opens.comment('all') },
    {
      id: 'duplicate',
      text: 'Duplicate',
      keys: 'Ctrl D',
      group: 'change',
      off: chosen.length === 0,
      run: () => void duplicate(1),
    },
    { id: 'remove', text: 'Remove', keys: 'Del', group: 'change', off: isNothing(selection), run: remove },
    {
      id: 'all',
      text: 'Choose everything',
      keys: 'Ctrl A',
      group: 'change',
      run: () => select({ ...NOTHING, devices: Object.keys(topology.devices) }),
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
      run: () => alike((id, first) => kindOf(topology, id) === kindOf(topology, first)),
    },
    {
      id: 'same-site',
      text: 'Choose all at this site',
      group: 'change',
      off: chosen.length === 0,
      run: () => alike((id, first) => topology.devices[id]!.site === topology.devices[first]!.site),
    },
    { id: 'undo', text: 'Undo', keys: 'Ctrl Z', group: 'change', run: () => store.getState().undo() },
    { id: 'redo', text: 'Redo', keys: 'Ctrl Shift Z', group: 'change', run: () => store.getState().redo() },
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
      run: () => void lay(`align ${edge}`, align(topology, chosen, edge)),
    })),
    ...(['across', 'down'] as const).map((direction): MenuEntry => ({
      id: `space-${direction}`,
      text: `Space evenly ${direction}`,
      group: 'arrange',
      off: chosen.length < 3,
      run: () => void lay(`space evenly ${direction}`, spaceEvenly(topology, chosen, direction)),
    })),
    {
      id: 'group',
      text: 'Group',
      keys: 'Ctrl G',
      group: 'arrange',
      off: chosen.length < 2,
      run: () => void run('group', ...group(chosen, () => newShortId('g'))),
    },
    {
      id: 'ungroup',
      text: 'Ungroup',
      keys: 'Ctrl Shift G',
      group: 'arrange',
      off: !chosen.some((id) => topology.devices[id]?.group !== undefined),
      run: () => void run('ungroup', ...ungroup(topology, chosen)),
    },
    ...(['front', 'back'] as const).map((end): MenuEntry => ({
      id: end,
      text: `Bring to the ${end}`,
      keys: end === 'front' ? ']' : '[',
      group: 'arrange',
      off: chosen.length === 0,
      run: () => void run(`bring to the ${end}`, ...inLayer(topology, chosen, end)),
    })),
    {
      id: 'straighten',
      text: 'Straighten the link',
      group: 'arrange',
      off: !selection.links.some((id) => topology.links[id]?.bends),
      run: () => setLinks('straighten a link', { bends: null }),
    },
    { id: 'about', text: 'About this drawing', group: 'file', run: opens.about },
    {
      id: 'show-all',
      text: 'Show all',
      group: 'file',
      run: () => view.current?.showAll(),
    },
    { id: 'save', text: 'Save the drawing as a file', group: 'file', run: saveFile },
    { id: 'replace', text: 'Replace the drawing by a file…', group: 'file', run: () => void readFile() },
  ];

  /** Does what a line of the command field says. */
  const carryOut = ({ action }: Completion): boolean => (action ? doAction(action) : false);
  function doAction(action: FieldAction): boolean {
    switch (action.do) {
      case 'add':
        return add(action.model, action.count, action.site);
      case 'addSite':
        return addSite(action.name);
      case 'link':
        return connect(action.cable);
      case 'linkMany':
        return linkMany(action.devices, action.to);
      case 'chooseLink':
        opens.wish({ a: action.a, b: action.b });
        return true;
      case 'select':
        choose(action);
        return true;
      case 'list':
        opens.list(action.sheet, action.devices);
        return true;
      case 'rename':
        if (!run('rename', ...rename(topology, action.device, action.name))) return false;
        choose({ devices: [action.device] });
        return true;
      case 'address':
        return address(action.devices, action.source);
      case 'align':
        return lay(`align ${action.edge}`, align(topology, chosen, action.edge));
      case 'space':
        return lay(`space evenly ${action.direction}`, spaceEvenly(topology, chosen, action.direction));
      case 'duplicate':
        return duplicate(action.times);
      case 'trace':
        opens.trace(action.from, action.to);
        return true;
      case 'menu':
        menu.find((one) => one.id === action.id)?.run();
        return true;
      case 'fill':
        return false;
    }
  }
  return {
    menu,
    carryOut,
    add,
    addSite,
    connect,
    linkPair,
    paste,
    duplicate,
    remove,
    moveNote,
    choose,
    reveal,
    moveSite: (id: string, by: { x: number; y: number }) => void run('move a site', ...moveSite(topology, id, by)),
    place,
    replug,
    rewire: (id: string, link: Pick<Link, 'a' | 'b' | 'medium'>) =>
      void run('replug the link', { kind: 'setLink', id, set: link }),
    move: (to: Readonly<Record<string, { x: number; y: number }>>) => void run('move', ...moveTo(now(), to)),
    bend: (id: string, bends: readonly { x: number; y: number }[]) =>
      void run('bend a link', { kind: 'setLink', id, set: { bends: bends.length ? [...bends] : null } }),
    moveLabel: (id: string, end: 'a' | 'b', offset: { x: number; y: number } | null) => {
      const { [end]: _old, ...others } = now().links[id]?.labelOffsets ?? {};
      const labelOffsets = { ...others, ...(offset && { [end]: offset }) };
      void run('move a text', {
        kind: 'setLink',
        id,
        set: { labelOffsets: Object.keys(labelOffsets).length ? labelOffsets : null },
      });
    },
    nudge: (x: number, y: number) => void (chosen.length && run('move', ...moveBy(topology, chosen, { x, y }))),
  };
}
export type BenchActions = ReturnType<typeof useBenchActions>;

const BETWEEN_SITES = 40;
const kindOf = (topology: Topology, id: string): string | undefined => modelOf(topology, topology.devices[id]!)?.kind;
