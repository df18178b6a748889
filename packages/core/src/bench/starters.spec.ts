import { analyse, problemsOf } from '../engine';
import { readTopology } from '../topology';
import { STARTERS } from '.';

describe.each(STARTERS)('$name', ({ make }) => {
  const topology = make();
  test('holds together, and has no problems', () => {
    expect(readTopology(topology)).toEqual({ ok: true, value: topology });
    expect(problemsOf(analyse(topology))).toEqual([]);
  });
  test('everything reaches everything', () => {
    const { reach } = analyse(topology);
    const targets = reach.targets();
    expect(targets.length).toBeGreaterThan(4);
    for (const { device } of targets)
      for (const target of targets)
        if (target.device !== device)
          expect([device, target.device, reach.ask(device, target).answer]).toEqual([device, target.device, 'yes']);
  });
});

test('no two of them are the same', () => {
  expect(new Set(STARTERS.map((one) => one.id)).size).toBe(STARTERS.length);
});
