import { render, screen } from '@testing-library/react';
import { usePreferences } from '../preferences';
import { type Shortcut, historyKeys, useShortcuts } from './shortcuts';

const done: string[] = [];
const does = (id: string, keys: string | readonly string[], more: Partial<Shortcut> = {}): Shortcut => ({
  id,
  text: id,
  keys,
  run: (chord) => done.push(chord),
  ...more,
});
function Page() {
  useShortcuts([
    ...historyKeys({ undo: () => done.push('undo'), redo: () => done.push('redo') }),
    does('kit', 'A'),
    does('link', 'Shift L'),
    does('field', '/'),
    does('front', ']'),
    does('off', 'Q', { off: true }),
    does('remove', ['Del', 'Backspace']),
    does('nudge', ['ArrowLeft', 'ArrowRight'], { butIn: 'table' }),
    does('problem', 'F8'),
    does('leave', 'Esc'),
  ]);
  return (
    <main>
      <textarea aria-label="Text" />
      <aside>
        <button>Panel</button>
      </aside>
      <div role="toolbar">
        <span tabIndex={-1}>Tool</span>
      </div>
      <div role="tree">
        <span tabIndex={-1}>Row</span>
        <button>Fold</button>
      </div>
      <table>
        <tbody>
          <tr>
            <td>Cell</td>
          </tr>
        </tbody>
      </table>
    </main>
  );
}
const press = (key: string, code: string, more: KeyboardEventInit = {}, at: Element = document.body): void =>
  void at.dispatchEvent(new KeyboardEvent('keydown', { key, code, bubbles: true, cancelable: true, ...more }));
const pressAll = (at: Element): void => {
  press('a', 'KeyA', {}, at);
  press('Delete', 'Delete', {}, at);
  press('ArrowLeft', 'ArrowLeft', {}, at);
};

beforeEach(() => {
  done.length = 0;
  usePreferences.setState({ singleKeys: true, ownKeys: {} });
  render(<Page />);
});

describe('what a keyboard writes', () => {
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
    expect(done).toEqual(['undo', 'redo', 'A', 'Shift L']);
  });
  test('holds for Latin letters and signs, wherever they lie', () => {
    // On a French keyboard A lies where others have Q, and on a German one Z where others have Y.
    press('a', 'KeyQ');
    press('z', 'KeyY', { ctrlKey: true });
    press('q', 'KeyA');
    press('/', 'Digit7', { shiftKey: true });
    const altGraph = new KeyboardEvent('keydown', {
      ...{ key: ']', code: 'Digit9', ctrlKey: true, altKey: true, modifierAltGraph: true, bubbles: true },
    });
    document.body.dispatchEvent(altGraph);
    expect(done).toEqual(['A', 'undo', '/', ']']);
  });
  test('Command is Control, and keys with Alt are the browser’s', () => {
    press('z', 'KeyZ', { metaKey: true });
    press('a', 'KeyA', { altKey: true });
    expect(done).toEqual(['undo']);
  });
});

describe('where keys are heard', () => {
  test('in a text they are letters', () => {
    press('ф', 'KeyA', {}, screen.getByLabelText('Text'));
    press('z', 'KeyZ', { ctrlKey: true }, screen.getByLabelText('Text'));
    expect(done).toEqual([]);
  });
  test.each([
    ['a button of a panel', () => screen.getByText('Panel')],
    ['a toolbar', () => screen.getByText('Tool')],
    ['a button in a tree', () => screen.getByText('Fold')],
  ])('at %s single keys, arrows and Delete are silent, and the others are not', (_where, at) => {
    pressAll(at());
    expect(done).toEqual([]);
    press('z', 'KeyZ', { ctrlKey: true }, at());
    press('F8', 'F8', {}, at());
    press('Escape', 'Escape', {}, at());
    expect(done).toEqual(['undo', 'F8', 'Esc']);
  });
  test('in a tree, a table and on the page they act; what has arrows of its own keeps them', () => {
    pressAll(screen.getByText('Row'));
    pressAll(screen.getByText('Cell'));
    expect(done).toEqual(['A', 'Del', 'ArrowLeft', 'A', 'Del']);
  });
  test('what cannot be done just now does not take its key', () => {
    press('q', 'KeyQ');
    expect(done).toEqual([]);
  });
});

describe('as a person wants them', () => {
  test('single keys can be switched off; others stay', () => {
    usePreferences.setState({ singleKeys: false });
    for (const key of ['a', '/', ']']) press(key, 'KeyA');
    press('L', 'KeyL', { shiftKey: true });
    press('z', 'KeyZ', { ctrlKey: true });
    press('Delete', 'Delete');
    expect(done).toEqual(['undo', 'Del']);
  });
  test('a key is changed, and the old one does nothing any more', () => {
    usePreferences.setState({ ownKeys: { kit: 'Y' } });
    press('a', 'KeyA');
    press('y', 'KeyY');
    expect(done).toEqual(['Y']);
  });
});
