import { type TableReading, type TableRequest, readPlanTable } from '@sobrin/core/formats';
import { type Plan } from '@sobrin/core/plan';
import { newShortId } from '../api/new-id';

export type PlanTableAnswer = { turn: number } & ({ done: number; of: number } | { reading: TableReading });

/** Works out in the background what a pasted table would do to a plan; tells how far it is, and drops what is asked no more. */
self.onmessage = ({ data }: MessageEvent<{ turn: number; plan: Plan; request: TableRequest }>) => {
  const post = (answer: PlanTableAnswer): void => self.postMessage(answer);
  const work = readPlanTable(data.plan, data.request, () => newShortId('b'));
  for (;;) {
    const step = work.next();
    if (step.done) {
      post({ turn: data.turn, reading: step.value });
      return;
    }
    post({ turn: data.turn, done: step.value, of: data.request.rows.length });
  }
};
