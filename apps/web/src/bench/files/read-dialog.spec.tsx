import { type Imported, readDrawingFile } from '@sobrin/core/formats';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { fireEvent, render, screen, within } from '@testing-library/react';
import { ReadDialog } from './read-dialog';

const topology: Topology = {
  ...emptyTopology(),
  devices: {
    a: { name: 'DESK-1', model: 'desktop', at: { x: 0, y: 0 } },
    b: { name: 'DESK-2', model: 'desktop', at: { x: 80, y: 0 } },
  },
};
function show(read: Imported, now = topology) {
  const done = { replace: jest.fn(), add: jest.fn(), close: jest.fn() };
  render(
    <ReadDialog
      file="lab.yaml"
      read={read}
      topology={now}
      onReplace={done.replace}
      onAdd={done.add}
      onClose={done.close}
    />,
  );
  return done;
}
const lines = () =>
  within(screen.getByRole('list', { name: 'Changes' }))
    .getAllByRole('listitem')
    .map((element) => element.textContent);

test('what a file would add, change and remove is told line by line before anything is taken', () => {
  const { a } = topology.devices;
  const taken = {
    ...topology,
    devices: { a: { ...a!, name: 'TILL-1' }, c: { name: 'NEW', model: 'laptop', at: { x: 0, y: 0 } } },
  };
  const done = show({ topology: taken, left: [] });
  expect(lines()).toEqual(['device changedTILL-1name: DESK-1 → TILL-1', 'device addedNEW', 'device removedDESK-2']);
  expect(screen.getByText(/1 device added, 1 device changed, 1 device removed/)).toBeInTheDocument();
  expect(done.replace).not.toHaveBeenCalled();
  fireEvent.click(screen.getByRole('button', { name: 'Replace the drawing' }));
  expect(done.replace).toHaveBeenCalledTimes(1);
});

test('what could not be read stands above', () => {
  const read = readDrawingFile(
    'x.graphml',
    '<graphml><graph><node id="n"/><edge source="n" target="m"/></graph></graphml>',
  );
  if (!read.ok) throw new Error(read.error[0]!.text);
  const done = show(read.value);
  expect(screen.getByRole('alert')).toHaveTextContent('The link from "n" to "m" was left out: there is no "m".');
  fireEvent.click(screen.getByRole('button', { name: 'Add beside what is there' }));
  expect(done.add).toHaveBeenCalledTimes(1);
});

test('of the same drawing nothing is to be taken; on an empty sheet nothing is replaced', () => {
  show({ topology, left: [] });
  expect(screen.getByText('The file holds the drawing exactly as it is.')).toBeInTheDocument();
  expect(screen.queryByRole('button', { name: 'Replace the drawing' })).toBeNull();
});

test('an empty sheet just takes what is in the file', () => {
  show({ topology, left: [] }, emptyTopology());
  expect(screen.getByRole('button', { name: 'Take it' })).toBeInTheDocument();
  expect(screen.queryByRole('button', { name: /Add beside/ })).toBeNull();
});
