import fc from 'fast-check';
import { drawings } from '../tests/arbitrary';
import { demoLab } from '../tests/topologies';
import { runs } from '../tests/runs';
import { type Topology, readTopology } from '../topology';
import { writeSvg } from '../formats';
import { publicView } from '.';

test('what stands in settings, ports and comments and cannot be seen is not in it', () => {
  const drawing = structuredClone(demoLab('three-stations').reference);
  const [device] = Object.values(drawing.devices);
  device!.settings = { management: { users: [{ name: 'root', password: 'SECRET-1' }] }, hostname: 'SECRET-2' };
  device!.ports = {
    g0: { radio: { ssid: 'a', security: 'wpa2', key: 'SECRET-3' }, security: { maxMacs: 1 }, label: 'seen' },
  };
  device!.fields = { room: 'SECRET-4' };
  drawing.comments = { c: { entries: [{ by: 'Maren', at: '2026-01-01', text: 'SECRET-5' }] } };
  const text = JSON.stringify(publicView(drawing));
  expect(text).not.toContain('SECRET');
  expect(text).toContain('seen');
});

test('what interfaces lie on stays: a drawing with a bundle can be read', () => {
  const drawing = structuredClone(demoLab('three-stations').reference);
  const [device] = Object.values(drawing.devices);
  device!.settings = { hostname: 'x', bundles: { b1: { members: [], protocol: 'active' } } };
  device!.interfaces = { b1: { on: { kind: 'bundle', bundle: 'b1' } } };
  expect(readTopology(publicView(drawing)).ok).toBe(true);
});

test('it looks the same, and is a drawing', () => {
  fc.assert(
    fc.property(drawings, (drawing: Topology) => {
      const seen = publicView(drawing);
      expect(readTopology(structuredClone(seen))).toMatchObject({ ok: true });
      expect(writeSvg(seen)).toBe(writeSvg(drawing));
    }),
    { numRuns: runs(15) },
  );
});
