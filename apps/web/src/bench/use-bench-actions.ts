import { plural } from '@sobrin/core';
import { editsBetween } from '@sobrin/core/changes';
import { type Spot } from '@sobrin/core/drawing';
import {
  type AddressSource,
  type Edge,
  type PlanOfLab,
  align,
  changePort,
  giveAddresses,
  group,
  inLayer,
  kitRefusalOf,
  moveBy,
  moveNote,
  moveSite,
  moveTo,
  removeChosen,
  rename,
  spaceEvenly,
  ungroup,
} from '@sobrin/core/editing';
import { type Imported } from '@sobrin/core/formats';
import { type Policy } from '@sobrin/core/spec';
import { type Command, type Topology, modelOf } from '@sobrin/core/topology';
import { type RefObject } from 'react';
import { newShortId } from '../api/new-id';
import { type SignInQuestion } from '../workers/engine-requests';
import { type MarqueeKind } from '../drawing/marquee';
import { type Selection, NOTHING, isNothing } from '../drawing/selection';
import { type DrawingView } from '../drawing/view';
import { adding } from './hands/adding';
import { cabling } from './hands/cabling';
import { type ReachView } from './asking/reach-dialog';
import { type Talk } from './comments/open-talk';
import { type LinkChoice } from './hands/link-dialog';
import { lookAt } from './look-at';
import { useBench, useBenchStore } from './use-bench';

/** What actions open on the page. */
export interface BenchOpeners {
  kit: () => void;
  /** Takes subnets of the plan to the sheet; absent where there is no plan. */
  fromPlan?: () => void;
  /** Asks for the ports and the medium of a link. */
  link: (choice: LinkChoice) => void;
  marquee: (kind: MarqueeKind) => void;
  rename: (device: string) => void;
  comment: (about: Exclude<Talk, 'all'> | 'all') => void;
  picture: (beneath: boolean, middle: { x: number; y: number }) => void;
  linking: (from: readonly string[] | null) => void;
  list: (sheet: 'devices' | 'links', devices: readonly string[]) => void;
  trace: (from: string, to: string, typed?: string) => void;
  /** Says whether one can sign in at a device from another one. */
  signIn: (question: SignInQuestion) => void;
  /** Says whether one telephone reaches another one. */
  call: (from: string, to: string) => void;
  /** What a laptop gets that is plugged into a port. */
  plug: (device: string, port: string) => void;
  /** What a device knows. */
  tables: (device: string) => void;
  /** Who reaches whom, or what single failures cut off. */
  ask: (view: ReachView) => void;
  about: () => void;
  text: () => void;
  versions: () => void;
  save: () => void;
  /** Showing it to people without an account, and beginning from another lab: for those who teach. */
  sharing?: () => void;
  begin?: () => void;
  /** Shows what a file holds before it is taken. */
  read: (found: { file: string; read: Imported }) => void;
  arrange: (ids?: readonly string[]) => void;
  tell: (text: string) => void;
}

/** Everything one can do on a bench, each once, for menus, keys, command field and direct manipulation. */
export function useBenchActions({
  view,
  automatic,
  plan,
  kit,
  opens,
}: {
  view: RefObject<DrawingView | null>;
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
  const look = lookAt(view);
  const { tell } = opens;
  const cables = cabling({ store, automatic, choose: opens.link, tell });
  const added = adding({ store, look, plan, kit, tell });

  const choose = (next: Partial<Selection>): void => {
    select({ ...NOTHING, ...next });
    const ends = (next.links ?? []).flatMap((id) => [topology.links[id]!.a.device, topology.links[id]!.b.device]);
    const [devices, sites] = [[...(next.devices ?? []), ...ends], next.sites ?? []];
    if (devices.length + sites.length) look.reveal(devices, sites);
  };
  /** Something said about what is chosen, else about the place in the middle of what is seen. */
  const comment = (): void => {
    const [device, link] = [chosen[0], selection.links[0]];
    if (device !== undefined) opens.comment({ about: { kind: 'device', id: device } });
    else if (link !== undefined) opens.comment({ about: { kind: 'link', id: link } });
    else {
      const { x, y } = look.middle();
      opens.comment({ about: { x: Math.round(x), y: Math.round(y) } });
    }
  };
  const address = (devices: readonly string[], source: AddressSource, port?: string): boolean => {
    const { commands, given, left } = giveAddresses(topology, devices, source, port);
    const isGiven = run(`address ${plural(given, 'device')}`, ...commands);
    if (left.length)
      tell(`No address for ${left.map((id) => topology.devices[id]!.name).join(', ')}: the subnet is full.`);
    if (isGiven) choose({ devices });
    return isGiven;
  };
  const lay = (title: string, command: Command | null): boolean =>
    command?.kind === 'move' && run(title, ...moveTo(topology, command.to));
  const actions = {
    ...added,
    ...cables,
    choose,
    comment,
    address,
    edit: (title: string, commands: readonly Command[]) => run(title.slice(0, 80), ...commands),
    rename: (device: string, name: string) => run('rename', ...rename(topology, device, name)),
    reveal: look.reveal,
    showAll: look.showAll,
    undo: () => store.getState().undo(),
    redo: () => store.getState().redo(),
    chooseAll: () => select({ ...NOTHING, devices: Object.keys(topology.devices) }),
    chooseAlike: (by: 'kind' | 'site') => {
      const of = (id: string) =>
        by === 'site' ? topology.devices[id]!.site : modelOf(topology, topology.devices[id]!)?.kind;
      select({ ...NOTHING, devices: Object.keys(topology.devices).filter((id) => of(id) === of(chosen[0]!)) });
    },
    picture: (beneath: boolean) => opens.picture(beneath, look.middle()),
    align: (edge: Edge) => lay(`align ${edge}`, align(topology, chosen, edge)),
    space: (direction: 'across' | 'down') => lay(`space evenly ${direction}`, spaceEvenly(topology, chosen, direction)),
    group: () => void run('group', ...group(chosen, () => newShortId('g'))),
    ungroup: () => void run('ungroup', ...ungroup(topology, chosen)),
    bringTo: (end: 'front' | 'back') => void run(`bring to the ${end}`, ...inLayer(topology, chosen, end)),
    power: (power: 'on' | 'off') =>
      void run(
        `switch ${power}`,
        ...chosen.map((id): Command => ({ kind: 'setDevice', id, set: { powered: power === 'off' ? false : null } })),
      ),
    switchPort: (device: string, port: string, isOn: boolean) =>
      void run(`switch a port ${isOn ? 'on' : 'off'}`, changePort(device, port, { enabled: isOn ? undefined : false })),
    breakCables: (isBroken: boolean) =>
      void run(
        isBroken ? 'break the cable' : 'take a whole cable',
        ...selection.links.map((id): Command => ({ kind: 'setLink', id, set: { broken: isBroken || null } })),
      ),
    remove: () => void (isNothing(selection) || run('remove', ...removeChosen(topology, selection))),
    move: (to: Readonly<Record<string, Spot>>) => void run('move', ...moveTo(now(), to)),
    nudge: (x: number, y: number) => void (chosen.length && run('move', ...moveBy(topology, chosen, { x, y }))),
    moveSite: (id: string, by: Spot) => void run('move a site', ...moveSite(topology, id, by)),
    moveNote: (id: string, by: Spot) => void run('move a note', ...moveNote(topology, id, by)),
    readFile: async () => {
      const { readDrawing } = await import('./files/drawing-files');
      const found = await readDrawing(now());
      if (found?.ok) opens.read(found.value);
      else if (found) tell(found.error);
    },
    /** Makes the drawing another one: one change, that goes together with what others changed elsewhere. */
    takeDrawing: (title: string, taken: Topology) => {
      const why = kitRefusalOf(now(), taken, kit ?? undefined);
      if (why !== null) return tell(`${why} The drawing is as it was.`);
      const edits = editsBetween(now(), taken);
      if (edits.length && run(title, { kind: 'edits', edits })) look.later((of) => of.showAll());
    },
  };
  return actions;
}
export type BenchActions = ReturnType<typeof useBenchActions>;
