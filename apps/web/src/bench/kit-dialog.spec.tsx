import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type Model, KIT, emptyTopology } from '@sobrin/core';
import { KitDialog, portWords } from './kit-dialog';

Element.prototype.scrollIntoView = () => {};
const own: Model = {
  name: 'Rope sensor',
  kind: 'sensor',
  class: 'end',
  ports: [{ key: 'e0', connector: 'copper', speeds: [10] }],
};

function open(): [string, number][] {
  const added: [string, number][] = [];
  render(
    <KitDialog
      kit={undefined}
      onTake={() => {}}
      open
      topology={{ ...emptyTopology(), models: { rope: own } }}
      onClose={() => {}}
      onAdd={(model, count) => added.push([model, count])}
    />,
  );
  return added;
}
const names = (): (string | null)[] =>
  screen.getAllByRole('option').map((one) => one.firstElementChild!.nextElementSibling!.textContent);

test('shows every model of the kit and those of the lab', () => {
  open();
  expect(names()).toHaveLength(Object.keys(KIT).length + 1);
  expect(names()).toContain('Rope sensor');
});

test.each([
  ['cash register', 'Till'],
  ['cctv', 'Camera'],
  ['internet', 'Provider cloud'],
  ['telephone', 'Phone'],
  ['switch 20', 'Access switch 20 + 4'],
  ['L3 core', 'Core switch'],
])('“%s” finds the %s', async (words, model) => {
  open();
  await userEvent.type(screen.getByLabelText(/^Search/), words);
  expect(names()).toContain(model);
});

test('arrow keys choose, Enter adds as many as are asked for', async () => {
  const added = open();
  await userEvent.type(screen.getByLabelText(/^Search/), 'access switch');
  await userEvent.keyboard('{ArrowDown}');
  await userEvent.tab();
  await userEvent.clear(screen.getByLabelText('How many'));
  await userEvent.keyboard('3{Enter}');
  expect(added).toEqual([['access-switch-20', 3]]);
});

test.each(['0', '-1', 'x', '201', '1.5'])('%s is no number of devices: nothing is added', async (count) => {
  const added = open();
  await userEvent.clear(screen.getByLabelText('How many'));
  await userEvent.type(screen.getByLabelText('How many'), count);
  expect(screen.getByLabelText('How many')).toHaveAttribute('aria-invalid', 'true');
  await userEvent.keyboard('{Enter}');
  expect(added).toEqual([]);
  expect(screen.getByRole('button', { name: 'Add' })).toBeDisabled();
});

test('where nothing fits, it is said what to try', async () => {
  open();
  await userEvent.type(screen.getByLabelText(/^Search/), 'toaster');
  expect(within(screen.getByRole('listbox')).getByText(/No model fits “toaster”/)).toBeInTheDocument();
});

test('what a model has to plug into, in words', () => {
  expect([portWords(KIT['border-router']!), portWords(KIT['modular-router']!), portWords(KIT.tablet!)]).toEqual([
    '4 copper, 1 fibre',
    '4 copper, 3 bays',
    '1 radio',
  ]);
});
