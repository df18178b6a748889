import { type Command } from '../topology';
import { type Pins, type RoleMatch, type Sureness } from './matching/match';
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
/** One mistake behind what failed. */
export interface Cause {
  /** A, B, C … */
  letter: string;
  /** What is wrong and what it should be. */
  text: string;
  /** The same for the student: without what only the reference says. */
  theirText: string;
  /** Where to look, without what it should be. */
  where: string;
  /** The mistaken thing itself. */
  places: Place[];
  repair: { texts: string[]; commands: Command[] };
  /** The requirements that fail by it, in their order. */
  explains: string[];
  /** The points that it took, as they come back where it alone is repaired beside the others. */
  took: number;
  /** The mark as it would be with this repair alone. */
  mark: number;
  /** Other repairs that would win back as much for as little. */
  alternatives: { text: string; repair: string[] }[];
  sure: Sureness;
  /** Whether it is something that was never begun, for which nothing is given back. */
  leftOut: boolean;
  /** What sort of thing is wrong in which way, at whom: the same in any submission. */
  sort: string;
}
/** The mark where a mistake costs once. */
export interface FollowThrough {
  /** The mark as it was handed in, and with the mistakes repaired that are carried forward. */
  raw: number;
  repaired: number;
  mark: number;
  /** What each requirement would have earned more, by id. */
  won: Record<string, number>;
  /** What each mistake costs, and the requirements that say so. */
  costs: { letter: string; cost: number; by: string[] }[];
  /** The arithmetic, line by line. */
  lines: string[];
}
/** The mistakes behind a result. */
export interface Diagnosis {
  /** The one that took most first. */
  causes: Cause[];
  /** Requirements that cost points and that no repair wins back. */
  unexplained: string[];
  /** Whether the search came to its end within its bound. */
  complete: boolean;
  /** How many drawings were tried, and how many could be. */
  runs: number;
  bound: number;
  followThrough: FollowThrough;
}
/** A submission judged by a spec. It can be made again: it tells the versions and hashes of all that it was made from. */
export interface CheckResult {
  coreVersion: string;
  specHash: string;
  submissionHash: string;
  /** Who plays which role because a person said so; absent for nobody. */
  pins?: Pins;
  /**
   * Rounded down to the step of the policy, with what is given back where a mistake counts once; sections and requirements are
   * as they were handed in, to a hundredth.
   */
  points: number;
  of: number;
  sections: { id: string; title: string; points: number; of: number }[];
  requirements: RequirementResult[];
  /** The mistakes behind it, where the lab counts each once. */
  diagnosis?: Diagnosis;
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
