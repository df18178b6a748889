import { readLabText } from '@sobrin/core/formats';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { MOST_PIXELS, pdfOf, pngOf } from '.';

const lab = readLabText(
  readFileSync(path.join(__dirname, '..', '..', '..', 'demo', 'three-stations', 'lab.json'), 'utf8'),
);
if (!lab.ok) throw new Error(lab.error[0]!.text);
const drawing = lab.value.reference;
/** Width and height, from the header of a PNG (W3C PNG, 11.2.1). */
const sizeOf = (png: Buffer): [number, number] => [png.readUInt32BE(16), png.readUInt32BE(20)];
const named = (name: string): Topology => ({
  ...emptyTopology(),
  devices: { a: { name, model: 'border-router', at: { x: 0, y: 0 } } },
});

test('a picture is as wide as wanted and as high as the drawing asks for', () => {
  const [width, height] = sizeOf(pngOf(drawing, { width: 1000 }));
  expect(width).toBe(1000);
  expect(height).toBeGreaterThan(400);
  expect(sizeOf(pngOf(named('R'), { width: 1e9 }))[0]).toBe(MOST_PIXELS);
});

test('its words are drawn: another name, also one with letters beyond ASCII, is another picture', () => {
  const pictures = ['ROUTER', 'RÖŽŤER', 'ROUTES'].map((name) => pngOf(named(name), { width: 400 }).toString('base64'));
  expect(new Set(pictures).size).toBe(3);
  expect(pngOf(named('ROUTER'), { width: 400 }).toString('base64')).toBe(pictures[0]);
});

test('writings that the face of papers lacks are drawn, not boxes: every name is another picture, and its font is in the paper', async () => {
  const names = ['محطة', 'موقع', '🚠🚠🚠', '🖥🖥🖥', 'תחנה', 'עמק', 'สถานี', 'หุบเขา', 'घाटी', 'स्टेशन'];
  const pictures = names.map((name) => pngOf(named(name), { width: 400 }).toString('base64'));
  expect(new Set(pictures).size).toBe(names.length);
  const papers = await Promise.all(
    ['ROUTER', 'محطة', '🚠', 'תחנה', 'สถานี', 'घाटी'].map(
      async (name) => (await pdfOf(named(name), { size: 'A4', schedules: true, date: '2026-01-01' })).pdf,
    ),
  );
  const fonts = papers.map((paper) =>
    [...paper.toString('latin1').matchAll(/\/FontName \/[A-Z]+\+(\w+)/g)].map(([, font]) => font),
  );
  expect(fonts[0]!.join()).not.toMatch(/Noto/);
  expect(fonts[1]!.join()).toMatch(/NotoSansArabic/);
  expect(fonts[2]!.join()).toMatch(/NotoEmoji/);
  expect(fonts.slice(3).map((list) => list.find((font) => font!.startsWith('NotoSans')))).toEqual([
    expect.stringContaining('Hebrew'),
    expect.stringContaining('Thai'),
    expect.stringContaining('Devanagari'),
  ]);
});

test('it is light or dark', () => {
  const [light, dark] = (['light', 'dark'] as const).map((scheme) => pngOf(drawing, { width: 300, scheme }));
  expect(light!.equals(dark!)).toBe(false);
});

test('a paper is a PDF with its fonts in it', async () => {
  const { pdf: paper } = await pdfOf(drawing, { size: 'A4', schedules: true, date: '2026-01-01' });
  expect(paper.subarray(0, 5).toString()).toBe('%PDF-');
  expect(paper.toString('latin1')).toMatch(/FontFile2/);
});
