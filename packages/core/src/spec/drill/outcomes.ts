import {
  AnalysisSession,
  type NetworkModel,
  failingParts,
  probesOf,
  reachDigest,
  switchOff,
  tablesOf,
} from '../../engine';
import { planProblems } from '../../plan';
import { type Earned, type PreparedLab, judgeAgain } from '../check';
import { type RoleMatch } from '../matching/match';
import { type Plant } from './planting';

/** How a planted mistake fared. */
export interface DrilledFault extends Omit<Plant, 'commands' | 'drawing' | 'plan'> {
  /**
   * `noticed`: some requirement earns less by it. `harmless`: nothing behaves otherwise, in the base case and while any one
   * part is off, and nothing of tables and plan differs. `missed`: all the rest.
   */
  readonly outcome: 'noticed' | 'missed' | 'harmless';
  readonly noticedBy: readonly string[];
  /** The points that it costs. */
  readonly cost: number;
  /** The same where the lab counts a mistake once; absent where it does not. */
  readonly costOnce?: number;
  /** Whether everything works as before, and it is wrong all the same: a mistake of craft, or one that works by luck. */
  readonly works?: true;
  /** Whether it is noticed although nothing behaves otherwise: what notices it may ask too much. */
  readonly unneeded?: true;
  /** The proposal that would notice it; null where none does, or it is noticed. */
  readonly proposal: string | null;
}

/** Mistakes that stay mistakes where nothing behaves otherwise: names, labels, security, documentation, and luck. */
const OF_CRAFT: ReadonlySet<string> = new Set([
  'wrongPrefixLength',
  'copiedDevice',
  'straySpace',
  'duplexDifference',
  'slowLink',
  'slowPort',
  'unconnectedDevice',
  'unlabelledPort',
  'wrongPort',
  'edgeRoot',
  'nativeVlan',
  'filterWrongSide',
  'noPrivilegedPassword',
  'telnetOpen',
  'duplicateName',
  'hostnameDiffers',
  'untitled',
  'wrongSite',
  'planDiffers',
  'subnetTooSmall',
  'overlappingBlocks',
  'insideIsProvider',
]);

/** Judges drawings made from the reference, in which every device plays its own role. */
export class Sentry {
  readonly whole: Earned;
  private readonly probes;
  private base: { reach: string; tables: string; problems: string } | null = null;
  private failing: Map<string, string> | null = null;

  constructor(
    private readonly prepared: PreparedLab,
    private readonly plan: Plant['plan'],
    /** Whether what nothing notices is also looked at while each part is off. */
    private readonly withFailures: boolean,
  ) {
    this.probes = probesOf(prepared.reference);
    this.whole = this.earned(prepared.reference, plan, roleOf(prepared.reference));
  }

  private earned(model: NetworkModel, plan: Plant['plan'], matching: readonly RoleMatch[]): Earned {
    return judgeAgain(this.prepared, model, { plan }, matching);
  }

  /** A drawing analysed, as an edit of the reference. */
  modelOf(drawing: Plant['drawing']): NetworkModel {
    const { reference } = this.prepared;
    if (drawing === reference.topology) return reference;
    const session = AnalysisSession.from(reference);
    session.apply({ kind: 'replace', topology: drawing });
    return session.model;
  }

  judge({ drawing, plan, commands: _made, ...plant }: Plant): DrilledFault {
    const model = this.modelOf(drawing);
    const earned = this.earned(model, plan, roleOf(this.prepared.reference, model));
    const noticedBy = earned.requirements.flatMap(({ id, points }, at) =>
      points < this.whole.requirements[at]!.points ? id : [],
    );
    const cost = Math.max(0, Math.round((this.whole.sum - earned.sum) * 100) / 100);
    const isCraft = OF_CRAFT.has(plant.operator);
    const common = { ...plant, noticedBy, cost, proposal: null };
    if (noticedBy.length) {
      const isUnneeded = !isCraft && this.isSame(model, plan, false);
      return { ...common, outcome: 'noticed', ...(isUnneeded && { unneeded: true as const }) };
    }
    const isSame = this.isSame(model, plan, this.withFailures);
    if (isCraft) return { ...common, outcome: 'missed', ...(isSame && { works: true as const }) };
    return { ...common, outcome: isSame ? 'harmless' : 'missed' };
  }

  /** Whether nothing behaves otherwise than in the reference. */
  private isSame(model: NetworkModel, plan: Plant['plan'], whileOff: boolean): boolean {
    const { reference } = this.prepared;
    this.base ??= this.digestOf(reference, this.plan);
    const now = this.digestOf(model, plan);
    if (now.reach !== this.base.reach || now.tables !== this.base.tables || now.problems !== this.base.problems)
      return false;
    return !whileOff || this.isSameWhileOff(model);
  }

  private digestOf(model: NetworkModel, plan: Plant['plan']): { reach: string; tables: string; problems: string } {
    const network = [...model.instances.values()].filter(({ model }) => model.class !== 'end');
    return {
      reach: reachDigest(model, this.probes),
      tables: JSON.stringify(network.map(({ id }) => tablesOf(model, id))),
      problems: JSON.stringify(planProblems(plan, this.prepared.lab.brief)),
    };
  }

  private isSameWhileOff(model: NetworkModel): boolean {
    const { reference } = this.prepared;
    const parts = failingParts(reference.topology);
    const known = (this.failing ??= new Map<string, string>());
    for (const part of parts) {
      const key = `${part.kind} ${JSON.stringify(part)}`;
      let usual = known.get(key);
      if (usual === undefined) known.set(key, (usual = whileOff(reference, part, this.probes.slice(0, 1))));
      if (whileOff(model, part, this.probes.slice(0, 1)) !== usual) return false;
    }
    return true;
  }
}

function whileOff(
  model: NetworkModel,
  part: Parameters<typeof switchOff>[1][number],
  probes: Parameters<typeof reachDigest>[1],
): string {
  const session = AnalysisSession.from(model);
  session.apply(switchOff(model.topology, [part]));
  return reachDigest(session.model, probes);
}

/** Every device that is still there plays its own role. */
export const roleOf = (reference: NetworkModel, model: NetworkModel = reference): RoleMatch[] =>
  [...reference.instances.keys()].map((role) => ({ role, device: model.instances.has(role) ? role : null }));
