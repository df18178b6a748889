import { type PlanOfLab, repairOf } from '@sobrin/core/editing';
import { type EngineOptions, type Reason, splitInstanceId } from '@sobrin/core/engine';
import { useMemo, useRef } from 'react';
import { type Selection } from '../drawing/selection';
import { useBench } from './use-bench';

/** The live problems of a drawing: how many each device has, where they are, and what mends one. */
export function useProblems({
  problems,
  equipment,
  plan,
  choose,
}: {
  problems: readonly Reason[];
  equipment: Partial<EngineOptions>;
  plan: PlanOfLab | undefined;
  choose: (next: Partial<Selection>) => void;
}) {
  const topology = useBench((state) => state.document);
  const run = useBench((state) => state.do);
  const at = useRef(-1);
  const counts = useMemo(() => {
    const found = new Map<string, number>();
    for (const problem of problems) {
      const id = deviceOf(problem);
      if (id !== undefined) found.set(id, (found.get(id) ?? 0) + 1);
    }
    return found;
  }, [problems]);
  const jump = (problem: Reason): void => {
    const { link } = problem.at;
    const device = deviceOf(problem);
    if (link !== undefined && topology.links[link]) choose({ links: [link] });
    else if (device !== undefined && topology.devices[device]) choose({ devices: [device] });
  };
  const repair = (problem: Reason) => repairOf(topology, problem, { options: equipment, plan });
  return {
    counts,
    jump,
    next: (): void => {
      if (!problems.length) return;
      at.current = (at.current + 1) % problems.length;
      jump(problems[at.current]!);
    },
    repairText: (problem: Reason): string | null => repair(problem)?.text ?? null,
    mend: (problem: Reason): void => {
      const found = repair(problem);
      if (found) run(found.text.toLowerCase(), ...found.commands);
    },
  };
}

/** The device of a problem; of a tile, not its member. */
const deviceOf = ({ at }: Reason): string | undefined =>
  at.device === undefined ? undefined : splitInstanceId(at.device).device;
