import { type Mark, type Marks } from './marks';
import { type TraceAnswer } from '../workers/trace-answer';

/**
 * What a trace marks on the drawing: its way so far with the numbers of its steps, and the place where it ends.
 * @param mark how its way is marked, where that is not whether it arrives
 */
export function marksOfTrace(
  trace: TraceAnswer,
  at: number,
  mark: Mark = trace.answer === 'uncertain' ? 'unsure' : 'met',
): Marks {
  const soFar = trace.steps.slice(0, at + 1);
  const devices = new Map<string, Mark>();
  const words = new Map<string, string>();
  for (const [step, { device }] of soFar.entries()) {
    devices.set(device, mark);
    const known = words.get(device);
    words.set(device, known ? `${known} · ${step + 1}` : String(step + 1));
  }
  const links = new Map<string, Mark>(soFar.flatMap((step) => step.links.map((link) => [link, mark] as const)));
  const here = trace.steps[at]?.device;
  if (trace.answer !== 'yes' && at === trace.steps.length - 1 && here !== undefined) devices.set(here, 'lost');
  return { devices, links, words, here };
}
