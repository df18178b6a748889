import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { usePreferences } from '../preferences';
import { KeysDialog } from './keys-dialog';
import { useShortcuts } from './shortcuts';

const done: string[] = [];
function Page() {
  useShortcuts([
    { id: 'kit', text: 'Add from the kit', keys: 'A', run: () => done.push('kit') },
    { id: 'site', text: 'Add a site', keys: 'S', run: () => done.push('site') },
    { id: 'undo', text: 'Undo', keys: 'Ctrl Z', run: () => done.push('undo') },
  ]);
  const [isOpen, setIsOpen] = useState(false);
  return isOpen ? (
    <KeysDialog onClose={() => setIsOpen(false)} />
  ) : (
    <button onClick={() => setIsOpen(true)}>Keys</button>
  );
}
const rowOf = (text: string) => within(screen.getByRole('row', { name: new RegExp(text) }));

beforeEach(async () => {
  done.length = 0;
  usePreferences.setState({ singleKeys: true, ownKeys: {} });
  render(<Page />);
  await userEvent.click(screen.getByText('Keys'));
});

test('a key is changed by pressing the new one, and brought back', async () => {
  await userEvent.click(rowOf('Add from the kit').getByRole('button', { name: 'Change the key for Add from the kit' }));
  await userEvent.keyboard('k');
  expect(rowOf('Add from the kit').getByText('K')).toBeInTheDocument();
  expect(usePreferences.getState().ownKeys).toEqual({ kit: 'K' });
  await userEvent.click(rowOf('Add from the kit').getByRole('button', { name: /^Usual key/ }));
  expect(usePreferences.getState().ownKeys).toEqual({});
});

test('a key that does something else is refused by what it does; so are keys that belong to the browser', async () => {
  await userEvent.click(rowOf('Add from the kit').getByRole('button'));
  await userEvent.keyboard('s');
  expect(screen.getByRole('alert')).toHaveTextContent('S is the key for “Add a site” here');
  await userEvent.keyboard('{Enter}');
  expect(screen.getByRole('alert')).toHaveTextContent('Press a letter, a digit or a sign');
  await userEvent.keyboard('{Escape}');
  expect(usePreferences.getState().ownKeys).toEqual({});
});

test('all of them are switched off at once, and those with Ctrl stay', async () => {
  await userEvent.click(screen.getByRole('switch'));
  expect(rowOf('Add a site').getByText('off')).toBeInTheDocument();
  expect(rowOf('Undo').getByText('Ctrl Z')).toBeInTheDocument();
  expect(rowOf('Undo').queryByRole('button')).toBeNull();
});

test('a page that comes while they are shown adds its keys', () => {
  function Late() {
    useShortcuts([{ id: 'late', text: 'Next student', keys: 'J', run: () => {} }]);
    return null;
  }
  render(<Late />);
  expect(rowOf('Next student').getByText('J')).toBeInTheDocument();
  expect(rowOf('Add a site').getByText('S')).toBeInTheDocument();
});
