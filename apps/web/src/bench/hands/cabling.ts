import { plural } from '@sobrin/core';
import { type Spot } from '@sobrin/core/drawing';
import { bend, cableBetween, cableMany, moveLabel, hasFreePort, plugsOf, replugged } from '@sobrin/core/editing';
import { type Link, type Topology } from '@sobrin/core/topology';
import { readableId } from '../../api/new-id';
import { NOTHING } from '../../drawing/selection';
import { type BenchStore } from '../bench-store';
import { type LinkChoice } from './link-dialog';

/** Everything one does with links. `choose` asks for ports and a medium, `tell` says why something did not go. */
export function cabling({
  store,
  automatic,
  choose,
  tell,
}: {
  store: BenchStore;
  /** Whether Sobrin may choose ports and media. */
  automatic: boolean;
  choose: (choice: LinkChoice) => void;
  tell: (text: string) => void;
}) {
  const { selection, select, do: run } = store.getState();
  const now = (): Topology => store.getState().document;
  const connect = (link: Pick<Link, 'a' | 'b' | 'medium'>): boolean => {
    const id = readableId('link');
    if (!run('link', { kind: 'connect', id, link })) return false;
    select({ ...NOTHING, links: [id] });
    return true;
  };
  const linkMany = (devices: readonly string[], to: string): boolean => {
    const { commands, links, left } = cableMany(now(), devices, to, readableId);
    const isLinked = commands.length > 0 && run(`link ${plural(links.length, 'device')}`, ...commands);
    if (left.length)
      tell(
        `${plural(left.length, 'device')} found no free port that fits at ${now().devices[to]!.name}: ` +
          left.map((id) => now().devices[id]!.name).join(', '),
      );
    if (isLinked) select({ ...NOTHING, links });
    return isLinked;
  };
  /** Links two devices that were pointed at: at once where Sobrin may choose, else by the dialog. */
  const linkPair = (from: readonly string[], to: string): void => {
    if (from.length > 1 && automatic) return void linkMany(from, to);
    const plug = (id: string) => plugsOf(now(), id).find((plug) => hasFreePort(now(), plug)) ?? plugsOf(now(), id)[0]!;
    const cable = automatic ? cableBetween(now(), plug(from[0]!), plug(to)) : null;
    if (cable) connect(cable);
    else choose({ a: from[0]!, b: to });
  };
  /** Plugs one end of a link into another device, or asks where the lab leaves the choice to its people. */
  const replug = (id: string, end: 'a' | 'b', device: string): void => {
    const link = now().links[id]!;
    const other = link[end === 'a' ? 'b' : 'a'];
    const cable = automatic && link[end].device !== device ? replugged(now(), id, end, device) : null;
    if (cable)
      return void run('replug the link', { kind: 'setLink', id, set: { [end]: cable[end], medium: cable.medium } });
    choose({
      a: end === 'a' ? device : other.device,
      b: end === 'b' ? device : other.device,
      replaces: { id, kept: end === 'a' ? 'b' : 'a' },
    });
  };
  return {
    connect,
    linkMany,
    linkPair,
    replug,
    rewire: (id: string, link: Pick<Link, 'a' | 'b' | 'medium'>) =>
      void run('replug the link', { kind: 'setLink', id, set: link }),
    bend: (id: string, bends: readonly Spot[]) => void run('bend a link', bend(id, bends)),
    straighten: () => void run('straighten a link', ...selection.links.map((id) => bend(id, []))),
    moveLabel: (id: string, end: 'a' | 'b', offset: Spot | null) =>
      void run('move a text', moveLabel(now(), id, end, offset)),
  };
}
