import { type Pins, type RoleMatch } from './matching/match';
import { type Remark } from './outside';
import { type Item, type ItemCode, type Packet, type Place } from './rule';
import { type Requirement } from './schema';

/**
 * How a requirement was judged: `unjudged` where the engine cannot say for certain and a person decides, `notApplying` where
 * its condition does not hold, so that its points are in neither the mark nor the total.
 */
export type Verdict = 'met' | 'partly' | 'lost' | 'unjudged' | 'notApplying';
export interface ItemResult extends Pick<Item, 'text' | 'met' | 'places' | 'weight'> {
  /** The same for the same fact in any submission: place in the rule, roles and family; absent from older results. */
  key?: string;
  code?: ItemCode;
  /** What was found and what is wanted, where it compares. */
  values?: Item['values'];
  /** What of the drawing and the plan it read, where it is not met: its places, the devices of its roles, a packet's way. */
  dependsOn?: Place[];
  /** The packet of the submission whose way shows it, where it is not met. */
  packet?: Packet;
  /** The requirement under which what is missing counts: here it costs nothing more. */
  see?: string;
  /** Whether something it speaks of is not there, so that it shows nothing; absent from older results. */
  grounded?: false;
  /** Whether a person decided it. */
  decided?: true;
  /** How it is proposed to decide what is not certain: lost, where a mistake of the drawing leaves it to chance. */
  proposed?: 'lost';
  /** Whether the lab's starter fulfils it already, so that it earns nothing. */
  given?: true;
  /** The text for the student, where it is another: without names of the reference and values that the sentence lacks. */
  theirText?: string;
}
export interface RequirementResult {
  id: string;
  section: string;
  sentence: string;
  /** The same for the student, where it is another: without names of the reference. */
  theirSentence?: string;
  points: number;
  of: number;
  bonus: boolean;
  /** Whether its points are taken off; they are 0 or less then, and in no total. */
  deduction?: boolean;
  /** Whether all of it came with the lab's starter: it does not apply then, unless something of it is broken. */
  given?: true;
  /** Whether a person decided it, or one of its facts. */
  decided?: true;
  /** Requirements on which it stands and that are not met: it counts nothing. */
  waitsFor?: string[];
  /** What helps a student who has not met it, in the words of who wrote the spec, by how much it tells. */
  hints?: Requirement['hints'];
  verdict: Verdict;
  items: ItemResult[];
}
/** A submission judged by a spec. It can be made again: it tells the versions and hashes of all that it was made from. */
export interface CheckResult {
  coreVersion: string;
  specHash: string;
  submissionHash: string;
  /** Who plays which role because a person said so; absent for nobody. */
  pins?: Pins;
  /** Rounded down to the step of the policy; sections and requirements are kept to a hundredth. */
  points: number;
  of: number;
  sections: { id: string; title: string; points: number; of: number }[];
  requirements: RequirementResult[];
  /** What counted otherwise than it is drawn. */
  remarks?: Remark[];
  /** Hurdles that were not taken, as sentences; absent where the spec has none. */
  hurdlesMissed?: string[];
  matching: RoleMatch[];
  /**
   * Where structure left a choice: `best`, of several arrangements of the same devices the one with most points; `least`,
   * since more devices than are asked for would do and differ in what is judged.
   */
  arranged?: 'best' | 'least';
  /** Whether its texts are told for students, too; absent from results that were made before they were. */
  forStudents?: true;
}
