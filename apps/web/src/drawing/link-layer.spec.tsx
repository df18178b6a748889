import { fireEvent, render } from '@testing-library/react';
import { sceneOf } from '@sobrin/core/drawing';
import { analyse } from '@sobrin/core/engine';
import { type Medium, type Topology, emptyTopology } from '@sobrin/core/topology';
import { factsOf } from '../workers/facts';
import { LinkLayer } from './link-layer';
import { portMarkKey } from './marks';

const start = (medium: Medium, off = false): Topology => ({
  ...emptyTopology(),
  devices: {
    r: {
      name: 'RT-1',
      model: 'border-router',
      at: { x: 0, y: 0 },
      interfaces: { g0: { on: { kind: 'port', port: 'g0' }, v4: { addresses: ['10.84.1.1/26'] } } },
    },
    s: {
      name: 'SW-1',
      model: 'access-switch-12',
      at: { x: 0, y: 200 },
      ports: { u1: { label: 'up', ...(off && { enabled: false }) } },
    },
  },
  links: { l: { a: { device: 'r', port: 'g0' }, b: { device: 's', port: 'u1' }, medium } },
});
function draw(topology: Topology, more: Partial<Parameters<typeof LinkLayer>[0]> = {}) {
  return render(
    <LinkLayer
      topology={topology}
      scene={sceneOf(topology)}
      facts={factsOf(analyse(topology)).links}
      lenses={{ ends: true, subnets: true, cables: false }}
      selected={new Set()}
      marks={new Map()}
      portMarks={new Map()}
      dimOthers={false}
      {...more}
    />,
  ).container;
}

test.each([
  ['straight', false, 'up', 0],
  ['sm-fibre', false, 'crossed', 2],
  ['straight', true, 'down', 0],
] as const)('a %s cable (port off: %s) shows chips that are %s', (medium, off, state, crosses) => {
  const drawn = draw(start(medium, off));
  expect(drawn.querySelectorAll(`.chip.${state}`)).toHaveLength(2);
  expect(drawn.querySelectorAll('.cross')).toHaveLength(crosses);
});

test('nothing is told of the state where the lab tells nothing', () => {
  expect(draw(start('sm-fibre'), { facts: null }).querySelectorAll('.chip.plain')).toHaveLength(2);
});

test('ends carry port and short address, a label in place of the port; the whole address when the link is chosen', () => {
  const texts = (drawn: Element): (string | null)[] =>
    [...drawn.querySelectorAll('text')].map((element) => element.textContent);
  expect(texts(draw(start('straight')))).toEqual(['g0 .1', 'up']);
  expect(texts(draw(start('straight'), { selected: new Set(['l']) }))).toEqual(['g0 10.84.1.1/26', 'up']);
  expect(texts(draw(start('straight'), { lenses: { ends: false, subnets: false, cables: true } }))).toEqual(['Cu']);
});

test('the reason can be read by everybody, and a click chooses the link', () => {
  const picked: [string, boolean][] = [];
  const drawn = draw(start('sm-fibre'), { onPick: (link, add) => picked.push([link, add]) });
  const hit = drawn.querySelector('.hit')!;
  expect(hit).toHaveAccessibleName(
    expect.stringMatching(/^RT-1 g0 to SW-1 u1, single-mode fibre, cannot work: .*does not fit it/) as string,
  );
  fireEvent.click(hit, { shiftKey: true });
  expect(picked).toEqual([['l', true]]);
});

test('a port that is pointed at has a mark of its own', () => {
  expect(
    draw(start('straight'), { portMarks: new Map([[portMarkKey('s', 'u1'), 'lost']]) }).querySelectorAll(
      '.port-mark.lost',
    ),
  ).toHaveLength(1);
});

describe('lenses', () => {
  const lenses = { ends: false, subnets: false, cables: false };
  const words = (drawn: Element): (string | null)[] =>
    [...drawn.querySelectorAll('text')].map((element) => element.textContent);
  const trunked = (allowed: number[]): Topology => {
    const role = { kind: 'switched' as const, mode: 'trunk' as const, allowed };
    const { devices, links } = start('straight');
    return {
      ...start('straight'),
      devices: {
        t: { name: 'SW-2', model: 'access-switch-12', at: { x: 0, y: 0 }, ports: { u1: { role } } },
        s: { ...devices.s!, ports: { u1: { role } }, settings: { vlans: { 10: 'A', 20: 'B', 30: 'C' } } },
      },
      links: { l: { ...links.l!, a: { device: 't', port: 'u1' } } },
    };
  };
  test('identifiers and speeds stand in the middle, one after the other', () => {
    const topology = start('straight');
    topology.links.l!.cableId = 'KR-110';
    expect(words(draw(topology, { lenses: { ...lenses, ids: true } }))).toEqual(['KR-110']);
    expect(words(draw(topology, { lenses: { ...lenses, cables: true, ids: true, speeds: true } }))).toEqual([
      'Cu · KR-110 · 1 Gb/s',
    ]);
    expect(words(draw(topology, { lenses: { ...lenses, speeds: true }, facts: null }))).toEqual([]);
  });
  test('VLANs are bands in their tones with their numbers, in place of the plain line', () => {
    const drawn = draw(trunked([10, 30]), { lenses: { ...lenses, vlans: true } });
    expect(words(drawn)).toEqual(['10', '30']);
    const bands = [...drawn.querySelectorAll<SVGElement>('.vlan-band')];
    expect(bands.map((band) => band.style.stroke)).toEqual(['var(--vlan-1)', 'var(--vlan-3)']);
    expect(new Set(bands.map((band) => band.getAttribute('d'))).size).toBe(2);
    expect(drawn.querySelectorAll('.wire')).toHaveLength(0);
  });
  test('a drawing without VLANs looks as it does without the lens', () => {
    const drawn = draw(start('straight'), { lenses: { ...lenses, vlans: true } });
    expect(drawn.querySelectorAll('.vlan-band')).toHaveLength(0);
    expect(drawn.querySelectorAll('.wire').length).toBeGreaterThan(0);
  });
  test('a note is tied to what it hangs on by a thread, one at a place is not', () => {
    const noted = (anchor?: { kind: 'device'; id: string }): Topology => ({
      ...start('straight'),
      notes: { n: { text: 'root', at: { x: 60, y: -56 }, ...(anchor && { anchor }) } },
    });
    const threads = (topology: Topology): number => draw(topology).querySelectorAll('.note-thread').length;
    expect([threads(noted({ kind: 'device', id: 's' })), threads(noted())]).toEqual([1, 0]);
  });
});
