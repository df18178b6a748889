import { analyse, problemsOf } from '../engine';
import { demoLab } from '../tests/topologies';
import { readTopology } from '../topology';
import { STARTERS, beginningOf } from '.';

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
  expect(new Set(STARTERS.map((starter) => starter.id)).size).toBe(STARTERS.length);
});

describe('another drawing as the beginning', () => {
  const drawing = structuredClone(STARTERS.find((starter) => starter.id === 'two-sites')!.make());
  drawing.comments = { c: { entries: [{ by: 'Maren', at: '2026-01-01', text: 'mind the clock' }] } };
  test('all of it but what was said about it', () => {
    const { comments: _said, ...rest } = drawing;
    expect(beginningOf(drawing, 'all')).toEqual({ ...rest, origin: { kind: 'copy' } });
  });
  test('cabled and not configured: every link comes up, and nobody has an address', () => {
    const cabled = beginningOf(drawing, 'cabled');
    const { layer1, layer3 } = analyse(cabled);
    expect([...layer1.links.values()].every((link) => link.up)).toBe(true);
    expect(layer1.links.size).toBe(Object.keys(drawing.links).length);
    expect(layer3.owners.size).toBe(0);
    expect(JSON.stringify(cabled)).not.toContain('settings');
  });
  test('devices in their places and no links', () => {
    const placed = beginningOf(demoLab('three-stations').reference, 'placed');
    expect([Object.keys(placed.devices).length, Object.keys(placed.links).length]).toEqual([39, 0]);
    expect(readTopology(placed)).toMatchObject({ ok: true });
    expect(analyse(placed).layer3.owners.size).toBe(0);
  });
});
