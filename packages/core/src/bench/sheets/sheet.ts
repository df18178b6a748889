import { byName } from '../../collation';
import { ok, type Result } from '../../result';
import { type Command, type Link, type Settings, type Topology, entriesById } from '../../topology';

/** A line of a sheet: what it is about. `key` is unique in the sheet and stays while the thing is there. */
export interface SheetRow {
  readonly key: string;
  readonly device?: string;
  readonly link?: string;
  /** A port, an interface or a VLAN of the device. */
  readonly part?: string;
}
export type Written = Result<readonly Command[], string>;

/** A column: what a cell says, and what typing into it means. Cells without `write` are worked out. */
export interface SheetColumn {
  readonly key: string;
  readonly label: string;
  readonly width: number;
  readonly mono?: boolean;
  readonly read: (topology: Topology, row: SheetRow) => string;
  readonly write?: (topology: Topology, row: SheetRow, text: string) => Written;
  readonly choices?: (topology: Topology, row: SheetRow) => readonly string[];
  /** Told only where the lab tells link states. */
  readonly tells?: boolean;
}
/** A table of the drawing: its rows, worked out of a topology, and its columns. */
export interface Sheet {
  readonly id: SheetId;
  readonly title: string;
  readonly rows: (topology: Topology) => SheetRow[];
  readonly columns: readonly SheetColumn[];
  /** How many rows there are, where that is told without making them. */
  readonly count?: (topology: Topology) => number;
}
export const SHEET_IDS = ['devices', 'ports', 'links', 'addresses', 'vlans'] as const;
/** The name of a sheet in the interface and in settings that are kept. */
export type SheetId = (typeof SHEET_IDS)[number];

export const device = (topology: Topology, row: SheetRow) => topology.devices[row.device!]!;
export const link = (topology: Topology, row: SheetRow): Link => topology.links[row.link!]!;
export const devicesByName = (topology: Topology): [string, Topology['devices'][string]][] =>
  entriesById(topology.devices).sort(([, a], [, b]) => byName(a.name, b.name));
export const written = (...commands: Command[]): Written => ok(commands);
export const setting = (row: SheetRow, set: { [K in keyof Settings]?: Settings[K] | null }): Written =>
  written({ kind: 'setSettings', device: row.device!, set });
/** Words that mean yes and no, as people type them. */
export function yesOrNo(text: string): boolean | null {
  const word = text.trim().toLowerCase();
  return ['on', 'yes', 'true', '1', ''].includes(word)
    ? true
    : ['off', 'no', 'false', '0'].includes(word)
      ? false
      : null;
}

export const NAME: SheetColumn = {
  key: 'device',
  label: 'Device',
  width: 120,
  read: (topology, row) => device(topology, row).name,
};

/**
 * Where each port leads: "device port" to the names of what is plugged in; worked out once for each state of the
 * links.
 */
const known = new WeakMap<Topology, Map<string, string[]>>();
export function plugged(topology: Topology): ReadonlyMap<string, readonly string[]> {
  let map = known.get(topology);
  if (!map) {
    known.set(topology, (map = new Map<string, string[]>()));
    for (const [, { a, b }] of entriesById(topology.links))
      for (const [mine, other] of [
        [a, b],
        [b, a],
      ] as const) {
        const key = `${mine.device} ${mine.port}`;
        const text = `${topology.devices[other.device]?.name ?? ''} ${other.port}`;
        map.set(key, [...(map.get(key) ?? []), text]);
      }
  }
  return map;
}
