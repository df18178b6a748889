import { Dialog, TextField } from '@mui/material';
import { render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { TypedGuard } from './typed-guard';

function Page({ type }: { type?: string }) {
  const [isOpen, setOpen] = useState(false);
  const [text, setText] = useState('');
  return (
    <>
      <button onClick={() => setOpen(true)}>Open</button>
      <Dialog open={isOpen} onClose={() => setOpen(false)} aria-label="Roster" transitionDuration={0}>
        <TextField
          autoFocus
          label="Names"
          value={text}
          onChange={(event) => setText(event.target.value)}
          slotProps={{ htmlInput: { type } }}
        />
      </Dialog>
      <TypedGuard />
    </>
  );
}
const gone = () => waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());

test('Escape asks before it throws away what was typed, and the second time does so', async () => {
  render(<Page />);
  await userEvent.click(screen.getByText('Open'));
  await userEvent.type(screen.getByLabelText('Names'), 'Ilse Haverkamp');
  await userEvent.keyboard('{Escape}');
  expect(screen.getByRole('alert')).toHaveTextContent('Press Escape once more');
  expect(screen.getByLabelText('Names')).toHaveValue('Ilse Haverkamp');
  await userEvent.keyboard(', Mira');
  await userEvent.keyboard('{Escape}');
  expect(screen.getByLabelText('Names')).toHaveValue('Ilse Haverkamp, Mira');
  await userEvent.keyboard('{Escape}');
  await gone();
});

test('so does a press beside the dialog', async () => {
  render(<Page />);
  await userEvent.click(screen.getByText('Open'));
  await userEvent.type(screen.getByLabelText('Names'), 'Ilse');
  await userEvent.click(document.querySelector('.MuiDialog-container')!);
  expect(screen.getByRole('alert')).toBeInTheDocument();
  expect(screen.getByRole('dialog')).toBeInTheDocument();
});

test('where nothing was typed, or one only searched, it closes at once', async () => {
  const { unmount } = render(<Page />);
  await userEvent.click(screen.getByText('Open'));
  await userEvent.keyboard('{Escape}');
  await gone();
  unmount();
  render(<Page type="search" />);
  await userEvent.click(screen.getByText('Open'));
  await userEvent.type(screen.getByLabelText('Names'), 'switch');
  await userEvent.keyboard('{Escape}');
  await gone();
});

test('a comment that is not said yet is asked about as well', async () => {
  const closed: string[] = [];
  render(
    <>
      <TypedGuard />
      <aside
        onKeyDown={(event) => {
          if (event.key === 'Escape') closed.push('closed');
        }}
      >
        <textarea aria-label="Comment" data-draft />
      </aside>
    </>,
  );
  await userEvent.type(screen.getByLabelText('Comment'), 'Why fibre?{Escape}');
  expect(closed).toEqual([]);
  await userEvent.keyboard('{Escape}');
  expect(closed).toEqual(['closed']);
});
