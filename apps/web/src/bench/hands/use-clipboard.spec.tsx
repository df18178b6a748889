import { fireEvent, render, screen, waitFor } from '@testing-library/react';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { useClipboard } from './use-clipboard';

const topology: Topology = {
  ...emptyTopology(),
  devices: {
    s: { name: 'SW-1', model: 'access-switch-12', at: { x: 0, y: 0 } },
    h: { name: 'DESK-1', model: 'desktop', at: { x: 0, y: 90 } },
  },
  links: { l: { a: { device: 's', port: 'p1' }, b: { device: 'h', port: 'e0' }, medium: 'straight' } },
};
function open(chosen: string[]) {
  const happened: string[] = [];
  const pasted: Topology[] = [];
  function Page() {
    useClipboard({
      topology,
      chosen,
      onPaste: (part) => pasted.push(part),
      onCut: () => happened.push('cut'),
      onTell: (text) => happened.push(text),
    });
    return <input aria-label="field" />;
  }
  render(<Page />);
  return { happened, pasted };
}
const board = (data: Record<string, string>) => ({
  clipboardData: {
    setData: (type: string, text: string) => void (data[type] = text),
    getData: (type: string) => data[type] ?? '',
  },
});

test('what is chosen is copied as a part of the drawing and as a table, and pasted back', async () => {
  const { pasted } = open(['h']);
  const data: Record<string, string> = {};
  fireEvent.copy(document.body, board(data));
  expect(data['text/plain']).toMatch(/^Name\tModel\t.*\nDESK-1\tDesktop\t/);
  fireEvent.paste(document.body, board(data));
  await waitFor(() => expect(Object.keys(pasted[0]!.devices)).toEqual(['h']));
  expect(pasted[0]!.links).toEqual({});
});
test('links among what is chosen come along, and cutting takes it away', async () => {
  const { happened, pasted } = open(['h', 's']);
  const data: Record<string, string> = {};
  fireEvent.cut(document.body, board(data));
  fireEvent.paste(document.body, board({ 'text/plain': data['application/json']! }));
  expect(happened).toEqual(['cut']);
  await waitFor(() => expect(Object.keys(pasted[0]!.links)).toEqual(['l']));
});
test('text that is no drawing is told of, and fields keep their own clipboard', async () => {
  const { happened, pasted } = open(['h']);
  fireEvent.paste(document.body, board({ 'text/plain': 'a shopping list' }));
  await waitFor(() => expect(happened).toEqual([expect.stringMatching(/no part of a drawing/)]));
  const data: Record<string, string> = {};
  fireEvent.copy(screen.getByLabelText('field'), board(data));
  fireEvent.paste(screen.getByLabelText('field'), board({ 'text/plain': '{}' }));
  expect([data, pasted]).toEqual([{}, []]);
});
test('with nothing chosen nothing is copied', () => {
  open([]);
  const data: Record<string, string> = {};
  fireEvent.copy(document.body, board(data));
  expect(data).toEqual({});
});
