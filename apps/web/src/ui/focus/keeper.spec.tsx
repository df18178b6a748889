import { act, fireEvent, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { goBack, keepFocus } from './keeper';

function Page() {
  const [lines, setLines] = useState(['one', 'two', 'three']);
  const [steps, setSteps] = useState(2);
  const [isOpen, setOpen] = useState(true);
  return (
    <main>
      <h1>Page</h1>
      <div role="toolbar">
        <button disabled={steps === 0} onClick={() => setSteps(steps - 1)}>
          Undo
        </button>
        <button>Redo</button>
        <input aria-label="Command" />
      </div>
      <div role="tree" tabIndex={0} aria-label="Tree" />
      {isOpen && (
        <aside>
          {lines.map((line) => (
            <button key={line} onClick={() => setLines(lines.filter((each) => each !== line))}>
              {line}
            </button>
          ))}
          <input aria-label="Field" />
        </aside>
      )}
      <button onClick={() => setOpen(false)}>Close</button>
    </main>
  );
}
const settled = (): Promise<void> => act(() => new Promise<void>((done) => setTimeout(done, 60)));
const pressKey = async (name: string): Promise<void> => {
  screen.getByRole('button', { name }).focus();
  await userEvent.keyboard('{Enter}');
  await settled();
};

let end: () => void;
beforeEach(() => {
  end = keepFocus();
  render(<Page />);
});
afterEach(() => end());

test('what is removed gives the focus to its neighbour: the next, and of the last the one before', async () => {
  await pressKey('two');
  expect(screen.getByText('three')).toHaveFocus();
  await pressKey('three');
  expect(screen.getByLabelText('Field')).toHaveFocus();
});

test('the next key is heard by what stands next, however quickly it follows', async () => {
  const heard: string[] = [];
  screen.getByRole('button', { name: 'two' }).focus();
  fireEvent.click(screen.getByText('two'));
  await Promise.resolve();
  expect(document.body).toHaveFocus();
  window.addEventListener('keydown', () => heard.push(document.activeElement?.textContent ?? ''), { once: true });
  fireEvent.keyDown(document.body, { key: 'd' });
  expect(heard).toEqual(['three']);
});

test('a button that can do no more gives it to the next', async () => {
  await pressKey('Undo');
  expect(screen.getByText('Undo')).toHaveFocus();
  await pressKey('Undo');
  expect(screen.getByText('Redo')).toHaveFocus();
});

test('when a panel goes with all that is in it, one is where one worked before, and not in a field of a bar', async () => {
  screen.getByRole('tree').focus();
  screen.getByLabelText('Command').focus();
  screen.getByLabelText('Field').focus();
  act(() => void screen.getByText('Close').dispatchEvent(new MouseEvent('click', { bubbles: true })));
  await settled();
  expect(screen.getByRole('tree')).toHaveFocus();
});

test('who leaves something by a press beside it is not called back', async () => {
  screen.getByLabelText('Field').focus();
  act(() => void screen.getByLabelText('Field').blur());
  await settled();
  expect(document.body).toHaveFocus();
});

test('Escape in a panel means back to where one came from', () => {
  screen.getByRole('tree').focus();
  screen.getByText('one').focus();
  screen.getByLabelText('Field').focus();
  goBack(screen.getByLabelText('Field'));
  expect(screen.getByRole('tree')).toHaveFocus();
});

test('a press of the mouse on a tool leaves the focus at what one works at', async () => {
  screen.getByRole('tree').focus();
  await userEvent.click(screen.getByText('Redo'));
  expect(screen.getByRole('tree')).toHaveFocus();
  screen.getByText('Redo').focus();
  await userEvent.keyboard('{Enter}');
  expect(screen.getByText('Redo')).toHaveFocus();
});
