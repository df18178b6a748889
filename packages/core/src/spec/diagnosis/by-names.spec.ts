import { demoLab } from '../../tests/topologies';
import { type Topology } from '../../topology';
import { judgeByRequirements, prepareLab } from '../check';
import { diagnose } from '.';

const plain = demoLab('valley-lan');
const exact = { ...plain, policy: { ...plain.policy, names: 'exact' as const } };
const prepared = prepareLab(exact);
const drawn = (
  names: Readonly<Record<string, string>>,
  more: (drawing: Topology) => void = () => undefined,
): Topology => {
  const drawing = structuredClone(plain.reference);
  for (const device of Object.values(drawing.devices)) device.name = names[device.name] ?? device.name;
  more(drawing);
  return drawing;
};
const diagnosed = (drawing: Topology) => {
  const result = judgeByRequirements(prepared, { drawing, plan: plain.plan });
  return { lost: result.of - result.points, ...diagnose(prepared, { drawing, plan: plain.plan }, result) };
};

test('a device with another name is one mistake, and nothing is missing', () => {
  const { lost, causes, unexplained } = diagnosed(drawn({ SHOP: 'LADEN' }));
  expect(lost).toBeGreaterThan(3);
  expect(causes.map(({ text, leftOut }) => [text, leftOut])).toEqual([
    ['LADEN should be called SHOP: devices are known by their names.', false],
  ]);
  expect(causes[0]!.took).toBeGreaterThan(3);
  expect(causes[0]!.theirText).toBe('LADEN does not have the name that the lab gives it.');
  expect(causes[0]!.repair.texts).toEqual(['LADEN is called SHOP']);
  expect(unexplained).toEqual([]);
});

test('who calls several otherwise makes one mistake', () => {
  const { causes } = diagnosed(drawn({ 'DESK-1': 'KASSE A', 'DESK-2': 'KASSE B', SHOP: 'LADEN' }));
  expect(causes.map(({ text }) => text)).toHaveLength(1);
  expect(causes[0]!.text).toMatch(/should be called .*The same at .* and /);
  expect(causes[0]!.repair.texts).toHaveLength(3);
});

test('two that have one another’s names are put right together', () => {
  const { causes } = diagnosed(drawn({ 'RT-V': 'SW-V', 'SW-V': 'RT-V' }));
  expect(causes.map(({ text }) => text)).toEqual([
    expect.stringMatching(/^(RT-V and SW-V|SW-V and RT-V) have one another’s names, and devices/),
  ]);
});

test('behind a wrong name another mistake of the device is found', () => {
  const { causes } = diagnosed(
    drawn({ SHOP: 'LADEN' }, ({ devices }) => {
      const shop = Object.values(devices).find(({ name }) => name === 'LADEN')!;
      for (const each of Object.values(shop.interfaces!)) each.v4!.addresses = ['10.84.1.200/30'];
    }),
  );
  expect(causes.map(({ text }) => text).join(' ')).toMatch(/should be called SHOP/);
  expect(causes.length).toBeGreaterThan(1);
});

test('where any name is as good, names are no mistake', () => {
  const drawing = drawn({ SHOP: 'LADEN' });
  const any = prepareLab(plain);
  const result = judgeByRequirements(any, { drawing, plan: plain.plan });
  expect(
    diagnose(any, { drawing, plan: plain.plan }, result).causes.map(({ sort }) => sort.split(' ')[0]),
  ).not.toContain('name');
});
