import { parseMac } from '.';

test.each([
  ['02:00:5E:00:00:0A', '02:00:5e:00:00:0a'],
  [' 02-00-5e-00-00-0a ', '02:00:5e:00:00:0a'],
  ['0200.5e00.000a', '02:00:5e:00:00:0a'],
  ['02005E00000A', '02:00:5e:00:00:0a'],
])('%s is read as %s', (text, mac) => expect(parseMac(text)).toEqual({ ok: true, value: mac }));

test.each(['', '02:00', '02:00:5e:00:00:0g', '02:00-5e:00:00:0a', '02:00:5e:00:00:0a:01', '10.84.1.1'])(
  '“%s” is none, and is told how one is written',
  (text) => expect(parseMac(text)).toEqual({ ok: false, error: expect.stringContaining('six pairs') as string }),
);
test('an address of a group belongs to no port', () =>
  expect(parseMac('01:00:5e:00:00:01')).toEqual({ ok: false, error: expect.stringContaining('group') as string }));
