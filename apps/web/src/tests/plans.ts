import { type Brief, type Plan, type PlanCommand, applyPlanCommands } from '@sobrin/core/plan';

/** A brief of two places for the tests of the plan's pages. */
export const brief: Brief = {
  groups: [
    { id: 'tickets', name: 'Tickets', now: 16, later: 40, site: 'Valley' },
    { id: 'guests', name: 'Guests', now: 60, later: 200, site: 'Valley' },
    { id: 'winch', name: 'Winch', now: 4, later: 10, site: 'Middle' },
  ],
  sites: [{ name: 'Valley' }, { name: 'Middle' }],
  outside: ['198.51.100.0/24'],
};

export const plan = (): Plan => ({
  blocks: {
    root: { prefix: '10.84.0.0/20', prefix6: 'fd5e:7a3c:90b1::/48', name: 'Ridge', standing: 'decided' },
    valley: {
      prefix: '10.84.0.0/22',
      prefix6: 'fd5e:7a3c:90b1::/56',
      name: 'Valley',
      site: 'Valley',
      standing: 'decided',
    },
    middle: { prefix: '10.84.4.0/22', name: 'Middle', site: 'Middle', standing: 'decided' },
    tickets: {
      prefix: '10.84.1.0/26',
      prefix6: 'fd5e:7a3c:90b1:1::/64',
      name: 'Tickets',
      site: 'Valley',
      group: 'tickets',
      vlan: 10,
    },
    guests: { prefix: '10.84.0.0/24', name: 'Guests', site: 'Valley', group: 'guests', vlan: 90, standing: 'decided' },
  },
  ranges: { pool: { from: '10.84.1.50', to: '10.84.1.62', use: 'pool' } },
  addresses: { '10.84.1.2': { name: 'DESK-1' }, '10.84.1.3': { name: 'DESK-2', note: 'by the door' } },
});

export const after = (document: Plan, ...commands: PlanCommand[]): Plan => {
  const done = applyPlanCommands(document, 'test', commands);
  if (!done.ok) throw new Error(done.error);
  return done.value.document;
};
