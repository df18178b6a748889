import { type Brief, type Plan, type PlanCommand, applyPlanCommands } from '../plan';

/** A small brief of two places, with a group of each sort that changes the numbers. */
export const smallBrief = (): Brief => ({
  groups: [
    { id: 'tickets', name: 'Tickets', now: 16, later: 40, site: 'Valley' },
    { id: 'guests', name: 'Guests', now: 60, later: 200, site: 'Valley', needs: ['wireless'] },
    { id: 'winch', name: 'Winch', now: 4, later: 10, site: 'Middle' },
  ],
  sites: [{ name: 'Valley' }, { name: 'Middle' }],
  outside: ['198.51.100.0/24'],
});

/** A sound plan for it: a root, two sites, three subnets. */
export const smallPlan = (): Plan => ({
  blocks: {
    root: { prefix: '10.84.0.0/20', prefix6: 'fd5e:7a3c:90b1::/48', name: 'Ridge', standing: 'decided' },
    valley: { prefix: '10.84.0.0/22', prefix6: 'fd5e:7a3c:90b1::/56', name: 'Valley', site: 'Valley' },
    middle: { prefix: '10.84.4.0/22', prefix6: 'fd5e:7a3c:90b1:100::/56', name: 'Middle', site: 'Middle' },
    guests: {
      prefix: '10.84.0.0/24',
      prefix6: 'fd5e:7a3c:90b1::/64',
      name: 'Guests',
      site: 'Valley',
      group: 'guests',
      vlan: 90,
    },
    tickets: {
      prefix: '10.84.1.0/26',
      prefix6: 'fd5e:7a3c:90b1:1::/64',
      name: 'Tickets',
      site: 'Valley',
      group: 'tickets',
      vlan: 10,
    },
    winch: {
      prefix: '10.84.4.0/28',
      prefix6: 'fd5e:7a3c:90b1:100::/64',
      name: 'Winch',
      site: 'Middle',
      group: 'winch',
      vlan: 50,
    },
  },
  ranges: { pool: { from: '10.84.0.100', to: '10.84.0.254', use: 'pool' } },
  addresses: { '10.84.1.2': { name: 'DESK-1' }, '10.84.1.3': { name: 'DESK-2' } },
});

export const plan = (change: (plan: Plan) => void): Plan => {
  const copy = smallPlan();
  change(copy);
  return copy;
};

/** What a result holds; a test that meets a refusal instead ends with it. */
export const good = <T>(result: { ok: true; value: T } | { ok: false; error: unknown }): T => {
  if (!result.ok) throw new Error(JSON.stringify(result.error));
  return result.value;
};
/** The sentence of a refusal. */
export const refusal = (result: { ok: true } | { ok: false; error: string }): string =>
  result.ok ? 'taken' : result.error;
/** A plan after commands. */
export const after = (document: Plan, ...commands: PlanCommand[]): Plan =>
  good(applyPlanCommands(document, 'test', commands)).document;
