import { type LabView } from '@sobrin/contracts';
import { type Brief } from '@sobrin/core/plan';
import { type Policy, type Task } from '@sobrin/core/spec';
import { filled } from '@sobrin/core/topology';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { useStore } from 'zustand';
import { ApiError, api } from '../api/client';
import { readAnew } from '../api/queries';
import { useKeeping } from '../documents/open-document';
import { type FactsStore, type LabFacts, createFactsStore } from '../lab/lab-facts';
import { type PartState, type PartStore, setPart } from '../lab/lab-part';

/** The documents that the Brief works on. */
export interface BriefStores {
  brief: PartStore<'brief'>;
  tasks: PartStore<'tasks'>;
  policy: PartStore<'policy'>;
}
/** What the Brief changes of a lab. */
export interface BriefParts extends LabFacts {
  brief: Brief;
  tasks: readonly Task[];
  policy: Policy;
}

interface Step {
  readonly title: string;
  readonly number: number;
}
interface WithHistory {
  readonly past: readonly Step[];
  readonly future: readonly Step[];
  undo: () => void;
  redo: () => void;
}

/** The history of several documents as one: the step that was made last is undone first, in whichever it was made. */
function oneHistory(parts: readonly WithHistory[]): WithHistory {
  const past = parts.flatMap((part) => part.past).sort((a, b) => a.number - b.number);
  const future = parts.flatMap((part) => part.future).sort((a, b) => a.number - b.number);
  return {
    past,
    future,
    undo: () => parts.find((part) => part.past.length && part.past.at(-1) === past.at(-1))?.undo(),
    redo: () => parts.find((part) => part.future.length && part.future[0] === future[0])?.redo(),
  };
}

export interface BriefDesk extends WithHistory {
  readonly value: BriefParts;
  /** The documents and the facts as they are saved. */
  readonly brief: PartState<'brief'>;
  readonly tasks: PartState<'tasks'>;
  readonly policy: PartState<'policy'>;
  readonly facts: ReturnType<FactsStore['getState']>;
  change: (next: Partial<BriefParts>) => void;
  /** Changes some properties of the brief; undefined and empty lists take one away. */
  setBrief: (change: { [K in keyof Brief]?: Brief[K] | undefined }) => void;
}

/** The brief while it is edited: its documents, title and due date, with one history over them. */
export function useBriefDesk(lab: LabView, stores: BriefStores): BriefDesk {
  const client = useQueryClient();
  const [factsStore] = useState(() =>
    createFactsStore({ title: lab.title, dueAt: lab.dueAt }, async (change, known) => {
      for (let left = MOST_TRIES; ; left--) {
        const there = await api('GET labs/:id', { id: lab.id });
        if (meets(change, known, there)) return { title: there.title, dueAt: there.dueAt };
        try {
          const next = await api('PATCH labs/:id', { id: lab.id }, { base: there.revision, ...change });
          client.setQueryData(['lab', lab.id], next);
          void readAnew(client, ['class'], ['courses']);
          return null;
        } catch (error) {
          // A part of the lab was saved between the two: nothing of that meets title or due date.
          if (!(error instanceof ApiError && error.status === 409) || left === 1) throw error;
        }
      }
    }),
  );
  const brief = useStore(stores.brief);
  const tasks = useStore(stores.tasks);
  const policy = useStore(stores.policy);
  const facts = useStore(factsStore);
  useKeeping(stores.brief);
  useKeeping(stores.tasks);
  useKeeping(stores.policy);
  useFreshLab(lab.id, stores);
  return {
    ...oneHistory([brief, tasks, policy, facts]),
    value: { ...facts.value, brief: brief.document, tasks: tasks.document.tasks, policy: policy.document },
    brief,
    tasks,
    policy,
    facts,
    change: (next) => {
      const { brief: nextBrief, tasks: nextTasks, policy: nextPolicy, ...nextFacts } = next;
      const title = titleOf(Object.keys(next));
      if (nextBrief) setPart(stores.brief, title, nextBrief);
      if (nextTasks) setPart(stores.tasks, title, { tasks: [...nextTasks] });
      if (nextPolicy) setPart(stores.policy, title, nextPolicy);
      if (Object.keys(nextFacts).length) facts.change(title, nextFacts);
    },
    setBrief: (change) =>
      void setPart(stores.brief, titleOf(Object.keys(change)), filled({ ...brief.document, ...change }) ?? {}),
  };
}

/** So often title and due date are sent again where a part of the lab is saved meanwhile. */
const MOST_TRIES = 5;

/** Whether others made something else meanwhile of what is changed. */
const meets = (change: Partial<LabFacts>, known: LabFacts, there: LabFacts): boolean =>
  (['title', 'dueAt'] as const).some(
    (key) => change[key] !== undefined && there[key] !== known[key] && there[key] !== change[key],
  );

const NAMES: Readonly<Record<string, string>> = { dueAt: 'due date', policy: 'rules of the lab' };
/** A change as undoing calls it. */
const titleOf = (properties: readonly string[]): string =>
  `change the ${properties.map((property) => NAMES[property] ?? property).join(' and ')}`;

/** What is shown around the brief, the rail above all, is read anew when a change has reached the server. */
function useFreshLab(labId: string, stores: BriefStores): void {
  const client = useQueryClient();
  useEffect(() => {
    const refresh = (save: { kind: string }, before: { kind: string }): void => {
      if (save.kind === 'saved' && before.kind !== 'saved')
        void readAnew(client, ['lab', labId], ['class'], ['courses']);
    };
    const ends = [stores.brief, stores.tasks, stores.policy].map((store) =>
      (store as PartStore<'brief'>).subscribe((state, before) => refresh(state.save, before.save)),
    );
    return () => ends.forEach((end) => end());
  }, [client, labId, stores]);
}
