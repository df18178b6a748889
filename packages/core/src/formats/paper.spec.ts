import { Sheet, demoLab } from '../tests/topologies';
import { sceneOf } from '../drawing';
import { pageUnder, paperOf, pictureBox, titleBlockOf } from '.';

const drawing = demoLab('three-stations').reference;

test.each(['A4', 'A3', 'LETTER'] as const)('the page under a drawing is the one that is printed: %s', (size) => {
  const box = pictureBox(sceneOf(drawing));
  const { frame, titleBlock, lying, page } = pageUnder(box, size);
  const printed = paperOf(drawing, { size, schedules: false, date: '2026-11-30' });
  expect(printed.pageOrientation).toBe(lying ? 'landscape' : 'portrait');
  expect(frame.width / frame.height).toBeCloseTo(page[0] / page[1]);
  // The picture lies on the page, and above the title block.
  expect(box.x).toBeGreaterThanOrEqual(frame.x);
  expect(box.x + box.width).toBeLessThanOrEqual(frame.x + frame.width);
  expect(box.y + box.height).toBeLessThanOrEqual(titleBlock.y);
  expect(titleBlock.y + titleBlock.height).toBeLessThan(frame.y + frame.height);
});
test('an upright drawing has an upright page', () => {
  expect(pageUnder({ x: 0, y: 0, width: 200, height: 900 }, 'A4').lying).toBe(false);
});
test('the title block says what is drawn, by whom and when', () => {
  expect(titleBlockOf(drawing, '2026-11-30')).toEqual({
    title: 'Three Stations',
    lines: ['39 devices, 38 links', 'Drawn by Maren Osterkamp', '2026-11-30'],
  });
  const { topology } = new Sheet().device('A', 'hub');
  expect(titleBlockOf(topology, '').lines[0]).toBe('1 device, 0 links');
});
