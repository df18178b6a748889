import { type LabView } from '@sobrin/contracts';
import { type Brief, type Policy, type Task } from '@sobrin/core';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useStore } from 'zustand';
import { api } from '../api/client';
import { type PartState, type PartStore, createPartStore } from '../lab/part-store';

/** What the Brief changes of a lab. */
export interface BriefParts {
  title: string;
  dueAt: string | null;
  brief: Brief;
  tasks: readonly Task[];
  policy: Policy;
}
const PARTS = ['title', 'dueAt', 'brief', 'tasks', 'policy'] as const;

const partsOf = ({ title, dueAt, brief, tasks, policy }: LabView): BriefParts => ({
  title,
  dueAt,
  brief,
  tasks,
  policy,
});

export interface BriefDesk extends PartState<BriefParts> {
  /** Changes some properties of the brief; undefined and empty lists take one away. */
  setBrief: (change: { [K in keyof Brief]?: Brief[K] | undefined }) => void;
  reload: () => Promise<void>;
}

/** The brief while it is edited, with undo; only what changed is sent. */
export function useBriefDesk(lab: LabView): BriefDesk {
  const client = useQueryClient();
  const [store, setStore] = useState<PartStore<BriefParts>>(() => storeFor(lab));
  function storeFor(from: LabView): PartStore<BriefParts> {
    return createPartStore({ value: partsOf(from), revision: from.revision }, async (base, value, confirmed) => {
      const changed = PARTS.filter((part) => value[part] !== confirmed[part]);
      const next = await api(
        'PATCH labs/:id',
        { id: from.id },
        {
          base,
          ...Object.fromEntries(changed.map((part) => [part, value[part]])),
        },
      );
      client.setQueryData(['lab', from.id], next);
      for (const key of ['class', 'courses']) void client.invalidateQueries({ queryKey: [key] });
      return next;
    });
  }
  const state = useStore(store);
  return {
    ...state,
    setBrief: (change) => {
      const brief = Object.fromEntries(
        Object.entries({ ...state.value.brief, ...change }).filter(
          ([, one]) => one !== undefined && one !== '' && !(Array.isArray(one) && one.length === 0),
        ),
      );
      state.change({ ...state.value, brief });
    },
    reload: async () => {
      const fresh = await client.fetchQuery({
        queryKey: ['lab', lab.id],
        queryFn: () => api('GET labs/:id', { id: lab.id }),
        staleTime: 0,
      });
      setStore(storeFor(fresh));
    },
  };
}
