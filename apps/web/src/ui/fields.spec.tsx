import { act, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { parseInterfaceAddress } from '@sobrin/core/address';
import { Choice, TextInput } from './fields';

const check = (text: string): string | null => {
  const read = parseInterfaceAddress(text);
  return read.ok ? null : read.error.text;
};

test('a mistake is said while typing and never blocks', async () => {
  const taken: string[] = [];
  render(<TextInput label="Address" value="" check={check} onCommit={(text) => taken.push(text)} />);
  await userEvent.type(screen.getByLabelText('Address'), '10.84.1.300/26');
  expect(screen.getByLabelText('Address')).toHaveAccessibleDescription(/300/);
  await userEvent.keyboard('{Enter}');
  expect(taken).toEqual(['10.84.1.300/26']);
});

test('what is wrong stands within the field, not in the next column of whatever grid the field is in', async () => {
  render(
    <div role="group">
      <TextInput label="Address" value="" check={check} onCommit={() => {}} />
    </div>,
  );
  await userEvent.type(screen.getByLabelText('Address'), '10.84.1.300/26');
  expect(screen.getByRole('group').children).toHaveLength(1);
  expect(screen.getByRole('group')).toHaveTextContent('300 in');
});

test('a text that is too long is said and kept in the field, not cut and not taken', async () => {
  const taken: string[] = [];
  render(<TextInput label="Name" value="" maxLength={64} onCommit={(text) => taken.push(text)} />);
  const field = screen.getByLabelText('Name');
  await userEvent.click(field);
  await userEvent.paste('x'.repeat(80));
  expect(field).toHaveAccessibleDescription(/^80 characters: at most 64 are taken/);
  await userEvent.tab();
  expect([field, taken]).toEqual([expect.objectContaining({ value: 'x'.repeat(80) }), []]);
  await userEvent.clear(field);
  await userEvent.type(field, 'short{Enter}');
  expect(taken).toEqual(['short']);
});

test('white space around a pasted text is taken off, and is no mistake; inside it stays and is named', async () => {
  const taken: string[] = [];
  render(<TextInput label="Address" value="" check={check} onCommit={(text) => taken.push(text)} />);
  const field = screen.getByLabelText('Address');
  await userEvent.click(field);
  await userEvent.paste(' 10.84.1.3/26\t');
  expect(field).not.toHaveAccessibleDescription();
  await userEvent.keyboard('{Enter}');
  await userEvent.clear(field);
  await userEvent.paste('10.84.1. 3/26');
  expect(field).toHaveAccessibleDescription(/space/);
  await userEvent.keyboard('{Enter}');
  expect(taken).toEqual(['10.84.1.3/26', '10.84.1. 3/26']);
});

test('Escape brings the old text back, and leaving the field unchanged commits nothing', async () => {
  const taken: string[] = [];
  render(<TextInput label="Name" value="SW-1" onCommit={(text) => taken.push(text)} />);
  await userEvent.type(screen.getByLabelText('Name'), 'x{Escape}');
  expect(screen.getByLabelText('Name')).toHaveValue('SW-1');
  await userEvent.tab();
  expect(taken).toEqual([]);
});

test('Escape leaves a choice, so that keys are keys again', async () => {
  render(<Choice label="Kind" value="a" options={[{ value: 'a', text: 'A' }]} onChange={() => {}} />);
  act(() => screen.getByLabelText('Kind').focus());
  await userEvent.keyboard('{Escape}');
  expect(screen.getByLabelText('Kind')).not.toHaveFocus();
});
