import fc from 'fast-check';
import { type Topology } from '../topology';
import { readJson, twoLans } from '../tests/topologies';
import { runs } from '../tests/runs';
import { type NetworkModel, analyse } from '.';

describe('what holds of any network', () => {
  const { reference } = readJson('demo', 'three-stations', 'lab.json') as { reference: Topology };
  const grid = (model: NetworkModel, name: (id: string) => string = (id) => id): Map<string, string> => {
    const targets = model.reach.targets();
    return new Map(
      [...model.instances.keys()].flatMap((from) =>
        targets
          .filter((target) => target.device !== from)
          .map(
            (to) =>
              [`${name(from)} ${name(to.device)} ${to.address.value}`, model.reach.ask(from, to).answer] as [
                string,
                string,
              ],
          ),
      ),
    );
  };
  const faulty = structuredClone(reference);
  faulty.devices.RTM!.settings!.routes!.pop();
  faulty.devices['TILL-1']!.interfaces!.e0!.v4!.addresses = ['10.84.9.11/16'];
  const whole = grid(analyse(faulty));

  test('every host of a sound lab reaches every other', () => {
    const isHost = (id: string): boolean => !/^(RT|SW)/.test(id);
    const between = [...grid(analyse(reference))].filter(([pair]) => pair.split(' ').slice(0, 2).every(isHost));
    expect(between).toHaveLength(30 * 29);
    expect(between.filter(([, answer]) => answer !== 'yes')).toEqual([]);
  });
  test('the order of keys changes nothing', () => {
    const turned = {
      ...faulty,
      devices: Object.fromEntries(Object.entries(faulty.devices).reverse()),
      links: Object.fromEntries(Object.entries(faulty.links).reverse()),
    };
    expect(grid(analyse(turned))).toEqual(whole);
  });
  test('renaming devices changes nothing', () => {
    const renamed = structuredClone(faulty);
    for (const device of Object.values(renamed.devices)) device.name = `x${device.name.length}`;
    expect(grid(analyse(renamed))).toEqual(whole);
  });
  test('a device that is connected to nothing changes nothing', () => {
    const more = {
      ...faulty,
      devices: { ...faulty.devices, lone: { name: 'lone', model: 'desktop', at: { x: 0, y: 0 } } },
    };
    const answers = grid(analyse(more));
    for (const [pair, answer] of whole) expect(answers.get(pair)).toBe(answer);
  });
  test('what is asked by classes equals what is asked pair by pair', () => {
    const answersOf = (topology: Topology) => {
      const [whole, single] = [analyse(topology), analyse(topology)];
      for (const from of whole.instances.keys())
        for (const to of whole.reach.targets()) {
          if (to.device === from) continue;
          const fresh = analyse(topology); // an empty memory: nothing is taken from a class
          expect([from, to.device, whole.reach.ask(from, to).answer]).toEqual([
            from,
            to.device,
            fresh.reach.ask(from, to).answer,
          ]);
        }
      return single.reach.classCount;
    };
    const small = twoLans();
    for (const n of [12, 13]) {
      small.devices[`A${n}`] = {
        ...small.devices.A!,
        name: `A${n}`,
        interfaces: { e0: { on: { kind: 'port', port: 'e0' }, v4: { addresses: [`10.84.1.${n}/24`] } } },
      };
      small.links[`a${n}`] = {
        a: { device: 'SA', port: `p${n - 8}` },
        b: { device: `A${n}`, port: 'e0' },
        medium: 'straight',
      };
    }
    expect(answersOf(small)).toBe(3); // R, three like hosts, B; nobody asks for switches without an address
  });
  test('absurd configurations end with an answer', () => {
    const text = fc.constantFrom(
      '0.0.0.0/0',
      '10.84.1.1/32',
      '255.255.255.255/32',
      '127.0.0.1/8',
      'nonsense',
      '',
      '10.84.1.11/24',
      '::/0',
      'fe80::1/64',
    );
    fc.assert(
      fc.property(fc.array(fc.tuple(text, text), { maxLength: 20 }), (rows) => {
        const topology = twoLans();
        topology.devices.R!.settings = { routes: rows.map(([prefix, via]) => ({ prefix, via: via.split('/')[0]! })) };
        topology.devices.A!.interfaces!.e0!.v4 = { addresses: rows.map(([row]) => row).slice(0, 5) };
        const model = analyse(topology);
        for (const from of model.instances.keys())
          for (const to of model.reach.targets())
            expect(['yes', 'no', 'uncertain']).toContain(model.reach.ask(from, to).answer);
      }),
      { numRuns: runs(30) },
    );
  });
});
