import { byName } from '../../collation';
import { type Topology, entriesById, portOf } from '../../topology';

export interface Taken {
  device: string | null;
  /** What follows the name. */
  rest: string;
}
/** Reads the longest device name that a text begins with. */
export function takeDevice(text: string, topology: Topology): Taken {
  const from = text.replace(/^\s+/, '');
  const lower = from.toLowerCase();
  const fitting = entriesById(topology.devices)
    .filter(([, { name }]) => {
      const end = lower.charAt(name.length);
      return name !== '' && lower.startsWith(name.toLowerCase()) && (end === '' || /\s/.test(end));
    })
    .sort(([, a], [, b]) => b.name.length - a.name.length)[0];
  return fitting
    ? { device: fitting[0], rest: from.slice(fitting[1].name.length) }
    : { device: null, rest: from.trimEnd() };
}

/** What is typed between two devices, which says nothing. */
export const withoutTo = (text: string): string => text.replace(/^\s*(?:to|→|->)\s/, ' ');

/** Devices whose name has a text in it, those that begin with it first. */
export function devicesLike(text: string, topology: Topology): string[] {
  const wanted = text.trim().toLowerCase();
  const rank = (name: string): number => (name.toLowerCase().startsWith(wanted) ? 0 : 1);
  return entriesById(topology.devices)
    .filter(([, { name }]) => name.toLowerCase().includes(wanted))
    .sort(([, a], [, b]) => rank(a.name) - rank(b.name) || byName(a.name, b.name))
    .map(([id]) => id);
}
export const nameOf = (topology: Topology, id: string): string => topology.devices[id]!.name;

/** A device's port as it is typed after its name, if it is one. */
export function takePort(rest: string, device: string, topology: Topology): { port?: string; rest: string } {
  const [, word, after] = /^\s*(\S+)(.*)$/s.exec(rest) ?? [];
  return word !== undefined && portOf(topology, topology.devices[device]!, word)
    ? { port: word, rest: after! }
    : { rest };
}

/** Devices whose name fits a pattern with stars for any text, in the order in which people count: PC-9 before PC-10. */
export const matching = (pattern: string, topology: Topology): string[] => {
  const parts = pattern.toLowerCase().split('*');
  return entriesById(topology.devices)
    .filter(([, { name }]) => {
      const text = name.toLowerCase();
      const [first, last] = [parts[0]!, parts[parts.length - 1]!];
      if (!text.startsWith(first) || !text.endsWith(last) || text.length < first.length + last.length) return false;
      let at = first.length;
      for (const part of parts.slice(1, -1)) {
        const next = text.indexOf(part, at);
        if (next < 0) return false;
        at = next + part.length;
      }
      return at <= text.length - last.length;
    })
    .sort(([, a], [, b]) => byName(a.name, b.name))
    .map(([id]) => id);
};
