import { formatPrefix } from '../address';
import { smallBrief, smallPlan } from '../tests/plans';
import { addressTable, freeIn, legendText, planTree, withLegend } from '.';

describe('the table for paper and drawing', () => {
  test('has group, VLAN, subnet, gateway, pool and a colour for each VLAN', () => {
    const lines = addressTable(planTree(smallPlan()), smallBrief());
    expect(
      lines.map((line) => [line.name, line.vlan, line.tone, line.subnet, line.subnet6, line.gateway, line.pool]),
    ).toEqual([
      ['Guests', 90, 3, '10.84.0.0/24', 'fd5e:7a3c:90b1::/64', '10.84.0.1', '10.84.0.100 - 10.84.0.254'],
      ['Tickets', 10, 1, '10.84.1.0/26', 'fd5e:7a3c:90b1:1::/64', '10.84.1.1', ''],
      ['Winch', 50, 2, '10.84.4.0/28', 'fd5e:7a3c:90b1:100::/64', '10.84.4.1', ''],
    ]);
  });
  test('goes into a legend once, beside what stands there', () => {
    const text = legendText(planTree(smallPlan()), smallBrief());
    expect(text).toContain('Tickets · VLAN 10 · 10.84.1.0/26 · fd5e:7a3c:90b1:1::/64 · gateway 10.84.1.1');
    const once = withLegend('Solid lines are copper.', text);
    expect(withLegend(once, text)).toBe(once);
    expect(withLegend(once, '')).toBe('Solid lines are copper.');
    expect(freeIn(planTree(smallPlan()), 'valley', 4)!.all.map(formatPrefix)).toEqual([
      '10.84.1.64/26',
      '10.84.1.128/25',
      '10.84.2.0/23',
    ]);
  });
});
