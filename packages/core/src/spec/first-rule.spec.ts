import { labOf } from '../tests/labs';
import { demoLab } from '../tests/topologies';
import { emptyTopology } from '../topology';
import { RULE_KINDS, checkSubmission, firstRule, specProblems } from '.';

test.each(['three-stations', 'winch-isolation', 'summit-dual-stack', 'valley-lan'])(
  '%s: what is offered first is met by the reference, for what the reference has',
  (slug) => {
    const lab = demoLab(slug);
    const met = RULE_KINDS.filter(({ kind, family }) => {
      if (family === 'plan') return false;
      const rule = firstRule(kind, lab);
      const { sections } = labOf([rule], lab.reference, 'all').spec;
      const only = { ...lab, spec: { ...lab.spec, sections } };
      expect([kind, specProblems(only)]).toEqual([kind, []]);
      return checkSubmission(only, lab.reference).points === 2;
    }).map(({ kind }) => kind);
    // What is asked of any network is in every one of these.
    expect(met).toEqual(
      expect.arrayContaining([
        'rightKind',
        'deviceCount',
        'atSite',
        'linked',
        'medium',
        'oneSubnet',
        'gateway',
        'reach',
        'usable',
      ]),
    );
    expect(met.length).toBeGreaterThanOrEqual(34);
  },
);

test('where there is no reference a sentence is as it comes', () => {
  for (const { kind, fresh } of RULE_KINDS) expect(firstRule(kind, labOf([], emptyTopology()))).toEqual(fresh);
});
