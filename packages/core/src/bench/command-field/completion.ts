import { type SignInRequest } from '../../engine';
import { type Command, type Topology } from '../../topology';
import { type AddressSource, type Cable, type Direction, type Edge, type PlanOfLab } from '../../editing';

/** What a line of the command field does when it is taken. Ids are given out by whoever carries it out. */
export type FieldAction =
  | { do: 'add'; model: string; count: number; site: string | undefined; name?: string }
  | { do: 'addSite'; name: string }
  | { do: 'link'; cable: Cable }
  | { do: 'linkMany'; devices: readonly string[]; to: string }
  | { do: 'chooseLink'; a: string; b: string | null }
  | { do: 'select'; devices?: readonly string[]; links?: readonly string[]; sites?: readonly string[] }
  | { do: 'list'; sheet: 'devices' | 'links'; devices: readonly string[] }
  | { do: 'rename'; device: string; name: string }
  | { do: 'address'; devices: readonly string[]; source: AddressSource; port?: string }
  | { do: 'align'; edge: Edge }
  | { do: 'space'; direction: Direction }
  | { do: 'duplicate'; times: number }
  /** To a device, or to an address or a name that was typed. */
  | { do: 'trace'; from: string; to: string; typed?: string }
  | { do: 'signIn'; from: string; to: string; by: SignInRequest['by']; changing: boolean }
  /** Whether a telephone reaches another one. */
  | { do: 'call'; from: string; to: string }
  /** What a laptop gets that is plugged into a port. */
  | { do: 'plug'; device: string; port: string }
  | { do: 'edit'; title: string; commands: readonly Command[] }
  | { do: 'menu'; id: string }
  | { do: 'fill' };

/** One line under the command field: what taking it does, in words, and what the field then says. */
export interface Completion {
  readonly id: string;
  readonly sign:
    | 'add'
    | 'link'
    | 'jump'
    | 'find'
    | 'rename'
    | 'arrange'
    | 'address'
    | 'trace'
    | 'sign-in'
    | 'set'
    | 'menu'
    | 'word'
    | 'none';
  /** What is done, in bold. */
  readonly text: string;
  /** What it comes to: names, ports, why not. */
  readonly more: string;
  /** The text that the field completes to. */
  readonly fill: string;
  /** Null where the line only says why nothing can be done. */
  readonly action: FieldAction | null;
}

/** What the command field knows when it completes a line. */
export interface FieldContext {
  readonly topology: Topology;
  /** Devices that are chosen. */
  readonly chosen: readonly string[];
  /** Whether Sobrin may choose ports and media. */
  readonly automatic: boolean;
  readonly namingScheme?: string | undefined;
  /** The address plan of the lab, where there is one. */
  readonly plan?: PlanOfLab | undefined;
  /** Every entry of the menus, so that all of it can be reached by typing. */
  readonly menu: readonly { id: string; text: string; more?: string }[];
}

/** A line that says why nothing can be done. */
export const why = (text: string, more = ''): Completion => ({
  id: `why ${text}`,
  sign: 'none',
  text,
  more,
  fill: '',
  action: null,
});
