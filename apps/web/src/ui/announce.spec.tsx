import { Dialog } from '@mui/material';
import { act, render, screen, waitFor } from '@testing-library/react';
import { Announcer, announce, usePageTitle } from './announce';

function Page({ title }: { title: string }) {
  usePageTitle(title, 'Three Stations');
  return <h1>{title}</h1>;
}
const said = (text: string) =>
  waitFor(() => expect(screen.getAllByRole('status').map((each) => each.textContent)).toContain(text));

test('what comes of one thing done is said in one go, and the same again is said again', async () => {
  render(<Announcer />);
  act(() => {
    announce('Done: remove');
    announce('Problems now 3');
    announce('Problems now 3');
  });
  await said('Done: remove. Problems now 3');
  const before = screen.getAllByRole('status').map((each) => each.textContent);
  act(() => announce('Done: remove. Problems now 3'));
  await waitFor(() =>
    expect(screen.getAllByRole('status').map((each) => each.textContent)).toEqual(before.toReversed()),
  );
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
