import { Readable } from 'node:stream';
import { run } from './main';

async function sobrin(args: string, input = ''): Promise<{ status: number; out: string; err: string }> {
  let [out, err] = ['', ''];
  const status = await run(
    ['node', 'sobrin', 'address', ...args.split(' ')],
    { write: (text) => (out += text) },
    { write: (text) => (err += text) },
    Readable.from([input]),
  );
  return { status, out, err };
}
const json = async (args: string): Promise<unknown> => JSON.parse((await sobrin(`${args} --json`)).out);

describe('info', () => {
  test('an IPv4 address with its prefix', async () => {
    expect(await json('info 10.84.3.7/26')).toEqual({
      input: '10.84.3.7/26',
      family: 4,
      address: '10.84.3.7',
      prefix: '10.84.3.0/26',
      network: '10.84.3.0',
      netmask: '255.255.255.192',
      wildcard: '0.0.0.63',
      broadcast: '10.84.3.63',
      first: '10.84.3.1',
      last: '10.84.3.62',
      usable: '62',
      scope: 'private',
    });
  });
  test.each([
    ['10.84.15.1/31', { broadcast: null, first: '10.84.15.0', last: '10.84.15.1', usable: '2' }], // RFC 3021
    ['10.84.15.1/32', { broadcast: null, first: '10.84.15.1', last: '10.84.15.1', usable: '1' }],
    ['0.0.0.0/0', { netmask: '0.0.0.0', wildcard: '255.255.255.255', usable: '4294967294' }],
    [
      'FD5E:7A3C:90B1:0:0:0:0:1/64',
      {
        address: 'fd5e:7a3c:90b1::1',
        prefix: 'fd5e:7a3c:90b1::/64',
        netmask: null,
        wildcard: null,
        broadcast: null,
        usable: '18446744073709551615',
      },
    ], // RFC 5952
    ['2001:db8:84::/127', { first: '2001:db8:84::', last: '2001:db8:84::1', usable: '2', scope: 'documentation' }], // RFC 6164
    ['198.51.100.7', { prefix: null, network: null, netmask: null, first: null, usable: null, scope: 'documentation' }],
  ])('%s', async (text, wanted) => expect(await json(`info ${text}`)).toMatchObject(wanted));

  test('what cannot be read has a code and a sentence, and status 2', async () => {
    const { status, out } = await sobrin('info 10.84.3.300/26 --json');
    expect([status, JSON.parse(out)]).toEqual([
      2,
      { input: '10.84.3.300/26', error: { code: 'OCTET_RANGE', text: expect.stringMatching(/300/) as string } },
    ]);
    expect(await sobrin('info 10.84.3')).toMatchObject({
      status: 2,
      out: '',
      err: expect.stringMatching(/four/) as string,
    });
  });
  test('without --json it is told in words', async () => {
    expect((await sobrin('info 10.84.3.7/26')).out).toMatch(/^Family {9}IPv4\n(.*\n)*Broadcast {6}10\.84\.3\.63\n/);
  });
  test('one a line from standard input, good and bad, each with an answer', async () => {
    const { status, out } = await sobrin('info - --json', '10.84.3.7/26\nnonsense\r\n::1\n');
    const answers = out
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as { input: string; error?: object });
    expect([status, answers.map((answer) => [answer.input, Boolean(answer.error)])]).toEqual([
      2,
      [
        ['10.84.3.7/26', false],
        ['nonsense', true],
        ['::1', false],
      ],
    ]);
  });
  test('a hundred thousand lines', async () => {
    const input = Array.from(
      { length: 100_000 },
      (_one, at) => `10.${at >> 16}.${(at >> 8) & 255}.${at & 255}/24\n`,
    ).join('');
    const { status, out } = await sobrin('info - --json', input);
    expect([status, out.split('\n').length - 1]).toEqual([0, 100_000]);
  });
});

describe('split', () => {
  test('lays subnets out and says what stays free', async () => {
    expect(await json('split 10.84.0.0/21 --hosts 500,200,60,2')).toEqual({
      parts: [
        { hosts: 500, prefix: '10.84.0.0/23' },
        { hosts: 200, prefix: '10.84.2.0/24' },
        { hosts: 60, prefix: '10.84.3.0/26' },
        { hosts: 2, prefix: '10.84.3.64/30' },
      ],
      free: ['10.84.3.68/30', '10.84.3.72/29', '10.84.3.80/28', '10.84.3.96/27', '10.84.3.128/25', '10.84.4.0/22'],
    });
  });
  test('says when there is no room (status 1), and what it cannot read (status 2)', async () => {
    expect(await sobrin('split 10.84.0.0/24 --hosts 200,200')).toMatchObject({
      status: 1,
      err: expect.stringMatching(/no room left for 200 hosts/) as string,
    });
    expect(await sobrin('split 10.84.0.1/24 --hosts 2')).toMatchObject({
      status: 2,
      err: expect.stringMatching(/the block is 10\.84\.0\.0\/24/) as string,
    });
    expect(await sobrin('split 10.84.0.0/24 --hosts 5,many --json')).toMatchObject({
      status: 2,
      out: expect.stringMatching(/many.*is no number of hosts/) as string,
    });
  });
});

test('summarise joins what belongs together, of both families', async () => {
  expect(await json('summarise 10.84.1.0/24 10.84.0.0/24 10.84.0.128/25 fd00::/64 fd00:0:0:1::/64')).toEqual({
    prefixes: ['10.84.0.0/23', 'fd00::/63'],
  });
  expect((await sobrin('summarise 10.84.0.0/24 nonsense')).status).toBe(2);
});

test('next finds the lowest free block, or says that there is none', async () => {
  expect(await json('next 10.84.0.0/24 --used 10.84.0.0/26,10.84.0.128/25 --prefix 26')).toEqual({
    prefix: '10.84.0.64/26',
  });
  expect(await json('next 10.84.0.0/24 --prefix 30')).toEqual({ prefix: '10.84.0.0/30' });
  expect((await sobrin('next 10.84.0.0/24 --used 10.84.0.0/25,10.84.0.128/25 --prefix 26')).status).toBe(1);
  expect((await sobrin('next 10.84.0.0/24 --prefix 16')).status).toBe(2);
});
