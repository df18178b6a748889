import { render, screen } from '@testing-library/react';
import { historyKeys, useKeys } from './use-keys';

const done: string[] = [];
function Page() {
  useKeys({
    ...historyKeys({ undo: () => done.push('undo'), redo: () => done.push('redo') }),
    a: () => done.push('a'),
    'Shift+l': () => done.push('Shift+l'),
    '/': () => done.push('/'),
  });
  return <textarea aria-label="Text" />;
}
const press = (key: string, code: string, more: KeyboardEventInit = {}, at: Element = document.body): void =>
  void at.dispatchEvent(new KeyboardEvent('keydown', { key, code, bubbles: true, cancelable: true, ...more }));

beforeEach(() => {
  done.length = 0;
  render(<Page />);
});

test.each([
  ['Latin', 'z', 'y', 'a', 'L'],
  ['Russian', 'я', 'н', 'ф', 'Д'],
  ['Greek', 'ζ', 'υ', 'α', 'Λ'],
  ['Arabic', 'ئ', 'غ', 'ش', 'م'],
  ['Hebrew', 'ז', 'ט', 'ש', 'ך'],
])('keys do on a %s keyboard what they do on any', (_layout, z, y, a, l) => {
  press(z, 'KeyZ', { ctrlKey: true });
  press(y, 'KeyY', { ctrlKey: true });
  press(a, 'KeyA');
  press(l, 'KeyL', { shiftKey: true });
  expect(done).toEqual(['undo', 'redo', 'a', 'Shift+l']);
});

test('where a keyboard writes Latin letters, what it writes holds, wherever the key lies', () => {
  // On a French keyboard A lies where others have Q, and on a German one Z where others have Y.
  press('a', 'KeyQ');
  press('z', 'KeyY', { ctrlKey: true });
  press('q', 'KeyA');
  press('/', 'Digit7', { shiftKey: true });
  expect(done).toEqual(['a', 'undo', '/']);
});

test('in a text they are letters', () => {
  press('ф', 'KeyA', {}, screen.getByLabelText('Text'));
  press('a', 'KeyA', {}, screen.getByLabelText('Text'));
  expect(done).toEqual([]);
});
