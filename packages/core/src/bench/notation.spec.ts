import fc from 'fast-check';
import { type FilterRule } from '../topology';
import { formatMatcher, formatPorts, formatVlans, parseMatcher, parsePorts, parseVlan, parseVlans } from '.';

const value = <T>(read: { ok: true; value: T } | { ok: false; error: string }): T | string =>
  read.ok ? read.value : read.error;

test.each([
  ['all', 'all'],
  ['10, 20-23', [10, 20, 21, 22, 23]],
  ['30 20;20', [20, 30]],
  ['1 - 3', [1, 2, 3]],
  ['', []],
])('VLANs %p', (text, wanted) => {
  expect(value(parseVlans(text))).toEqual(wanted);
});
test.each(['4095', '0', 'ten', '5-3', '1,,x'])('no VLANs: %p, and the sentence names the part', (text) => {
  expect(value(parseVlans(text))).toMatch(/“(4095|0|ten|5-3|x)”/);
});
test('what is written of VLANs is read back the same', () => {
  fc.assert(
    fc.property(fc.uniqueArray(fc.integer({ min: 1, max: 4094 }), { maxLength: 30 }), (vlans) => {
      expect(value(parseVlans(formatVlans(vlans)))).toEqual([...vlans].sort((a, b) => a - b));
    }),
  );
  expect(formatVlans([20, 21, 22, 10])).toBe('10, 20-22');
});
test('one VLAN', () => {
  expect(value(parseVlan(' 20 '))).toBe(20);
  expect(value(parseVlan('4096'))).toMatch(/1 to 4094/);
});

test.each([
  ['any', { kind: 'any' }, 'any'],
  ['', { kind: 'any' }, 'any'],
  ['10.84.1.0/26', { kind: 'prefix', prefix: '10.84.1.0/26' }, '10.84.1.0/26'],
  ['10.84.1.7', { kind: 'prefix', prefix: '10.84.1.7/32' }, '10.84.1.7'],
  ['fd5e::7', { kind: 'prefix', prefix: 'fd5e::7/128' }, 'fd5e::7'],
  ['10.84.1.0 0.0.0.63', { kind: 'wildcard', address: '10.84.1.0', wildcard: '0.0.0.63' }, '10.84.1.0 0.0.0.63'],
  ['10.84.1.10-20', { kind: 'range', from: '10.84.1.10', to: '10.84.1.20' }, '10.84.1.10 - 10.84.1.20'],
])('a rule that speaks of %p', (text, wanted, written) => {
  const read = parseMatcher(text);
  expect(value(read)).toEqual(wanted);
  expect(read.ok && formatMatcher(read.value)).toBe(written);
  expect(value(parseMatcher(written))).toEqual(wanted);
});
test.each(['10.84.1.300', '10.84.1.0/40', '10.84.1.9-2', 'the shop'])('%p is nothing a rule can speak of', (text) => {
  expect(parseMatcher(text).ok).toBe(false);
});

test.each<[string, NonNullable<FilterRule['dstPorts']> | null]>([
  ['443', { op: 'eq', from: 443 }],
  ['1024-2047', { op: 'range', from: 1024, to: 2047 }],
  ['> 1023', { op: 'gt', from: 1023 }],
  ['<1024', { op: 'lt', from: 1024 }],
  ['', null],
])('ports %p', (text, wanted) => {
  const read = value(parsePorts(text));
  expect(read).toEqual(wanted);
  expect(value(parsePorts(formatPorts(wanted ?? undefined)))).toEqual(wanted);
});
test.each(['70000', 'https', '9-3', '> 1-2'])('%p is no port', (text) => {
  expect(value(parsePorts(text))).toMatch(/is no port/);
});
