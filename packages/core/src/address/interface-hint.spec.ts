import { interfaceAddressHint } from '.';

test.each([
  ['10.84.1.11/26', null],
  ['fd5e:7a3c:90b1::5/64', null],
  ['198.51.100.2/30', null],
  ['10.84.1.0/31', null],
  ['127.29.64.5/24', /127\.29\.64\.5 is set aside \(loopback\).*\(172 meant\?\)/],
  ['224.0.0.5/24', /multicast/],
  ['10.84.1.64/26', /network address of 10\.84\.1\.64\/26/],
  ['10.84.1.127/26', /broadcast address of 10\.84\.1\.64\/26/],
  ['18.84.1.5/24', /no private address \(10 meant\?\)/],
  ['172.45.1.5/24', /private ones run from 172\.16 to 172\.31/],
  ['10.84.1. 7/26', /space/i],
  ['10.84.1.7', /prefix/i],
])('of %s is said what helps', (text, said) => {
  const hint = interfaceAddressHint(text);
  if (said === null) expect(hint).toBeNull();
  else expect(hint).toMatch(said);
});
