import { Dialog } from '@mui/material';
import { act, render, screen, waitFor } from '@testing-library/react';
import { Announcer, announce, usePageTitle } from './announce';

function Page({ title }: { title: string }) {
  usePageTitle(title, 'Three Stations');
  return <h1>{title}</h1>;
}
const regions = () => screen.getAllByRole('status').map((each) => each.textContent ?? '');
/** What another page had still to say may stand before it. */
const said = (text: string) => waitFor(() => expect(regions().some((each) => each.endsWith(text))).toBe(true));

test('what comes of one thing done is said in one go, and the same again is said again', async () => {
  render(<Announcer />);
  act(() => announce('Ready'));
  await said('Ready');
  act(() => {
    announce('Done: remove');
    announce('Problems now 3');
    announce('Problems now 3');
  });
  await said('Done: remove. Problems now 3');
  const before = regions();
  act(() => announce('Done: remove. Problems now 3'));
  await waitFor(() => expect(regions()).toEqual(before.toReversed()));
});

test('it is heard while a dialog is open', async () => {
  render(
    <>
      <Announcer />
      <Dialog open aria-label="Kit">
        Kit
      </Dialog>
    </>,
  );
  act(() => announce('5 devices added'));
  // By role only what is not hidden is found.
  await said('5 devices added');
});

test('a page has its title, and tells it when one comes from another page', async () => {
  document.title = 'Sobrin';
  render(<Announcer />);
  const { rerender } = render(<Page title="Bench" />);
  expect(document.title).toBe('Bench · Three Stations · Sobrin');
  rerender(<Page title="Spec" />);
  await said('Spec · Three Stations · Sobrin');
});
