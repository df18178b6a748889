import { type NetworkModel, instanceId } from '../../engine';
import { type BriefedPlan, DRAWING_FAULTS, PLAN_FAULTS } from '../../faults';
import { type Plan, applyPlanCommands } from '../../plan';
import { type Command, type Topology, applyBatch } from '../../topology';
import { MAKES_A_PLAN } from '../drafting/draft';
import { kindsIn } from '../evaluate';
import { type JudgingLab } from '../judging';
import { coloursOf } from '../matching/colours';
import { graphOf } from '../matching/graph';
import { isOutside } from '../outside';
import { type Place } from '../rule';
import { ruleKind } from '../rules';

/** A known mistake as it is planted in the reference, or in the plan, of a lab. */
export interface Plant {
  /** The operator that makes it. */
  readonly operator: string;
  readonly title: string;
  readonly text: string;
  readonly places: readonly Place[];
  /** How many places there are that nothing tells apart from this one, itself among them; and these others. */
  readonly times: number;
  readonly alike: readonly Place[];
  /** What makes it in the drawing; absent for a mistake of the plan. */
  readonly commands?: readonly Command[];
  readonly drawing: Topology;
  readonly plan: Plan;
}

/** Mistakes that no drawing shows: they need the texts of devices. */
export const NOT_PLANTED: readonly string[] = [
  'a configuration that is right and not saved',
  'disagreements between the drawing and the texts of devices',
];
/** Configuration that is right and not saved stands in texts only. */
const OF_TEXTS: ReadonlySet<string> = new Set(['notSaved']);

/**
 * Every known mistake at every place where it can be made, once where symmetry makes places the same. In the order of the
 * operators, so that a bound taken round by round leaves none of them out.
 *
 * @param most how many at most, spread over the operators
 */
export function plantsIn(reference: NetworkModel, lab: PlantedLab, most: number): Plant[] {
  const alike = symmetryOf(reference);
  const drawn = DRAWING_FAULTS.filter(({ kind }) => !OF_TEXTS.has(kind)).map((operator) => {
    const { kind, title } = operator;
    const classes = new Map<
      string,
      { times: number; alike: Place[]; text: string; places: Place[]; commands: readonly Command[] }
    >();
    for (const { at, text, commands } of operator.faultsIn(reference.topology)) {
      const { port, link } = at;
      const device = at.device ?? removedBy(commands);
      // What is outside is the lab's: nobody can make a mistake there.
      const there = reference.instances.get(device ?? '');
      if (there ? isOutside(reference, there) : link !== undefined && liesOutside(reference, link)) continue;
      const key = `${device === undefined ? '' : alike(device)} ${port ?? ''} ${shapeOf(text, reference, alike)}`;
      const known = classes.get(key);
      const place = {
        ...(device !== undefined && { device }),
        ...(port !== undefined && { port }),
        ...(link !== undefined && { link }),
      };
      if (known) {
        known.times++;
        known.alike.push(place);
      } else {
        classes.set(key, { times: 1, alike: [], text, places: [place], commands });
      }
    }
    return [...classes.values()].flatMap(({ commands, ...rest }): (() => Plant | null)[] => [
      () => {
        const done = applyBatch(reference.topology, rest.text, [...commands]);
        return done.ok
          ? { operator: kind, title, ...rest, commands, drawing: done.value.document, plan: lab.plan }
          : null;
      },
    ]);
  });
  const planned = (isPlanned(lab) ? PLAN_FAULTS : []).map((operator) =>
    [...operator.faultsIn(lab)].map(({ at, text, commands }) => (): Plant | null => {
      const { kind, title } = operator;
      const done = applyPlanCommands(lab.plan, text, commands);
      const places = at.block === undefined ? [] : [{ block: at.block }];
      return done.ok
        ? {
            operator: kind,
            title,
            text,
            places,
            times: 1,
            alike: [],
            drawing: reference.topology,
            plan: done.value.document,
          }
        : null;
    }),
  );
  const lists = [...drawn, ...planned];
  const rounds = Math.max(0, ...lists.map((list) => list.length));
  const plants: Plant[] = [];
  for (let nth = 0; nth < rounds && plants.length < most; nth++)
    for (const list of lists) {
      const plant = list[nth]?.();
      if (plant && plants.length < most) plants.push(plant);
    }
  return plants;
}

/** Whether both ends of a link are outside. */
function liesOutside(reference: NetworkModel, id: string): boolean {
  const link = reference.topology.links[id];
  return (
    link !== undefined &&
    [link.a, link.b].every((end) => {
      const there = reference.instances.get(instanceId(end));
      return there !== undefined && isOutside(reference, there);
    })
  );
}

/** The device that is taken away, where that is the mistake. */
const removedBy = (commands: readonly Command[]): string | undefined => {
  const [first] = commands;
  return first?.kind === 'removeDevices' ? first.ids[0] : undefined;
};

/** A lab in which mistakes are planted. */
export type PlantedLab = BriefedPlan & Pick<JudgingLab, 'spec' | 'tasks'>;

/** Whether students make a plan: a task says so, or the spec asks for it. */
const isPlanned = ({ tasks = [], spec }: PlantedLab): boolean =>
  tasks.some(({ text }) => MAKES_A_PLAN.test(text)) ||
  spec.sections.some(({ requirements }) =>
    requirements.some(({ rule }) => kindsIn(rule).some((kind) => ruleKind(kind)?.family === 'plan')),
  );

/** Which devices nothing of the structure tells apart: by a word that is the same for those. */
function symmetryOf(reference: NetworkModel): (instance: string) => string {
  const graph = graphOf(reference);
  const [colours] = coloursOf([graph], true) as [Int32Array];
  const colourOf = new Map(graph.ids.map((id, at) => [id, `#${colours[at]!}`]));
  return (instance) => colourOf.get(instance) ?? instance;
}

/** A sentence without what differs between like places: names, addresses and the numbers of ports. */
function shapeOf(text: string, { instances, topology }: NetworkModel, alike: (instance: string) => string): string {
  const names = [...instances.values()].map(({ id, name }) => [name, alike(id)] as const);
  const devices = Object.entries(topology.devices).map(
    ([id, { name }]) => [name, alike(instanceId({ device: id }))] as const,
  );
  let shape = text;
  for (const [name, colour] of [...names, ...devices].sort(([a], [b]) => b.length - a.length))
    if (name) shape = shape.replaceAll(name, colour);
  return shape.replace(/[0-9a-f]*[.:][0-9a-f.:]+(\/\d+)?/gi, '@').replace(/\b([a-z]+)\d+\b/g, '$1');
}
