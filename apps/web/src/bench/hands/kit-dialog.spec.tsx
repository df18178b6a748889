import { fireEvent, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type Policy } from '@sobrin/core/spec';
import { type Model, KIT, emptyTopology } from '@sobrin/core/topology';
import KitDialog, { portWords } from './kit-dialog';

Element.prototype.scrollIntoView = () => {};
const own: Model = {
  name: 'Rope sensor',
  kind: 'sensor',
  class: 'end',
  ports: [{ key: 'e0', connector: 'copper', speeds: [10] }],
};

function open(kit?: Policy['kit'], taken: [string, boolean][] = []): [string, number][] {
  const added: [string, number][] = [];
  const devices = { h: { name: 'HB-1', model: 'hub', at: { x: 0, y: 0 } } };
  render(
    <KitDialog
      kit={kit}
      onTake={(model, held) => taken.push([model, held])}
      topology={{ ...emptyTopology(), devices, models: { rope: own } }}
      onClose={() => {}}
      onAdd={(model, count) => added.push([model, count])}
    />,
  );
  return added;
}
const names = (): (string | null)[] =>
  screen.getAllByRole('option').map((element) => element.firstElementChild!.nextElementSibling!.textContent);

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

test('a lab with a kit of its own shows its models only, how many are left, and gives no more', async () => {
  const added = open({ hub: { most: 3 }, laptop: {} });
  expect(names()).toEqual(['Hub 8', 'Laptop']);
  expect(screen.getByRole('option', { name: /2 of 3 left/ })).toHaveTextContent('Hub 8');
  await userEvent.clear(screen.getByLabelText('How many'));
  await userEvent.type(screen.getByLabelText('How many'), '3{Enter}');
  expect(added).toEqual([]);
  expect(screen.getByLabelText('How many')).toHaveAttribute('aria-invalid', 'true');
  await userEvent.clear(screen.getByLabelText('How many'));
  await userEvent.type(screen.getByLabelText('How many'), '2{Enter}');
  expect(added).toEqual([['hub', 2]]);
});

test('a model is taken to be placed click by click, or pulled out of the list', async () => {
  const taken: [string, boolean][] = [];
  open(undefined, taken);
  await userEvent.type(screen.getByLabelText(/^Search/), 'laptop');
  await userEvent.click(screen.getByRole('button', { name: 'Place by clicking' }));
  const row = screen.getByRole('option', { name: /Laptop/ });
  const pointer = (type: string, x: number, y: number) =>
    new MouseEvent(type, { bubbles: true, button: 0, clientX: x, clientY: y });
  fireEvent(row, pointer('pointerdown', 10, 10));
  fireEvent(window, pointer('pointermove', 12, 12));
  expect(taken).toEqual([['laptop', false]]);
  fireEvent(window, pointer('pointermove', 30, 40));
  expect(taken).toEqual([
    ['laptop', false],
    ['laptop', true],
  ]);
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
