import { analyse } from '../../engine';
import { demoLab } from '../../tests/topologies';
import { type Topology } from '../../topology';
import { checkSubmission } from '../judge';
import { matchRoles } from './match';

const lab = demoLab('valley-lan');
const idOf = (name: string): string =>
  Object.entries(lab.reference.devices).find(([, device]) => device.name === name)![0];
const named = (names: Readonly<Record<string, string>>): Topology => {
  const drawing = structuredClone(lab.reference);
  for (const [name, other] of Object.entries(names)) drawing.devices[idOf(name)]!.name = other;
  return drawing;
};
const rolesOf = (drawing: Topology, byName = true) => {
  const { roles, rivals, alternatives } = matchRoles(analyse(lab.reference), analyse(drawing), {}, byName);
  return {
    device: (name: string) => {
      const { device } = roles.find(({ role }) => role === idOf(name))!;
      return device === null ? null : drawing.devices[device]!.name;
    },
    sure: (name: string) => roles.find(({ role }) => role === idOf(name))!.sure,
    open: rivals.length + alternatives.length,
  };
};

test('each plays the part of its name, also where another would suit it better', () => {
  const swapped = named({ SHOP: 'OFFICE', OFFICE: 'SHOP', 'RT-V': 'SW-V', 'SW-V': 'RT-V' });
  const byName = rolesOf(swapped);
  expect(['SHOP', 'OFFICE', 'RT-V', 'SW-V'].map(byName.device)).toEqual(['SHOP', 'OFFICE', 'RT-V', 'SW-V']);
  expect(byName.sure('RT-V')).toBe('sure');
  expect(byName.open).toBe(0);
  const byStructure = rolesOf(swapped, false);
  expect(['RT-V', 'SW-V'].map(byStructure.device)).toEqual(['SW-V', 'RT-V']);
});

test('names are those of hosts: case, blanks and underscores make no difference, anything else does', () => {
  const { device } = rolesOf(named({ 'RT-V': ' rt_v', 'DESK-1': 'Desk 1', 'DESK-2': 'DESK2', PRINT: '' }));
  expect(['RT-V', 'DESK-1', 'DESK-2', 'PRINT'].map(device)).toEqual([' rt_v', 'Desk 1', null, null]);
});

test('of two that have one name the structure tells, and one that has the wrong name is not there', () => {
  const { device } = rolesOf(named({ 'SW-V': 'PRINT', PRINT: 'PRINT' }));
  expect([device('SW-V'), device('PRINT')]).toEqual([null, 'PRINT']);
});

test('names cost where the rules say so, and nothing where they do not', () => {
  const drawing = named({ 'DESK-1': 'KASSE', 'TURN-2': 'DREH' });
  const by = (names: 'any' | 'exact') => checkSubmission({ ...lab, policy: { ...lab.policy, names } }, drawing);
  expect(by('any').points).toBe(checkSubmission(lab, lab.reference).points);
  const exact = by('exact');
  expect(exact.points).toBeLessThan(by('any').points);
  expect(
    exact.matching
      .filter(({ device }) => device === null)
      .map(({ role }) => role)
      .sort(),
  ).toEqual([idOf('DESK-1'), idOf('TURN-2')].sort());
  expect(checkSubmission({ ...lab, policy: { ...lab.policy, names: 'exact' } }, lab.reference).points).toBe(
    checkSubmission(lab, lab.reference).points,
  );
});
