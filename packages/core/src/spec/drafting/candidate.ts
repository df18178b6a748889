import { type Instance, type NetworkModel } from '../../engine';
import { type DeviceKind } from '../../topology';
import { type Rule } from '../combining';
import { type CheckContext } from '../rule';
import { type Groups, type HostGroup } from './groups';
import { type DraftedLab } from './planted';

/** Something that might be asked: whether the reference meets it, and what it notices, is not yet known. */
export interface Candidate {
  readonly rule: Rule;
  /** What of the brief or plan asks for it; absent where it is read off the reference. */
  readonly asked?: string;
  /** Whether it stands where it is for itself, whatever else notices the same: what there is, and how it hangs together. */
  readonly basic?: true;
}

/** What candidates are read off. */
export interface From {
  readonly lab: DraftedLab;
  readonly reference: NetworkModel;
  readonly context: CheckContext;
  readonly groups: Groups;
  readonly hosts: readonly HostGroup[];
  readonly inside: readonly Instance[];
  /** Those that the reference fulfils, in one sentence. */
  readonly all: (rules: readonly Rule[]) => Rule[];
  readonly holds: (rule: Rule) => boolean;
  readonly sorts: readonly { readonly kind: DeviceKind; readonly ref: string; readonly members: readonly Instance[] }[];
}
export const of = (rule: Rule, asked?: string): Candidate => ({ rule, ...(asked !== undefined && { asked }) });

export const basic = (rule: Rule): Candidate => ({ rule, basic: true });
