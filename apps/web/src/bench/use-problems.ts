import { type PlanOfLab, repairOf } from '@sobrin/core/editing';
import { type EngineOptions, type Reason, splitInstanceId } from '@sobrin/core/engine';
import { useEffect, useMemo, useRef, useState } from 'react';
import { type Selection } from '../drawing/selection';
import { type Ask, type Causes } from '../workers/engine-requests';
import { useBench } from './use-bench';

/** The live problems of a drawing: how many each device has, where they are, and what mends one. */
export function useProblems({
  problems,
  ask,
  equipment,
  plan,
  choose,
}: {
  problems: readonly Reason[];
  ask: Ask;
  equipment: Partial<EngineOptions>;
  plan: PlanOfLab | undefined;
  choose: (next: Partial<Selection>) => void;
}) {
  const topology = useBench((state) => state.document);
  const run = useBench((state) => state.do);
  const at = useRef(-1);
  const causes = useCauses(problems, ask);
  const told = useMemo(() => nested(problems, causes), [problems, causes]);
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
    /** Problems that stand for themselves, each with those that only follow from it. */
    told,
    jump,
    next: (): void => {
      if (!told.length) return;
      at.current = (at.current + 1) % told.length;
      jump(told[at.current]!.problem);
    },
    repairText: (problem: Reason): string | null => repair(problem)?.text ?? null,
    mend: (problem: Reason): void => {
      const found = repair(problem);
      if (found) run(found.text.toLowerCase(), ...found.commands);
    },
  };
}

/** While somebody goes on drawing, nobody asks what follows from what. */
const PAUSE_MS = 250;
const NO_CAUSES: Causes = {};

/** What follows from what; until it is known of a change, what was known before. */
function useCauses(problems: readonly Reason[], ask: Ask): Causes {
  const [causes, setCauses] = useState(NO_CAUSES);
  useEffect(() => {
    if (problems.length < 2) return;
    let isWanted = true;
    const timer = window.setTimeout(
      () => void ask('causes', null).then((answer) => isWanted && setCauses(answer)),
      PAUSE_MS,
    );
    return () => {
      isWanted = false;
      window.clearTimeout(timer);
    };
  }, [problems, ask]);
  return causes;
}

/** A problem with those that follow from it, and from these. */
export interface Told<P> {
  readonly problem: P;
  readonly following: readonly P[];
}
export function nested<P extends { text: string }>(problems: readonly P[], causes: Causes): Told<P>[] {
  const there = new Set(problems.map(({ text }) => text));
  /** What it follows from in the end; itself where that is not told. */
  const rootOf = (text: string): string => {
    const seen = new Set([text]);
    for (let at = text; ;) {
      const next = causes[at];
      if (next === undefined || !there.has(next)) return at;
      // Two answers about two drawings may go in a circle: then nobody knows.
      if (seen.has(next)) return text;
      seen.add(next);
      at = next;
    }
  };
  const following = new Map<string, P[]>();
  const roots = problems.filter((problem) => {
    const root = rootOf(problem.text);
    if (root === problem.text) return true;
    following.set(root, [...(following.get(root) ?? []), problem]);
    return false;
  });
  return roots.map((problem) => ({ problem, following: following.get(problem.text) ?? [] }));
}

/** The device of a problem; of a tile, not its member. */
const deviceOf = ({ at }: Reason): string | undefined =>
  at.device === undefined ? undefined : splitInstanceId(at.device).device;
