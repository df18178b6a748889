import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type Completion } from '@sobrin/core/bench';
import { emptyTopology } from '@sobrin/core/topology';
import { CommandField } from './command-field';

const topology = {
  ...emptyTopology(),
  devices: {
    s: { name: 'SW-1', model: 'access-switch-12', at: { x: 0, y: 0 } },
    h: { name: 'DESK-1', model: 'desktop', at: { x: 0, y: 90 } },
  },
};
function open(goes = true): Completion[] {
  const taken: Completion[] = [];
  render(
    <CommandField
      context={{ topology, chosen: [], automatic: true, menu: [] }}
      onTake={(completion) => {
        taken.push(completion);
        return goes;
      }}
    />,
  );
  return taken;
}
const field = () => screen.getByRole('combobox', { name: 'Command field' });
const lines = (): (string | null)[] => screen.queryAllByRole('option').map((element) => element.textContent);

beforeEach(() => localStorage.clear());

test('Enter takes the first line and empties the field', async () => {
  const taken = open();
  await userEvent.type(field(), 'link desk-1 sw-1{Enter}');
  expect(taken.map((completion) => completion.action)).toEqual([
    expect.objectContaining({ do: 'link', cable: expect.objectContaining({ medium: 'straight' }) as unknown }),
  ]);
  expect(field()).toHaveValue('');
  expect(lines()).toEqual([]);
});
test('the arrow keys choose another line', async () => {
  const taken = open();
  await userEvent.type(field(), 'add switch{ArrowDown}{Enter}');
  expect(taken[0]!.action).toMatchObject({ do: 'add', model: 'access-switch-20' });
});
test('Tab and words complete the text without doing anything', async () => {
  const taken = open();
  await userEvent.type(field(), 'ren{Enter}');
  expect(field()).toHaveValue('rename ');
  await userEvent.type(field(), 'des{Tab}');
  expect(field()).toHaveValue('rename DESK-1 ');
  expect(taken).toEqual([]);
});
test('what cannot be done says why, stays in the field and is not taken', async () => {
  const taken = open();
  await userEvent.type(field(), 'add zeppelin{Enter}');
  expect(lines()[0]).toMatch(/No model fits “zeppelin”/);
  expect(taken).toEqual([]);
  expect(field()).toHaveValue('add zeppelin');
});
test('what was refused by the drawing stays to be mended', async () => {
  open(false);
  await userEvent.type(field(), 'add pc{Enter}');
  expect(field()).toHaveValue('add pc');
});
test('the up arrow brings back what was done before, the newest first', async () => {
  open();
  await userEvent.type(field(), 'add pc{Enter}');
  await userEvent.type(field(), 'add hub{Enter}');
  await userEvent.type(field(), '{ArrowUp}');
  expect(field()).toHaveValue('add Hub 8');
  await userEvent.type(field(), '{ArrowUp}');
  expect(field()).toHaveValue('add Desktop');
});
test('Escape leaves the field; what was typed stays, and is typed over when one comes back', async () => {
  open();
  await userEvent.type(field(), 'add pc{Escape}');
  expect(field()).toHaveValue('add pc');
  expect(field()).not.toHaveFocus();
  await userEvent.tab();
  expect(field()).toHaveFocus();
  await userEvent.keyboard('swi');
  expect(field()).toHaveValue('swi');
});
