import { fireEvent, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { formatPrefix } from '@sobrin/core/address';
import { type Plan, planTree } from '@sobrin/core/plan';
import { plan } from '../tests/plans';
import { BlockMap } from './block-map';

function open(document: Plan = plan(), { chosen = null as string | null, changing = true } = {}) {
  const chose: string[] = [];
  const free: string[] = [];
  const { container } = render(
    <BlockMap
      tree={planTree(document)}
      chosen={chosen}
      onChoose={(id) => chose.push(id)}
      {...(changing && { onFree: (within: string, prefix) => free.push(`${within} ${formatPrefix(prefix)}`) })}
    />,
  );
  return { chose, free, container };
}
const inside = (name: string) => within(screen.getByRole('group', { name: `Inside ${name}` }));
const cell = (name: string, label: string) => inside(name).getByRole('button', { name: label });
const share = (element: HTMLElement): [number, number] => [
  Number.parseFloat(element.style.left),
  Number(/([\d.]+)%/.exec(element.style.width)![1]),
];

test('every part has its true place and share, and what is free in between has too', () => {
  open();
  expect(share(cell('Ridge', 'Valley, 10.84.0.0/22'))).toEqual([0, 25]);
  expect(share(cell('Ridge', 'Middle, 10.84.4.0/22'))).toEqual([25, 25]);
  expect(share(cell('Ridge', 'Free: 10.84.8.0/21, 2048 addresses. Put a block there'))).toEqual([50, 50]);
  const covered = inside('Ridge')
    .getAllByRole('button')
    .reduce((sum, element) => sum + share(element)[1], 0);
  expect(covered).toBe(100);
});

test('a block that is chosen is opened below, at its true share again', () => {
  open(plan(), { chosen: 'valley' });
  expect(cell('Ridge', 'Valley, 10.84.0.0/22')).toHaveAttribute('aria-pressed', 'true');
  expect(share(cell('Valley', 'Guests, 10.84.0.0/24'))).toEqual([0, 25]);
  expect(share(cell('Valley', 'Tickets, 10.84.1.0/26'))).toEqual([25, 6.25]);
  expect(
    inside('Valley')
      .getAllByRole('button', { name: /^Free/ })
      .map((element) => element.getAttribute('aria-label')!.split(',')[0]),
  ).toEqual(['Free: 10.84.1.64/26', 'Free: 10.84.1.128/25', 'Free: 10.84.2.0/23']);
});

test('a block and free space are chosen with a click', async () => {
  const { chose, free } = open(plan(), { chosen: 'valley' });
  await userEvent.click(cell('Valley', 'Guests, 10.84.0.0/24'));
  await userEvent.click(cell('Valley', 'Free: 10.84.2.0/23, 512 addresses. Put a block there'));
  expect([chose, free]).toEqual([['guests'], ['valley 10.84.2.0/23']]);
});

test('where nothing may be changed free space is shown and cannot be chosen', () => {
  open(plan(), { changing: false });
  expect(cell('Ridge', 'Free: 10.84.8.0/21, 2048 addresses')).toBeDisabled();
});

test('a plan of IPv6 alone is drawn by its IPv6 space, the parts named after the prefix they share', () => {
  open({
    blocks: {
      root: { prefix: '', prefix6: 'fd5e:7a3c:90b1::/48', name: 'Ridge' },
      half: { prefix: '', prefix6: 'fd5e:7a3c:90b1:8000::/49', name: 'Upper half' },
    },
  });
  const half = cell('Ridge', 'Upper half, fd5e:7a3c:90b1:8000::/49');
  expect(share(half)).toEqual([50, 50]);
  expect(half).toHaveTextContent('Upper half');
});

test('parts too thin for words are drawn as lines, and a click finds the nearest', () => {
  const document: Plan = { blocks: { root: { prefix: '10.84.0.0/16', name: 'Ridge' } } };
  document.blocks.a = { prefix: '10.84.64.0/26', name: 'A' };
  document.blocks.b = { prefix: '10.84.192.0/26', name: 'B' };
  const { chose, container } = open(document);
  const drawing = container.querySelector('.map-thin')!;
  drawing.getBoundingClientRect = () => ({ left: 100, width: 1000 }) as DOMRect;
  fireEvent.click(drawing, { clientX: 350 });
  fireEvent.click(drawing, { clientX: 846 });
  fireEvent.click(drawing, { clientX: 600 });
  expect(chose).toEqual(['a', 'b']);
});

test('nothing divided, nothing drawn', () => {
  const { container } = open({ blocks: { root: { prefix: '10.84.0.0/16', name: 'Ridge' } } });
  expect(container).toBeEmptyDOMElement();
});
