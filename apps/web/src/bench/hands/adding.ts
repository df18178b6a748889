import { plural } from '@sobrin/core';
import { findModels } from '@sobrin/core/bench';
import { type Spot } from '@sobrin/core/drawing';
import {
  type NoteAnchor,
  type PlanOfLab,
  type PlanWish,
  addDevices,
  addNote,
  addSite,
  countOf,
  kitRefusal,
  kitRefusalOf,
  namingScheme,
  partOf,
  pastePart,
  placeDevice,
  shiftForCopy,
  takeFromPlan,
} from '@sobrin/core/editing';
import { type Policy } from '@sobrin/core/spec';
import { type Topology, applyBatch } from '@sobrin/core/topology';
import { newShortId, readableId } from '../../api/new-id';
import { NOTHING } from '../../drawing/selection';
import { type BenchStore } from '../bench-store';
import { type Look } from '../look-at';

/** Everything that puts new things on a drawing. `tell` says why something did not go. */
export function adding({
  store,
  look,
  plan,
  kit,
  tell,
}: {
  store: BenchStore;
  look: Look;
  plan: PlanOfLab | undefined;
  /** The models that the lab allows; null for all. */
  kit: Policy['kit'] | null;
  tell: (text: string) => void;
}) {
  const { selection, select, do: run } = store.getState();
  const now = (): Topology => store.getState().document;
  const topology = now();
  const chosen = selection.devices;
  /** Chooses what is new, and shows everything where some of it lies outside of what is seen. */
  const showNew = (devices: readonly string[]): void => {
    select({ ...NOTHING, devices });
    look.later((of) => of.showAllIfOutside());
  };
  /** Where new things appear: to the right of what is chosen, else in the middle of what is seen. */
  const wished = (): Spot => {
    const first = chosen[0] === undefined ? undefined : topology.devices[chosen[0]];
    if (first) return { x: first.at.x + 160, y: first.at.y };
    const middle = look.middle();
    return { x: middle.x - 60, y: middle.y - 60 };
  };
  const siteOfChosen = (): string | undefined =>
    selection.sites[0] ?? (chosen[0] === undefined ? undefined : topology.devices[chosen[0]]?.site);
  /** Beside what is chosen, where it is said into the room of a site, else in the middle of what is seen. */
  const add = (model: string, count: number, site = siteOfChosen(), name?: string): boolean => {
    if (refuses(model, count)) return false;
    const at = site !== undefined && (chosen.length === 0 || site !== siteOfChosen()) ? null : wished();
    const scheme = namingScheme(plan?.brief);
    const { ids, commands } = addDevices(topology, model, count, at, site, readableId, scheme);
    const [only] = ids;
    if (name !== undefined && only !== undefined) commands.push({ kind: 'setDevice', id: only, set: { name } });
    if (!run(count > 1 ? `add ${count} devices` : 'add a device', ...commands)) return false;
    showNew(ids);
    return true;
  };
  /** Whether the lab's kit has no more of a model, which is told. */
  const refuses = (model: string, count: number): boolean => {
    const name = findModels(now(), '').find(([id]) => id === model)?.[1].name ?? model;
    const why = kitRefusal(now(), model, name, count, kit ?? undefined);
    if (why !== null) tell(why);
    return why !== null;
  };
  /** A device where somebody pointed. */
  const place = (model: string, at: Spot): boolean => {
    if (refuses(model, 1)) return false;
    const { ids, commands } = placeDevice(now(), model, at, readableId, namingScheme(plan?.brief));
    if (!run('add a device', ...commands)) return false;
    select({ ...NOTHING, devices: ids });
    return true;
  };
  /** Round what is chosen, to the right of the other sites, or in the middle of what is seen. */
  const newSite = (name?: string): boolean => {
    const id = newShortId('s');
    if (!run('add a site', ...addSite(topology, id, chosen, wished(), name))) return false;
    select({ ...NOTHING, sites: [id] });
    look.later((of) => of.showAllIfOutside());
    return true;
  };
  /** A note that hangs on what is chosen, or stands in the middle of what is seen. */
  const newNote = (): void => {
    const id = newShortId('n');
    const only = (kind: NoteAnchor['kind'], ids: readonly string[]): NoteAnchor | undefined =>
      ids.length === 1 ? { kind, id: ids[0]! } : undefined;
    const anchor = only('device', chosen) ?? only('link', selection.links) ?? only('site', selection.sites);
    if (!run('add a note', addNote(id, wished(), anchor))) return;
    select({ ...NOTHING, notes: [id] });
    look.later((of) => of.reveal({ notes: [id] }));
  };
  /** Subnets of the plan with their gateways and hosts; what could not be done is told. */
  const fromPlan = (wish: PlanWish): boolean => {
    if (!plan) return false;
    const before = now();
    const { commands, left, devices } = takeFromPlan(before, plan, wish, (name) =>
      name === 'link' ? newShortId('l') : readableId(name),
    );
    const after = applyBatch(before, 'take from the plan', commands);
    const why = after.ok ? kitRefusalOf(before, after.value.document, kit ?? undefined) : after.error;
    if (why !== null) tell(why);
    if (why !== null || !run('take from the plan', ...commands)) return false;
    if (left.length) tell(left.join(' '));
    if (devices.length) showNew(devices);
    return true;
  };
  const paste = (part: Topology, foreign = false): boolean => {
    const shift = shiftForCopy(now(), part);
    const { commands, ids } = pastePart(now(), part, { newId: readableId, shift, plan, foreign });
    const models = new Map<string, number>();
    for (const { model, ...device } of Object.values(part.devices))
      models.set(model, (models.get(model) ?? 0) + countOf({ model, ...device }));
    if ([...models].some(([model, count]) => refuses(model, count))) return false;
    const title = `${foreign ? 'add' : 'copy'} ${plural(ids.length, 'device')}`;
    if (!commands.length || !run(title, ...commands)) return false;
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
  /** Puts a whole drawing beside what is there. */
  const addDrawing = (drawing: Topology): boolean => paste(partOf(drawing, Object.keys(drawing.devices)), true);
  return { addDrawing, add, fromPlan, place, addSite: newSite, addNote: newNote, paste, duplicate };
}
