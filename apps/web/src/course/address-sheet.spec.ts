import { type AddedMember } from '@sobrin/contracts';
import { addressSheet } from './address-sheet';

const member = (name: string, more: Partial<AddedMember>): AddedMember => ({
  id: name,
  name,
  login: 'some.login',
  role: 'student',
  group: '',
  isInvited: false,
  link: null,
  wasThere: false,
  ...more,
});

test('a line a person, with the whole address or why there is none; no name is a formula of a table', () => {
  const sheet = addressSheet([
    member('Ann "A." Lindqvist', { link: '/enter#abc' }),
    member('=1+1', { isInvited: true }),
    member('Bo', { wasThere: true }),
  ]);
  expect(sheet.split('\r\n')).toEqual([
    'Name,Sign-in name,Address to choose a password',
    `"Ann ""A."" Lindqvist",some.login,${window.location.origin}/enter#abc`,
    `"'=1+1",some.login,invited`,
    'Bo,some.login,was there before',
  ]);
});
