import { applyEdits } from '@sobrin/core/changes';
import { DRAWING_TEXT } from '../bench/drawing-text';
import { readYaml, writeYaml } from '@sobrin/core/formats';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { TextSync } from './text-sync';

const start: Topology = {
  ...emptyTopology(),
  devices: { a: { name: 'DESK-1', model: 'desktop', at: { x: 0, y: 0 } } },
};
const commented = `# Monday\n${writeYaml(start)}`;
const named = (name: string): Topology => ({ ...start, devices: { a: { ...start.devices.a!, name } } });

test('what is typed changes the drawing, what is drawn changes the text, and comments stay', () => {
  const sync = new TextSync(DRAWING_TEXT, commented, start);
  const edits = sync.typed(commented.replace('DESK-1', 'TILL-1'));
  expect(edits).toEqual([{ path: ['devices', 'a', 'name'], value: 'TILL-1' }]);
  expect(sync.changed(named('TILL-1'))).toBeNull();
  expect(sync.changed(named('SHOP'))).toBe(commented.replace('DESK-1', 'SHOP'));
});

test('while the text cannot be read the drawing stays, and changes made on it meanwhile are kept', () => {
  const sync = new TextSync(DRAWING_TEXT, commented, start);
  expect(sync.typed(commented.replace('devices:', 'devices'))).toEqual([]);
  expect(sync.problems.length).toBeGreaterThan(0);
  const moved = { ...start, devices: { a: { ...start.devices.a!, at: { x: 9, y: 9 } } } };
  expect(sync.changed(moved)).toBeNull();
  // The text is mended, with another name in it: both changes hold.
  const edits = sync.typed(commented.replace('DESK-1', 'TILL-1'));
  const both = applyEdits(moved, edits).document;
  expect(both.devices.a).toEqual({ name: 'TILL-1', model: 'desktop', at: { x: 9, y: 9 } });
  const text = sync.changed(both)!;
  expect(text.startsWith('# Monday\n')).toBe(true);
  expect(readYaml(text)).toEqual({ ok: true, value: { topology: both, told: [] } });
});

test('what was refused stays in the text, is offered again, and is not overwritten by the drawing meanwhile', () => {
  const sync = new TextSync(DRAWING_TEXT, commented, start);
  const typed = commented.replace('DESK-1', 'TILL-1');
  const edits = sync.typed(typed);
  sync.refused(start);
  expect(sync.changed(named('SHOP'))).toBeNull();
  expect(sync.text).toBe(typed);
  expect(sync.typed(typed)).toEqual(edits);
});
