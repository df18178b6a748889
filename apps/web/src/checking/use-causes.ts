import { type LookingView, type SubmissionView } from '@sobrin/contracts';
import { type Cause, type CheckResult, type Diagnosis, type DiagnosisProgress } from '@sobrin/core/spec';
import { type Topology, applyBatch } from '@sobrin/core/topology';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { api } from '../api/client';
import { type Marks } from '../drawing/marks';
import { useShortcuts } from '../ui/keys/shortcuts';
import { marksOf } from './findings';

const PROGRESS_EVERY_MS = 600;

/** The mistakes behind a result, and the one that is looked at. */
export interface Causes {
  readonly diagnosis: Diagnosis | null;
  readonly isLooking: boolean;
  /** How far that is, with the best that was found so far; null where it is not known. */
  readonly progress: DiagnosisProgress | null;
  /** Looks no further for now, or goes on. */
  readonly stop: () => void;
  readonly goOn: () => void;
  readonly error: Error | null;
  /** The letters of the causes of a requirement. */
  readonly lettersOf: (requirement: string) => readonly string[];
  readonly chosen: Cause | null;
  readonly choose: (letter: string | null) => void;
  /** The drawing with the chosen cause repaired, while that is tried. */
  readonly tried: Topology | null;
  readonly tryIt: (on: boolean) => void;
}

export function useCauses(
  { id, topology, checkedAt }: SubmissionView,
  result: CheckResult,
  /** Whenever another one is looked at. */
  onChoose: (cause: Cause) => void,
): Causes {
  const [isStopped, setStopped] = useState(false);
  const query = useQuery({
    queryKey: ['diagnosis', id, checkedAt],
    queryFn: () => api('GET submissions/:id/diagnosis', { id }),
    enabled: checkedAt !== null && !isStopped,
    staleTime: Infinity,
  });
  const isLooking = !result.diagnosis && checkedAt !== null && query.isPending && !isStopped;
  const { data: looking } = useQuery({
    queryKey: ['diagnosis-progress', id, checkedAt],
    queryFn: () => api('GET submissions/:id/diagnosis/progress', { id }),
    enabled: isLooking,
    refetchInterval: PROGRESS_EVERY_MS,
    // What is over leaves the last that was told.
    structuralSharing: (before, now) => ((now as LookingView).progress ? now : (before ?? now)),
  });
  const diagnosis = result.diagnosis ?? query.data?.diagnosis ?? null;
  // Whoever comes from the causes of a class looks at that one.
  const [letter, setLetter] = useState<string | null>(() => /^#([A-Z])$/.exec(window.location.hash)?.[1] ?? null);
  const [isTried, setIsTried] = useState(false);
  const causes = diagnosis?.causes ?? [];
  const chosen = causes.find((cause) => cause.letter === letter) ?? null;
  const choose = (next: string | null): void => {
    setLetter(next);
    setIsTried(false);
    const cause = causes.find((each) => each.letter === next);
    if (cause) onChoose(cause);
  };
  const step = (by: number): void => {
    const at = causes.findIndex((cause) => cause.letter === letter);
    const next = causes[at < 0 ? (by > 0 ? 0 : causes.length - 1) : (at + by + causes.length) % causes.length];
    if (next) choose(next.letter);
  };
  useShortcuts([
    { id: 'cause', text: 'Next cause', keys: 'A', off: !causes.length, run: () => step(1) },
    { id: 'cause-before', text: 'Cause before', keys: 'Shift A', off: !causes.length, run: () => step(-1) },
    { id: 'try-repair', text: 'Try its repair', keys: 'Y', off: !chosen, run: () => setIsTried((now) => !now) },
  ]);
  const tried = useMemo(() => {
    const done = chosen && isTried ? applyBatch(topology, 'Repair', chosen.repair.commands) : null;
    return done?.ok ? done.value.document : null;
  }, [chosen, isTried, topology]);
  return {
    diagnosis,
    isLooking,
    progress: (!diagnosis && looking?.progress) || null,
    stop: () => setStopped(true),
    goOn: () => setStopped(false),
    error: query.error,
    lettersOf: (requirement) => causes.flatMap((cause) => (cause.explains.includes(requirement) ? cause.letter : [])),
    chosen,
    choose,
    tried,
    tryIt: setIsTried,
  };
}

/** Where a cause is, with its letter there; as something that is well where it is repaired. */
export function marksOfCause({ letter, text, places }: Cause, isRepaired: boolean): Marks {
  const marks = marksOf([{ text, met: isRepaired, places }]);
  return { ...marks, words: new Map([...marks.devices.keys()].map((device) => [device, letter])) };
}
