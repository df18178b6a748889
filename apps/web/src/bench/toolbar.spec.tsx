import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { emptyTopology } from '@sobrin/core/topology';
import { type Lenses } from '../drawing/lenses';
import { createBenchStore } from './bench-store';
import { Toolbar } from './toolbar';
import { BenchProvider } from './use-bench';
import { type MenuEntry } from './bench-menu';

function open() {
  const done: string[] = [];
  const shown: Lenses[] = [];
  const entry = (id: string, text: string, group: MenuEntry['group'], more: Partial<MenuEntry> = {}): MenuEntry => ({
    id,
    text,
    group,
    run: () => done.push(id),
    ...more,
  });
  const store = createBenchStore(
    { document: emptyTopology(), revision: 0 },
    { post: () => new Promise(() => {}), keep: () => Promise.resolve(), newId: () => '1', later: () => {} },
  );
  render(
    <BenchProvider store={store} id="d">
      <Toolbar
        lenses={{ ends: true, subnets: false, cables: false }}
        onLenses={(next) => shown.push(next)}
        menu={[
          entry('kit', 'Add from the kit', 'add', { keys: 'A' }),
          entry('align-left', 'Align left', 'arrange', { off: true }),
          entry('arrange', 'Arrange everything', 'arrange'),
          entry('save', 'Save the drawing as a file', 'file'),
        ]}
        showsEngine
        aboutShown={false}
        onAbout={() => done.push('about')}
      />
    </BenchProvider>,
  );
  return { done, shown };
}
const press = (name: string) => userEvent.click(screen.getByRole('button', { name }));

test('entries stand in the menu of their group with their key, and are done from there', async () => {
  const { done } = open();
  await press('Add');
  await userEvent.click(screen.getByRole('menuitem', { name: 'Add from the kit A' }));
  await press('Line up');
  expect(screen.getByRole('menuitem', { name: 'Align left' })).toHaveAttribute('aria-disabled', 'true');
  await userEvent.click(screen.getByRole('menuitem', { name: 'Arrange everything' }));
  await press('More');
  await userEvent.click(screen.getByRole('menuitem', { name: 'Save the drawing as a file' }));
  await press('About this drawing');
  expect(done).toEqual(['kit', 'arrange', 'save', 'about']);
});
test('lenses are switched in the bar, or behind its arrow', async () => {
  const { shown } = open();
  expect(screen.getByRole('button', { name: 'Ends' })).toHaveAttribute('aria-pressed', 'true');
  await press('VLANs');
  await press('Lenses');
  expect(screen.getByRole('menuitemcheckbox', { name: 'Speeds' })).toHaveAttribute('aria-checked', 'false');
  await userEvent.click(screen.getByRole('menuitemcheckbox', { name: 'Speeds' }));
  expect(shown).toEqual([
    { ends: true, subnets: false, cables: false, vlans: true, domains: false },
    { ends: true, subnets: false, cables: false, speeds: true },
  ]);
});
