import { Sheet, demoLab } from '../../tests/topologies';
import { type Topology } from '../../topology';
import { analyse, pluggedInWords } from '..';

const said = (topology: Topology, id: string, port: string): string =>
  pluggedInWords(analyse(topology, { vlanPolicy: 'created' }), { id, port }).join(' ');
const winch = demoLab('winch-isolation').reference;

describe('a laptop that is plugged in somewhere', () => {
  test('is leased an address where leases are given, and reaches what a guest does', () => {
    const text = said(winch, 'SW3', 'p1');
    expect(text).toMatch(/^In SW-M3 p1 a laptop is given 10\.84\.30\.1\d\d\/24\. It reaches .*NEWS/);
    expect(text).toMatch(/It does not reach .*WINCH-1/);
  });
  test('is set up as its neighbours are where none is given', () => {
    const text = said(winch, 'SW1', 'p1');
    expect(text).toMatch(
      /^In SW-M1 p1 a laptop is given no IPv4 address; with 10\.84\.10\.\d+\/28, as its neighbours have them:/,
    );
    expect(text).toMatch(/It reaches .*CTRL-1/);
  });
  test('gets nothing in a port that nobody set up, or that is off, or that leads to other equipment', () => {
    expect(said(winch, 'SW3', 'p9')).toBe('In SW-M3 p9 a laptop is given no IPv4 address.');
    const off = structuredClone(winch);
    off.devices.SW3!.ports = { ...off.devices.SW3!.ports, p9: { enabled: false } };
    expect(said(off, 'SW3', 'p9')).toMatch(/^In SW-M3 p9 a laptop has no link\. ./);
    expect(said(winch, 'SW3', 'u1')).toMatch(/^Nothing can be plugged into SW-M3 u1/);
    expect(said(winch, 'gone', 'p1')).toMatch(/^Nothing can be plugged/);
  });
  test('hears of IPv6 as well, where somebody uses it', () => {
    const dual = demoLab('summit-dual-stack').reference;
    const text = pluggedInWords(analyse(dual), { id: 'SWV', port: 'p9' }).join(' ');
    expect(text).toMatch(/is given fd5e:7a3c:90b1:1:[0-9a-f:]+\/64\. It reaches/);
    expect(text).toMatch(/10\.84\.1\.\d+\/26, as its neighbours have them/);
  });
  test('is in nobody’s drawing afterwards', () => {
    const before = structuredClone(winch);
    said(winch, 'SW3', 'p1');
    expect(winch).toEqual(before);
    expect(new Sheet().topology.devices).toEqual({});
  });
});
