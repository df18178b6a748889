import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type Link, type Topology, emptyTopology } from '@sobrin/core/topology';
import LinkDialog, { type LinkChoice } from './link-dialog';

const topology = (): Topology => ({
  ...emptyTopology(),
  devices: {
    s: { name: 'SW-1', model: 'access-switch-12', at: { x: 0, y: 0 } },
    h: { name: 'DESK-1', model: 'desktop', at: { x: 0, y: 0 } },
    g: { name: 'DESK-2', model: 'desktop', at: { x: 0, y: 0 } },
    t: { name: 'TURN', model: 'turnstile', at: { x: 0, y: 0 }, members: { m1: {}, m2: { name: 'TURN-B' } } },
    f: { name: 'MC-1', model: 'media-converter', at: { x: 0, y: 0 } },
  },
  links: { l: { a: { device: 's', port: 'p1' }, b: { device: 'h', port: 'e0' }, medium: 'straight' } },
});
type Made = [Pick<Link, 'a' | 'b' | 'medium'>, boolean];

function open(choice: LinkChoice, helps = true, automatic = helps): Made[] {
  const made: Made[] = [];
  render(
    <LinkDialog
      choice={choice}
      topology={topology()}
      helps={helps}
      automatic={automatic}
      onClose={() => {}}
      onLink={(link, again) => made.push([link, again])}
    />,
  );
  return made;
}
const link = () => screen.getByRole('button', { name: 'Link' });
async function choose(label: string, name: string): Promise<void> {
  await userEvent.type(screen.getByLabelText(label), name);
  await userEvent.click(screen.getByRole('option', { name }));
}

test('a coach chooses the next free ports that fit and the right cable', async () => {
  const made = open({ a: 's', b: 'g' });
  expect(screen.getByText(/Fitting: SW-1 p2 to DESK-2 e0, straight-through copper/)).toBeInTheDocument();
  await userEvent.click(link());
  expect(made).toEqual([
    [{ a: { device: 's', port: 'p2' }, b: { device: 'g', port: 'e0' }, medium: 'straight' }, false],
  ]);
});

test('without help nothing is chosen for one: a wrong cable can be drawn', async () => {
  const made = open({ a: 's', b: 'g' }, false);
  expect(link()).toBeDisabled();
  await userEvent.selectOptions(screen.getByLabelText('Medium'), 'rollover');
  await userEvent.click(link());
  expect(made[0]![0].medium).toBe('rollover');
});

test('where the lab leaves cabling to the students, nothing is chosen and the fitting is still told', () => {
  open({ a: 's', b: 'g' }, true, false);
  expect(link()).toBeDisabled();
  expect(screen.getByText(/Choose the ports and the medium yourself/)).toBeInTheDocument();
});

test('ports that are taken are not offered, a full device says so', async () => {
  open({ a: 's', b: null });
  expect(within(screen.getByLabelText('Port at the first end')).queryByText(/^p1 /)).toBeNull();
  await choose('To', 'DESK-1');
  expect(screen.getByLabelText('Port at the second end')).toHaveTextContent('no port is free');
  expect(link()).toBeDisabled();
});

test('what cannot fit is said', async () => {
  open({ a: 'f', b: null });
  await choose('To', 'DESK-1');
  expect(screen.getByText(/No two free ports of these devices fit/)).toBeInTheDocument();
});

test('a device is not linked with itself', () => {
  open({ a: 's', b: 's' });
  expect(screen.getByText('A link joins two different devices.')).toBeInTheDocument();
  expect(link()).toBeDisabled();
});

test('members of a tile are linked one by one', async () => {
  const made = open({ a: 's', b: null });
  await choose('To', 'TURN-B');
  await userEvent.click(link());
  expect(made[0]![0].b).toEqual({ device: 't', member: 'm2', port: 'e0' });
});

test('one goes on cabling from the same device', async () => {
  const made = open({ a: 's', b: 'g' });
  await userEvent.click(screen.getByRole('button', { name: 'Link and go on from SW-1' }));
  expect(made[0]![1]).toBe(true);
});
