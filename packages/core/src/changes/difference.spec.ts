import fc from 'fast-check';
import { drawings } from '../tests/arbitrary';
import { runs } from '../tests/runs';
import { applyEdits, editsBetween, sameValue, takenBack } from '.';

test('the edits between two drawings make one of the other, and back', () => {
  fc.assert(
    fc.property(drawings, drawings, (before, after) => {
      const done = applyEdits(before, editsBetween(before, after));
      expect(done.document).toEqual(after);
      expect(applyEdits(done.document, done.inverse).document).toEqual(before);
    }),
    { numRuns: runs(20) },
  );
});

test('only what differs is edited; lists without ids are set as a whole', () => {
  const before = { devices: { a: { name: 'A', at: { x: 1, y: 2 } }, b: { name: 'B' } }, tags: [1, 2] };
  const after = { devices: { a: { name: 'A', at: { x: 1, y: 3 } }, c: { name: 'C' } }, tags: [1, 3] };
  expect(editsBetween(before, after)).toEqual([
    { path: ['devices', 'b'] },
    { path: ['devices', 'a', 'at', 'y'], value: 3 },
    { path: ['devices', 'c'], value: { name: 'C' } },
    { path: ['tags'], value: [1, 3] },
  ]);
  expect(editsBetween(before, structuredClone(before))).toEqual([]);
  expect(sameValue({ a: 1, b: [{}] }, { b: [{}], a: 1 })).toBe(true);
});

test('many changes are taken back in one run, the newest first', () => {
  fc.assert(
    fc.property(fc.array(drawings, { minLength: 2, maxLength: 5 }), (all) => {
      const inverses = all.slice(1).map((after, at) => {
        const { inverse } = applyEdits(all[at]!, editsBetween(all[at]!, after));
        const edits = { kind: 'edits', edits: inverse };
        return at % 2 ? edits : { kind: 'batch', title: 'save', commands: [edits] };
      });
      expect(takenBack(all.at(-1)!, inverses.reverse())).toEqual(all[0]);
    }),
    { numRuns: runs(10) },
  );
});

test('a key that all objects inherit is set as a key, never as what is inherited', () => {
  const before = { devices: { a: 1 } };
  for (const path of [['__proto__'], ['devices', '__proto__'], ['__proto__', 'x']]) {
    const { document, inverse } = applyEdits(before, [{ path, value: { devices: {} } }]);
    expect(JSON.stringify(document)).toContain('__proto__');
    expect(Object.getPrototypeOf(document)).toBe(Object.prototype);
    expect(Object.getPrototypeOf(document.devices)).toBe(Object.prototype);
    expect(JSON.stringify(applyEdits(document, inverse).document)).toBe(JSON.stringify(before));
  }
});

describe('lists whose entries have ids', () => {
  const entry = fc.record({ id: fc.constantFrom('a', 'b', 'c', 'd', 'e', 'f'), text: fc.string({ maxLength: 3 }) });
  const list = fc.uniqueArray(entry, { selector: ({ id }) => id, maxLength: 6 });
  const specs = fc.record({ sections: list, title: fc.string({ maxLength: 2 }) });
  test('whatever comes, goes, moves or changes, the edits between make one of the other, and back', () => {
    fc.assert(
      fc.property(specs, specs, (before, after) => {
        const done = applyEdits(before, editsBetween(before, after));
        expect(done.document).toEqual(after);
        expect(applyEdits(done.document, done.inverse).document).toEqual(before);
      }),
      { numRuns: runs(200) },
    );
  });
  test('an entry is changed, added and removed by its id, in its place', () => {
    const before = { sections: [{ id: 'a', n: 1 }, { id: 'b', n: 1, parts: [{ id: 'x', n: 1 }] }, { id: 'c' }] };
    const after = { sections: [{ id: 'a', n: 1 }, { id: 'n' }, { id: 'b', n: 1, parts: [{ id: 'x', n: 2 }] }] };
    expect(editsBetween(before, after)).toEqual([
      { path: ['sections', 'c'] },
      { path: ['sections', 'n'], value: { id: 'n' }, at: 1 },
      { path: ['sections', 'b', 'parts', 'x', 'n'], value: 2 },
    ]);
  });
  test('another order is a value as a whole', () => {
    const [a, b] = [{ id: 'a' }, { id: 'b' }];
    expect(editsBetween({ list: [a, b] }, { list: [b, a] })).toEqual([{ path: ['list'], value: [b, a] }]);
  });
});
