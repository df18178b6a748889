import { type Address, parseAddress } from '../address';
import { analyse, trace } from '../engine';
import { Sheet, twoLans } from '../tests/topologies';
import { type Topology } from '../topology';
import { type Frame, type Header, bytesOf, framesOf, internetChecksum, writePcap } from '.';
import { field } from './header';
import { arp, groupMac, ip, solicitedNode, udp } from './layouts';

const address = (text: string): Address => {
  const read = parseAddress(text);
  if (!read.ok) throw new Error(read.error.text);
  return read.value;
};
const hexOf = (bytes: Uint8Array): string => Buffer.from(bytes).toString('hex');
const sent = (drawing: Topology, from: string, to: string, target: string): Frame[] => {
  const model = analyse(drawing);
  return framesOf(model, trace(model, from, to, address(target)), { protocol: 'icmp' });
};
const fieldsOf = (headers: readonly Header[], name: string): Record<string, string> =>
  Object.fromEntries(headers.find((header) => header.name === name)!.fields.map((field) => [field.name, field.text]));

test('the checksum of RFC 1071 section 3, and that of an odd number of bytes', () => {
  // 0001 f203 f4f5 f6f7 sum up to ddf2.
  expect(internetChecksum(Uint8Array.from([0x00, 0x01, 0xf2, 0x03, 0xf4, 0xf5, 0xf6, 0xf7]))).toBe(0xddf2 ^ 0xffff);
  expect(internetChecksum(Uint8Array.from([0x12]))).toBe(0x1200 ^ 0xffff);
});

test('fields are packed from the highest bit on, across bytes', () => {
  const fields = [field('a', 3, 5), field('b', 1, 1), field('c', 12, 0xabc), field('d', 8, 0xff)];
  expect(hexOf(bytesOf([{ name: '', source: '', fields }]))).toBe('babcff');
  expect(() => bytesOf([{ name: '', source: '', fields: [field('a', 3, 5)] }])).toThrow(/whole bytes/);
});

test('an ARP request is laid out as RFC 826 has it', () => {
  const asking = arp(
    'request',
    { mac: '02:00:00:00:00:01', address: address('10.0.0.1') },
    { mac: null, address: address('10.0.0.2') },
  );
  expect(hexOf(bytesOf([asking]))).toBe('0001080006040001' + '0200000000010a000001' + '0000000000000a000002');
});

test('an IPv4 header tells its length, and its own sum makes the sum of all of it nothing', () => {
  const [from, to] = [address('192.168.0.1'), address('192.168.0.199')];
  const packet = ip(
    { source: from, destination: to, ttl: 64 },
    'udp',
    udp({ address: from, port: 1 }, { address: to, port: 2 }, []),
  );
  const bytes = bytesOf(packet);
  expect(bytes).toHaveLength(28);
  expect((bytes[2]! << 8) | bytes[3]!).toBe(28);
  expect(internetChecksum(bytes.subarray(0, 20))).toBe(0);
});

test('the groups of RFC 4291 2.7.1 and their MAC addresses of RFC 2464', () => {
  // The example of RFC 4291: 4037::01:800:200E:8C6C listens to FF02::1:FF0E:8C6C.
  const group = solicitedNode(address('4037::1:800:200e:8c6c'));
  expect(group).toEqual(address('ff02::1:ff0e:8c6c'));
  expect(groupMac(group)).toBe('33:33:ff:0e:8c:6c');
});

describe('the frames of a trace', () => {
  const drawing = twoLans();
  const frames = sent(drawing, 'A', 'B', '10.84.2.11');

  test('ask for each neighbour once, and find back without asking', () => {
    expect([...new Set(frames.map((frame) => `${frame.way}: ${frame.what}`))]).toEqual([
      'request: ARP request for 10.84.1.1',
      'request: ARP reply for 10.84.1.1',
      'request: echo request',
      'request: ARP request for 10.84.2.11',
      'request: ARP reply for 10.84.2.11',
      'reply: echo reply',
    ]);
  });
  test('do without questions where the neighbours are known', () => {
    const model = analyse(drawing);
    const again = framesOf(model, trace(model, 'A', 'B', address('10.84.2.11')), { protocol: 'icmp' }, 'known');
    expect([...new Set(again.map((frame) => frame.what))]).toEqual(['echo request', 'echo reply']);
  });
  test('keep their addresses of layer 3 from end to end, those of layer 2 to the next router; the time to live falls by one', () => {
    const echoes = frames.filter((frame) => frame.what === 'echo request');
    const routed = echoes.map(({ headers }) => fieldsOf(headers, 'IPv4'));
    expect(new Set(routed.map((row) => `${row.Source} ${row.Destination}`))).toEqual(
      new Set(['10.84.1.11 10.84.2.11']),
    );
    expect(new Set(routed.map((row) => row['Time to live']))).toEqual(new Set(['64', '63']));
    const macs = new Set(echoes.map(({ headers }) => fieldsOf(headers, 'Ethernet').Source));
    expect(macs.size).toBe(2);
  });
  test('a capture of them has a header, and each frame as often as it is another one on the wire', () => {
    const capture = Buffer.from(writePcap(frames, Date.UTC(2026, 0, 2)));
    expect([capture.readUInt32LE(0), capture.readUInt16LE(4), capture.readUInt32LE(20)]).toEqual([0xa1b2c3d4, 2, 1]);
    expect(capture.readUInt32LE(24)).toBe(Date.UTC(2026, 0, 2) / 1000);
    let at = 24;
    let records = 0;
    for (; at < capture.length; records++) at += 16 + capture.readUInt32LE(at + 8);
    expect(at).toBe(capture.length);
    expect(records).toBe(8);
    expect(frames.length).toBeGreaterThan(records);
  });
});

test('a question that nobody answers is a frame too, and the router that asked in vain tells the source', () => {
  const absent = twoLans();
  const links = Object.fromEntries(
    Object.entries(absent.links).filter(([, { a, b }]) => a.device !== 'B' && b.device !== 'B'),
  );
  const frames = sent({ ...absent, links }, 'A', 'B', '10.84.2.11');
  const words = frames.map((frame) => frame.what);
  expect(words).toContain('ARP request for 10.84.2.11');
  expect(words).not.toContain('ARP reply for 10.84.2.11');
  const error = frames.find((frame) => frame.way === 'error')!;
  expect(fieldsOf(error.headers, 'ICMP')).toMatchObject({ Type: 'destination unreachable (3)', Code: '1' });
  // RFC 792: the internet header plus 64 bits of the original datagram.
  expect(fieldsOf(error.headers, 'Quoted packet').Bytes).toMatch(/first 28/);
});

test('a tag is there on the trunk and nowhere else', () => {
  const access = { role: { kind: 'switched', mode: 'access', accessVlan: 20 } } as const;
  const trunk = { role: { kind: 'switched', mode: 'trunk' } } as const;
  const drawing = new Sheet()
    .device('S1', 'access-switch-12', {}, { ports: { p1: access, p12: trunk } })
    .device('S2', 'access-switch-12', {}, { ports: { p1: access, p12: trunk } })
    .host('A', '10.84.1.11/24')
    .host('B', '10.84.1.12/24')
    .cable('A e0', 'S1 p1')
    .cable('S1 p12', 'S2 p12', 'crossover')
    .cable('S2 p1', 'B e0').topology;
  const tags = sent(drawing, 'A', 'B', '10.84.1.12')
    .filter((frame) => frame.what === 'echo request')
    .map(
      ({ headers }) =>
        headers.find((header) => header.name === 'VLAN tag')?.fields.find((field) => field.name === 'VLAN')?.text,
    );
  expect(tags).toEqual([undefined, '20', undefined]);
});
