import { analyse, countsOf } from '@sobrin/core/engine';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { startEngine } from './engine-client';
import { type EngineAnswer, type Question } from './engine.worker';
import { type Facts } from './facts';

/** A worker whose answers the test gives. */
class Stand {
  static readonly made: Stand[] = [];
  onmessage: (event: { data: EngineAnswer }) => void = () => undefined;
  readonly asked: Question[] = [];
  ended = false;
  constructor() {
    Stand.made.push(this);
  }
  postMessage(question: Question): void {
    this.asked.push(question);
  }
  terminate(): void {
    this.ended = true;
  }
}
jest.mock('./start-worker', () => ({ engineWorker: () => new Stand() }));
const drawing = (title: string): Topology => ({ ...emptyTopology(), title });

test('an engine that stops says so, rejects what was asked, and another one gets the whole drawing', async () => {
  const heard: Facts[] = [];
  const engine = startEngine((facts) => heard.push(facts));
  const grid = engine.ask(drawing('one'), {}, 'counts', null);
  const [first] = Stand.made;
  expect(first!.asked[0]).toMatchObject({ revision: 1, kind: 'counts' });
  first!.onmessage({ data: { turn: 1, kind: 'counts', answer: null, failed: 'too deep' } });
  await expect(grid).rejects.toThrow('too deep');
  expect(heard.at(-1)!.problems[0]!.text).toMatch(/stopped \(too deep\)/);
  expect(first!.ended).toBe(true);
  const again = engine.ask(drawing('two'), {}, 'counts', null);
  const second = Stand.made[1]!;
  expect(second.asked[0]).toMatchObject({ revision: 1, edits: [{ path: ['title'], value: 'two' }] });
  const counts = countsOf(analyse(emptyTopology()));
  second.onmessage({ data: { turn: 2, kind: 'counts', answer: counts } });
  expect(await again).toBe(counts);
  engine.close();
});
