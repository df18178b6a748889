import { smallBrief } from '../tests/plans';
import {
  type Brief,
  nameByScheme,
  schemeWords,
  separationWords,
  siteNeeds,
  subnetNeeds,
  switchesFor,
  totalNeeds,
} from '.';

describe('what follows from a brief', () => {
  test('hosts, gateway and access points make the addresses, and the smallest prefix holds them', () => {
    const needs = subnetNeeds(smallBrief());
    expect(needs.map((need) => [need.name, need.now.value, need.later.value, need.length, need.room])).toEqual([
      ['Tickets', 17, 41, 26, 21],
      ['Guests', 60 + 3 + 1, 200 + 8 + 1, 24, 45],
      ['Winch', 5, 11, 28, 3],
    ]);
    expect(needs[0]!.later.words).toBe(
      '40 later + 1 gateway = 41 addresses: 2^5 − 2 = 30 is too few, 2^6 − 2 = 62 fits',
    );
    expect(needs[1]!.ports).toMatchObject({ now: 3, later: 8, words: 'one for each access point' });
  });
  test('a later number below the present one does not shrink a subnet; equipment and an own server count', () => {
    const [need] = subnetNeeds({
      groups: [{ id: 'a', name: 'A', now: 30, later: 5, needs: ['own server'] }],
      schemes: { infrastructure: 4 },
    });
    expect(need!.later.value).toBe(30 + 1 + 1 + 4);
    expect(need!.later.words).toContain('30 later + 1 server of its own + 1 gateway + 4 for equipment = 36 addresses');
  });
  test('every address that is no host’s counts: two routers and the one they share, switches, what is kept', () => {
    const [need] = subnetNeeds({
      groups: [{ id: 'a', name: 'A', now: 10, later: 50 }],
      schemes: { infrastructure: 4, virtualRouter: true, management: true },
    });
    expect(need!.later.words).toContain('50 later + 2 switches + 3 for the gateway + 4 for equipment = 59 addresses');
    expect([need!.later.value, need!.length]).toEqual([59, 26]);
  });
  test.each(['Phones', 'IP phones', 'Telephones'])(
    'a group %s is the phones of its site: they get one subnet',
    (name) => {
      const needs = subnetNeeds({
        groups: [
          { id: 'p', name, now: 4, later: 12, needs: ['phones'], site: 'Valley' },
          { id: 'a', name: 'Desks', now: 8, later: 20, needs: ['phones'], site: 'Valley' },
          { id: 'b', name: 'Winch', now: 2, later: 3, needs: ['phones'], site: 'Middle' },
        ],
      });
      expect(needs.map(({ key, later }) => [key, later.value])).toEqual([
        ['p', 13],
        ['a', 21],
        ['b', 4],
        ['voice:Middle', 4],
      ]);
    },
  );
  test('phones stand in a VLAN of their own at each site and take no port', () => {
    const brief: Brief = {
      groups: [
        { id: 'a', name: 'A', now: 8, later: 20, needs: ['phones'], site: 'Valley' },
        { id: 'b', name: 'B', now: 2, later: 3, needs: ['phones'], site: 'Valley' },
        { id: 'c', name: 'C', now: 5, later: 5, site: 'Middle' },
      ],
    };
    const voice = subnetNeeds(brief).filter((need) => !need.group);
    expect(voice.map((need) => [need.site, need.later.value, need.ports.later])).toEqual([['Valley', 24, 0]]);
    const [valley, middle] = siteNeeds(brief);
    expect(valley!.vlans).toEqual({ value: 3, words: '2 groups and one for the phones, a VLAN each' });
    expect(valley!.ports).toEqual({ now: 10, later: 23 });
    expect(middle!.vlans.value).toBe(1);
    expect(totalNeeds([valley!, middle!])).toMatchObject({ ports: 28, vlans: 4, switches: 2 });
  });
  test.each([
    [0, [], 0],
    [11, [['access-switch-12', 1]], 1],
    [13, [['access-switch-20', 1]], 7],
    [44, [['access-switch-44', 1]], 0],
    [
      50,
      [
        ['access-switch-44', 1],
        ['access-switch-12', 1],
      ],
      6,
    ],
    [88, [['access-switch-44', 2]], 0],
    [
      100,
      [
        ['access-switch-44', 2],
        ['access-switch-12', 1],
      ],
      0,
    ],
  ])('%i ports are few and small access switches of the kit', (ports, wanted, left) => {
    const choice = switchesFor(ports);
    expect(choice.switches.map((device) => [device.model, device.count])).toEqual(wanted);
    expect(choice.left).toBe(left);
  });
  test('the uplink carries the ports at the stated oversubscription', () => {
    const [site] = siteNeeds({
      groups: [{ id: 'a', name: 'A', now: 10, later: 48, site: 'X' }],
      ratios: { oversubscription: 4 },
    });
    expect(site!.uplink).toEqual({ value: 1200, words: '48 ports × 100 Mb/s ÷ 4 = 1200 Mb/s', link: '10 Gb/s' });
  });
  test('separations and name schemes in words', () => {
    const brief = smallBrief();
    expect(separationWords({ who: 'guests', from: '@inside' }, brief)).toBe('Guests reach nothing inside.');
    expect(separationWords({ who: 'winch', from: 'guests' }, brief)).toBe('Winch do not reach Guests.');
    expect(separationWords({ text: 'as typed' }, brief)).toBe('as typed');
    expect(separationWords({ who: 'winch', from: '@others', text: 'but Guests' }, brief)).toBe(
      'Winch reach no other group (but Guests).',
    );
    expect(nameByScheme('{kind}-{site}{nn}', { kind: 'SW', site: 'valley', group: '', n: 3 })).toBe('SW-V03');
    expect(nameByScheme('DESK-{n} {unknown}', { kind: 'PC', site: '', group: '', n: 3 })).toBe('DESK-3 {unknown}');
  });
  test('people read what its placeholders stand for, and a name made by it', () => {
    expect(schemeWords('{kind}-{site}{nn}')).toBe(
      '‹kind›-‹site›‹nn›, such as RT-V01 (‹kind› is the sign of the kind of device, such as RT, SW or PC, ‹site› is the first letter of the site, ‹nn› is a number from 01)',
    );
    expect(schemeWords('DESK-{n} for desks')).toBe('DESK-‹n› for desks (‹n› is a number from 1)');
    expect(schemeWords('as you like {it}')).toBe('as you like {it}');
  });
});
