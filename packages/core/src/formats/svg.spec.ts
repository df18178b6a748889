import { SaxesParser } from 'saxes';
import { mediumForm, sceneOf } from '../drawing';
import { Sheet, demoLab } from '../tests/topologies';
import { type Topology } from '../topology';
import { type SvgOptions, pictureBox, writeSvg } from '.';

const drawing = demoLab('three-stations').reference;

interface Element {
  name: string;
  attributes: Record<string, string>;
  text: string;
}
/** The elements of a picture, which must be well-formed XML. */
function elementsOf(topology: Topology, options?: SvgOptions): Element[] {
  const parser = new SaxesParser();
  const found: Element[] = [];
  const open: Element[] = [];
  parser.on('opentag', ({ name, attributes }) => {
    const element = { name, attributes, text: '' };
    found.push(element);
    open.push(element);
  });
  parser.on('text', (text) => open.length && (open.at(-1)!.text += text));
  parser.on('closetag', () => void open.pop());
  parser.on('error', (error) => {
    throw error;
  });
  parser.write(writeSvg(topology, options)).close();
  return found;
}
const textsOf = (topology: Topology, options?: SvgOptions): string[] =>
  elementsOf(topology, options).flatMap(({ name, text }) => (name === 'text' ? text : []));

test('everything that is written on the drawing is text of the picture, once', () => {
  const texts = textsOf(drawing);
  const scene = sceneOf(drawing);
  const names = Object.values(drawing.devices).map((device) => device.name);
  const labels = [...scene.lines.values()].flatMap(({ a, b }) => [a.text, b.text]);
  for (const name of [...names, 'Valley Station', 'Middle Station', 'Summit Station'])
    expect(texts.filter((text) => text === name)).toHaveLength(1);
  expect(texts.filter((text) => labels.includes(text)).sort()).toEqual(labels.sort());
  for (const { prefix } of [...scene.brackets, ...scene.linkSubnets]) expect(texts).toContain(prefix);
  expect(texts).toContain('Legend · Three Stations · Maren Osterkamp');
});

test('links have the forms of their media, exactly as the bench draws them', () => {
  const elements = elementsOf(drawing);
  const paths = new Set(elements.map((element) => element.attributes.d));
  const beads = [...sceneOf(drawing).lines.values()].flatMap((line) => {
    const { strokes, beads } = mediumForm(line);
    for (const { d } of strokes) expect(paths).toContain(d);
    return beads;
  });
  expect(elements.filter((element) => element.name === 'circle')).toHaveLength(beads.length);
});

test('the picture holds all that is drawn and nothing outside of it; a part of it only what is in that part', () => {
  const [svg] = elementsOf(drawing);
  const { x, y, width, height } = pictureBox(sceneOf(drawing));
  expect(svg!.attributes.viewBox!.split(' ').map(Number)).toEqual([x, y, width, height]);
  const scene = sceneOf(drawing);
  const site = scene.sites.find((site) => site.name === 'Middle Station')!;
  const part = textsOf(drawing, { area: site });
  expect(part).toContain('WINCH-1');
  expect(part).not.toContain('DESK-1');
});

test('ends and subnets are left out on demand, and then addresses stand in full', () => {
  const texts = textsOf(drawing, { ends: false, subnets: false });
  expect(texts).not.toContain('p1');
  expect(texts).not.toContain('10.84.1.0/26');
  expect(texts).toContain('10.84.1.11/26');
});

test('dark, transparent and with states: other tones, no ground, filled and crossed chips', () => {
  const [plain, dark] = [writeSvg(drawing), writeSvg(drawing, { scheme: 'dark' })];
  expect(plain).toContain('#FBF9F4');
  expect(dark).not.toContain('#FBF9F4');
  const ground = (options: SvgOptions): number =>
    elementsOf(drawing, options).filter(
      ({ name, attributes }) => name === 'rect' && attributes.rx === undefined && attributes.fill === '#FBF9F4',
    ).length;
  expect([ground({}), ground({ transparent: true })]).toEqual([1, 0]);
  const [link] = Object.keys(drawing.links);
  expect(writeSvg(drawing, { states: { [link!]: 'crossed' } })).toContain('#B0392B');
  expect(plain).not.toContain('#B0392B');
});

test('what people write cannot become anything but text, and pictures on the drawing come along', () => {
  const name = '<script>"&\u0007';
  const { topology } = new Sheet().device('A', 'desktop', {}, { name });
  topology.pictures = {
    p: { name: 'x', data: 'data:image/png;base64,AAAA', at: { x: 0, y: 0 }, width: 10, height: 10 },
  };
  const elements = elementsOf(topology);
  expect(elements.map((element) => element.text)).toContain('<script>"&');
  expect(elements.some((element) => element.name === 'script')).toBe(false);
  expect(elements.find((element) => element.name === 'image')!.attributes.href).toBe('data:image/png;base64,AAAA');
});

test('a note is written in its ways, and no space of it is kept that SVG would not keep by itself', () => {
  const noted: Topology = {
    ...drawing,
    notes: { n: { text: 'the **root** of *the tree*', at: { x: 0, y: -200 } } },
  };
  const picture = writeSvg(noted);
  expect(picture).toContain('<tspan>the</tspan><tspan font-weight="bold"> root</tspan><tspan> of</tspan>');
  expect(picture).not.toContain('xml:space');
});

test('nothing is in it that cannot be seen: no hidden parts, no notes to programs, nothing out of the picture', () => {
  const secret = structuredClone(drawing);
  for (const device of Object.values(secret.devices))
    device.settings = { ...device.settings, management: { users: [{ name: 'HIDDEN', password: 'HIDDEN' }] } };
  secret.comments = { c: { entries: [{ by: 'HIDDEN', at: '2026-01-01', text: 'HIDDEN' }] } };
  secret.fields = { room: 'HIDDEN' };
  expect(writeSvg(secret)).toBe(writeSvg(drawing));
  const area = { x: 300, y: 100, width: 500, height: 400 };
  for (const options of [{}, { area }, { scheme: 'dark' as const, ends: false }]) {
    const picture = writeSvg(drawing, options);
    expect(picture).not.toMatch(/<!--|<metadata|<desc|display|visibility|opacity="0"|fill="none"[^>]*\/text/);
    const [svg, ...elements] = elementsOf(drawing, options);
    const [left, top, width, height] = svg!.attributes.viewBox!.split(' ').map(Number) as [
      number,
      number,
      number,
      number,
    ];
    for (const { text, attributes } of elements.filter((element) => element.name === 'text')) {
      const [x, y] = [Number(attributes.x), Number(attributes.y)];
      const reach = text.length * Number(attributes['font-size']);
      const isSeen = x > left - reach && x < left + width + reach && y > top - 20 && y < top + height + 20;
      expect([text, isSeen]).toEqual([text, true]);
    }
    for (const { attributes } of elements) expect(attributes.fill).not.toBe('transparent');
  }
});

test('what would be dust at the width it is painted at is left out, and every tile stays', () => {
  const rects = (options: SvgOptions): number =>
    elementsOf(drawing, options).filter(
      ({ attributes }) => attributes['stroke-width'] === '1.5' && attributes.rx === '10',
    ).length;
  expect(textsOf(drawing, { paintedWidth: 144 })).toEqual([]);
  expect(textsOf(drawing, { paintedWidth: 1600 })).toEqual(textsOf(drawing));
  expect(rects({ paintedWidth: 144 })).toBe(rects({}));
  expect(rects({})).toBeGreaterThanOrEqual(Object.keys(drawing.devices).length);
});
