import { type Page } from '@playwright/test';
import { addressOf, checkClass, expect, openBenchOfCopy, saved, signIn, test } from './people';

/** Where the focus is, in words; "nowhere" on the page itself, or on what cannot be used. */
const focused = (page: Page): Promise<string> =>
  page.evaluate(() => {
    const at = document.activeElement;
    if (!at || at === document.body || at.matches(':disabled')) return 'nowhere';
    return `${at.tagName.toLowerCase()} ${at.getAttribute('aria-label') ?? at.textContent?.trim().slice(0, 30) ?? ''}`;
  });

test('after whatever one does by keys the focus is where one goes on, never nowhere', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  await openBenchOfCopy(page, 'three-stations', 'Focus');
  const lab = /^.*\/labs\/[^/]+/.exec(page.url())![0];
  const lost: string[] = [];
  let done = 0;
  const act = async (what: string, ...keys: string[]): Promise<void> => {
    for (const key of keys)
      if (key.length > 1 && key.startsWith('"')) await page.keyboard.type(key.slice(1));
      else await page.keyboard.press(key);
    done++;
    // What a list or a dialog does with it comes first, and a frame later what is left.
    await expect
      .poll(() => focused(page))
      .not.toBe('nowhere')
      .catch(() => lost.push(what));
  };
  const tiles = page.locator('.react-flow__node-tile');
  const chosen = page.locator('.react-flow__node-tile.selected');
  await tiles.first().waitFor();
  await act('through the parts to the drawing', 'F6', 'F6', 'F6');
  await act('the command field', '/');
  await act('leave it', 'Escape');
  await act('add by the field', '/', '"2 desktops', 'Enter');
  await expect(tiles.filter({ hasText: 'PC-2' })).toHaveCount(1);
  await act('jump to a device', '/', '"RT-M', 'Enter');
  await act('to the inspector', 'i');
  await act('next field', 'Tab');
  await act('back to the tile', 'Escape');
  await act('next tile', 'Tab');
  await act('choose it', 'Space');
  await act('choose another as well', 'Tab', 'Shift+Space');
  await expect(chosen).toHaveCount(2);
  await act('take it out again', 'Shift+Space');
  await expect(chosen).toHaveCount(1);
  await act('choose nothing', 'Escape');
  await act('choose everything', 'Control+a');
  await expect(chosen).toHaveCount(await tiles.count());
  await act('nothing again', 'Escape');
  await expect(chosen).toHaveCount(0);
  await act('move it', 'Space', 'ArrowRight');
  await act('undo', 'Control+z');
  await act('redo', 'Control+Shift+z');
  const before = await tiles.count();
  await act('remove', 'Delete');
  await expect(tiles).toHaveCount(before - 1);
  await act('undo the removal', 'Control+z');
  await expect(tiles).toHaveCount(before);
  await act('kit', 'a');
  await act('close the kit', 'Escape');
  await act('kit again', 'a', '"printer', 'Enter');
  await act('a site', 's');
  await act('leave its name', 'Escape');
  const notes = await page.locator('.react-flow__node-note').count();
  await act('a note', '/', '"add a note', 'Enter');
  await expect(page.locator('.react-flow__node-note')).toHaveCount(notes + 1);
  await act('leave the note', 'Escape', 'Escape');
  await act('rename', '/', '"PRINT', 'Enter', 'F2');
  await act('leave the name', 'Escape');
  await act('comment', 'c');
  await act('close the comment', 'Escape', 'Escape');
  await act('tables', '/', '"RT-V', 'Enter', 'k');
  await act('close the tables', 'Escape');
  await act('trace', '/', '"trace DESK-1 CAM-1', 'Enter');
  await act('step', 'ArrowDown');
  await expect(page.getByRole('complementary', { name: 'Trace' })).toBeVisible();
  await act('close the trace', 'Escape');
  await expect(page.getByRole('complementary', { name: 'Trace' })).toBeHidden();
  await act('reach grid', 'm');
  await act('close it', 'Escape');
  await act('text', 't');
  await act('close the text', 'Escape', 'Escape');
  await act('versions', 'v');
  await act('close them', 'Escape');
  await act('link dialog', 'Shift+l');
  await act('close it', 'Escape');
  await act('keys', '?');
  await act('close the keys', 'Escape');
  await act('next problem', 'F8');
  for (let part = 0; part < 5; part++) await act(`part ${part}`, 'F6');

  await page.goto(`${lab}/plan`);
  await page.getByRole('tree').focus();
  await act('a block', 'ArrowDown');
  await act('open it', 'ArrowRight');
  await act('add a block', 'a');
  await act('type a name', '"Kiosk', 'Enter');
  await act('leave', 'Escape');
  await act('undo it', 'Control+z');
  await act('divide', 'd');
  await act('close it', 'Escape');
  await act('next address', 'n');
  await act('leave it', 'Escape');

  await page.goto(`${lab}/spec`);
  await page.locator('[data-requirement]').first().waitFor();
  const more = page.getByRole('button', { name: 'More for requirement 1.2' });
  await more.focus();
  await act('the menu of a requirement', 'Enter');
  await act('remove it', 'ArrowUp', 'Enter');
  await act('undo', 'Control+z');
  await page.getByRole('button', { name: 'Add a section' }).focus();
  await act('a section', 'Enter');
  await act('undo the section', 'Control+z');
  expect(lost).toEqual([]);
  expect(done).toBeGreaterThanOrEqual(60);
});

test('in panels, and when they are switched off, keys of one character do nothing', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  await openBenchOfCopy(page, 'winch-isolation', 'Silence');
  await page.locator('.react-flow__node-tile').first().click();
  const panel = page.getByRole('complementary', { name: 'Inspector' });
  const undo = page.getByRole('button', { name: 'Undo', exact: true });
  const devices = await page.locator('.react-flow__node-tile').count();
  const all = [
    ...'abcdefghijklmnopqrstuvwxyz[]/?'.split(''),
    'Delete',
    'Backspace',
    'ArrowLeft',
    'ArrowDown',
    'Shift+l',
  ];
  const pressAll = async (): Promise<void> => {
    for (const key of all) await page.keyboard.press(key);
    await expect(page.getByRole('dialog')).toHaveCount(0);
    await expect(undo).toBeDisabled();
    await expect(page.locator('.react-flow__node-tile')).toHaveCount(devices);
    await expect(panel).toBeVisible();
  };
  const button = panel.getByRole('button').first();
  await button.focus();
  await pressAll();
  await expect(button).toBeFocused();

  await page.locator('.react-flow__node-tile').first().focus();
  await page.keyboard.press('?');
  const keys = page.getByRole('dialog', { name: 'Keys of this page' });
  await keys.getByRole('switch').press('Space');
  await keys.getByRole('button', { name: 'Close' }).press('Enter');
  await page.locator('.react-flow__node-tile').first().focus();
  for (const key of all.filter((each) => each.length === 1)) await page.keyboard.press(key);
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(undo).toBeDisabled();
  // What has Control, and what is no character, is there still; so is the way back.
  await page.reload();
  await page.locator('.react-flow__node-tile').first().waitFor();
  await page.getByRole('button', { name: /^Signed in as/ }).press('Enter');
  await page.getByRole('menuitem', { name: 'Keys…' }).press('Enter');
  await expect(keys.getByRole('switch')).not.toBeChecked();
  await keys.getByRole('button', { name: 'Change the key for Add from the kit' }).waitFor();
  await keys.getByRole('switch').press('Space');
  await keys.getByRole('button', { name: 'Change the key for Add from the kit' }).press('Enter');
  await page.keyboard.press('y');
  await keys.getByRole('button', { name: 'Close' }).press('Enter');
  await page.locator('.react-flow__node-tile').first().focus();
  await page.keyboard.press('a');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.keyboard.press('y');
  await expect(page.getByRole('dialog')).toContainText('Add from the kit');
});

/** Somebody without a mouse: every key that is pressed, and every letter that is typed, is counted. */
class Keyboard {
  keys = 0;
  letters = 0;

  constructor(private readonly page: Page) {}

  async press(...keys: string[]): Promise<void> {
    for (const key of keys) {
      this.keys++;
      await this.page.keyboard.press(key);
    }
  }

  async type(text: string): Promise<void> {
    this.letters += text.length;
    await this.page.keyboard.type(text);
  }

  /** Tab until something has the focus, by its name. */
  async tabTo(name: RegExp, back = false): Promise<void> {
    for (let step = 0; step < 120; step++) {
      const now = await this.page.evaluate(() => {
        const at = document.activeElement as HTMLInputElement | null;
        if (!at?.matches('a, button, input, select, textarea, [tabindex]')) return '';
        return at.getAttribute('aria-label') ?? at.labels?.[0]?.textContent ?? at.textContent ?? '';
      });
      if (name.test(now.trim())) return;
      await this.press(back ? 'Shift+Tab' : 'Tab');
    }
    throw new Error(`Tab does not come to ${name.source}.`);
  }

  /** A line of the command field. */
  async say(line: string): Promise<void> {
    await this.press('/');
    await this.type(line);
    await this.press('Enter');
    await expect(this.page.getByLabel('Command field')).toHaveValue('');
  }
}

test('five jobs are done without a mouse: a lab, a plan, a spec, a class of twelve, and handing in', async ({
  page,
  browser,
  server,
}) => {
  const steps: Record<string, { keys: number; letters: number }> = {};
  const job = async (name: string, on: Page, work: (keyboard: Keyboard) => Promise<void>): Promise<void> => {
    const keyboard = new Keyboard(on);
    await work(keyboard);
    steps[name] = { keys: keyboard.keys, letters: keyboard.letters };
  };
  const station = async (keyboard: Keyboard, name: string): Promise<void> => {
    await keyboard.press('F6');
    await keyboard.tabTo(new RegExp(`^${name}: `));
    await keyboard.press('Enter');
    await expect(page).toHaveTitle(new RegExp(`^${name}`));
  };

  await signIn(page, 'Maren Osterkamp');
  await page.goto('/');
  await page.getByText('Three Stations').first().waitFor();
  await job('a lab of ten devices', page, async (keyboard) => {
    await keyboard.tabTo(/^Add a lab$/);
    await keyboard.press('Enter');
    await keyboard.type('Ticket hall');
    await keyboard.press('Enter');
    await expect(page).toHaveTitle(/^Brief · Ticket hall/);
    await station(keyboard, 'Bench');
    await expect(page.getByLabel('Command field')).toBeVisible();
    // Past the head to the sheet.
    await keyboard.press('F6', 'F6');
    for (const line of ['router RT-1', 'switch 12 as SW-1', '6 desktops', 'server', 'printer', 'link RT-1 SW-1'])
      await keyboard.say(line);
    for (const name of ['PC-1', 'PC-2', 'PC-3', 'PC-4', 'PC-5', 'PC-6', 'SV-1', 'PR-1'])
      await keyboard.say(`link ${name} SW-1`);
    await keyboard.say('RT-1 10.84.1.1/26');
    for (const [at, name] of ['PC-1', 'PC-2', 'PC-3', 'PC-4', 'PC-5', 'PC-6', 'SV-1', 'PR-1'].entries())
      await keyboard.say(`${name} 10.84.1.${11 + at}/26`);
    await keyboard.say('arrange everything');
    await expect(page.getByText('No problems', { exact: true })).toBeVisible();
    await saved(page);
  });
  await page.reload();
  await expect(page.locator('.react-flow__node-tile')).toHaveCount(10);

  await job('a plan', page, async (keyboard) => {
    await station(keyboard, 'Plan');
    await keyboard.press('F6', 'F6');
    await keyboard.tabTo(/^Add the root block$/);
    await keyboard.press('Enter');
    await keyboard.type('10.84.0.0/22');
    await keyboard.press('Enter', 'Escape', 'd');
    await expect(page.getByRole('dialog')).toContainText('Nothing is left free');
    await keyboard.press('Enter');
    await expect(page.getByRole('treeitem')).toHaveCount(5);
    await keyboard.press('ArrowDown', 'F2');
    await keyboard.type('Ticket desks');
    await keyboard.press('Enter', 'Escape', 'n');
    await keyboard.type('PC-1');
    await keyboard.press('Enter');
    await saved(page);
  });
  await page.reload();
  await expect(page.getByRole('treeitem', { name: /^Ticket desks/ })).toBeVisible();

  await job('a spec', page, async (keyboard) => {
    await station(keyboard, 'Spec');
    await keyboard.tabTo(/^Add the first section$/);
    await keyboard.press('Enter');
    await keyboard.tabTo(/^Add a requirement$/);
    await keyboard.press('Enter');
    await keyboard.type('there are at least');
    await keyboard.press('Enter');
    await expect(page.locator('[data-requirement]')).toHaveCount(1);
    await keyboard.tabTo(/^Points of/);
    await keyboard.press('Control+a');
    await keyboard.type('4');
    await keyboard.press('Enter');
    await saved(page);
  });
  await page.reload();
  await expect(page.getByLabel(/^Points of/)).toHaveValue('4');

  const lab = await addressOf(page, 'Three Stations');
  await page.goto(`${lab}/class`);
  await page.getByRole('table', { name: 'Roster' }).waitFor();
  await job('a class of twelve', page, async (keyboard) => {
    await keyboard.tabTo(/^Jamila Conteh$/);
    await keyboard.press('Enter');
    for (let at = 1; at <= 12; at++) {
      await expect(page.getByText(`${at} of 12`)).toBeVisible();
      await expect(page.getByRole('region', { name: 'Evidence' })).toBeVisible();
      await keyboard.press('4', 'ArrowDown', 'ArrowUp');
      if (at < 12) await keyboard.press('j');
    }
  });

  const student = await (await browser.newContext({ baseURL: server })).newPage();
  await signIn(student, 'Bojana Ristić');
  await student.goto('/');
  await student.getByText('Valley Station LAN').first().waitFor();
  await job('handing in', student, async (keyboard) => {
    await keyboard.tabTo(/Valley Station LAN/);
    await keyboard.press('Enter');
    await expect(student.getByText('Handing in')).toBeVisible();
    await keyboard.tabTo(/^Open the bench$/);
    await keyboard.press('Enter');
    await student.getByLabel('Command field').waitFor();
    await keyboard.say('switch 12');
    await saved(student);
    await keyboard.tabTo(/^Tasks$/, true);
    await keyboard.press('Enter');
    await keyboard.tabTo(/^Hand in attempt/);
    await keyboard.press('Enter');
    await expect(student.getByRole('dialog')).toBeVisible();
    await keyboard.press('Enter');
    await expect(student.getByText(/Attempt \d is handed in/)).toBeVisible();
    await expect.poll(() => student.evaluate(() => document.activeElement === document.body)).toBe(false);
  });
  await student.close();
  // What it takes today; less is better, more is not taken.
  test.info().annotations.push({ type: 'steps', description: JSON.stringify(steps) });
  const sum = Object.values(steps).reduce((all, { keys }) => all + keys, 0);
  expect(sum).toBeLessThanOrEqual(360);
});

test('a class of twelve is decided by keyboard alone: two overrides, a pin, what is uncertain, and a comment', async ({
  page,
  browser,
  server,
}) => {
  await signIn(page, 'Maren Osterkamp');
  const lab = await addressOf(page, 'Three Stations');
  await page.goto(`${lab}/class`);
  await checkClass(page);
  const first = page.getByRole('table', { name: 'Roster' }).getByRole('link').first();
  await first.focus();
  await page.keyboard.press('Enter');
  const evidence = page.getByRole('region', { name: 'Evidence' });
  const given: string[] = [];
  let [pinned, unsure, commented] = ['', '', ''];
  const name = () => page.getByRole('heading', { level: 1 }).textContent();
  for (let at = 1; at <= 12; at++) {
    await expect(page.getByText(`${at} of 12`)).toBeVisible();
    await expect(evidence).toBeVisible();
    const isLost = /lost|not met/i.test((await evidence.textContent()) ?? '');
    if (isLost && given.length < 2) {
      await page.keyboard.press('e');
      await page.keyboard.press('Control+a');
      await page.keyboard.type('0.5');
      await page.keyboard.press('Tab');
      await page.keyboard.type('Showed it at the bench.');
      await page.keyboard.press('Enter');
      await expect(evidence).toContainText('gave 0.5 of');
      given.push((await name())!);
      if (!commented) {
        await page.keyboard.press('c');
        await page.keyboard.type('Which way does the answer take?');
        await page.keyboard.press('Control+Enter');
        await expect(evidence.getByRole('list', { name: 'Comments' })).toContainText('Which way does the answer take?');
        commented = (await name())!;
      }
    }
    if ((await name()) === 'Pilar Echeverría') {
      await page.keyboard.press('4');
      await expect(evidence).toContainText('Left to chance: proposed as lost.');
      await page.keyboard.press('n');
      await expect(evidence.getByRole('list', { name: 'Decisions' })).toContainText('decided “not met”');
      unsure = 'Pilar Echeverría';
    }
    if (at === 12) {
      await page.keyboard.press('w');
      const who = page.getByRole('combobox', { name: 'Plays TILL-1' });
      await expect(who).toBeVisible();
      await who.focus();
      await page.keyboard.press('ArrowDown');
      await expect(page.getByRole('button', { name: 'Let it be found who plays TILL-1' })).toBeVisible();
      pinned = (await name())!;
      await page.keyboard.press('Escape');
    } else await page.keyboard.press('j');
  }
  expect([given.length, pinned !== '', unsure]).toEqual([2, true, 'Pilar Echeverría']);
  // All of it is there after a reload, also for whoever the comment is for.
  await page.goto(`${lab}/class`);
  for (const student of given) {
    await page.getByRole('link', { name: student, exact: true }).press('Enter');
    await expect(evidence).toBeVisible();
    await expect(page.locator('[data-requirement]').filter({ hasText: 'decided by a person' }).first()).toBeVisible();
    await page.goBack();
  }
  await page.getByRole('link', { name: pinned, exact: true }).press('Enter');
  await expect(evidence).toBeVisible();
  await page.keyboard.press('w');
  await expect(page.getByRole('button', { name: 'Let it be found who plays TILL-1' })).toBeVisible();
  await page.getByRole('button', { name: 'Let it be found who plays TILL-1' }).press('Enter');
  await expect(page.getByRole('button', { name: 'Let it be found who plays TILL-1' })).toHaveCount(0);
  const student = await (await browser.newContext({ baseURL: server })).newPage();
  await signIn(student, commented);
  await student.goto(await addressOf(student, 'Three Stations'));
  await student.getByRole('link', { name: /^Attempt 1/ }).press('Enter');
  await expect(student.getByRole('region', { name: 'Comments' })).toContainText('Which way does the answer take?');
  await student.close();
});

test('links are chosen, bent and written on by keys, and a drawing is heard with its marks', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  await openBenchOfCopy(page, 'three-stations', 'Links by keys');
  const link = page.getByRole('button', { name: /^RT-V f1 to RT-M b1\/f0, single-mode fibre/ });
  await link.focus();
  await page.keyboard.press('ArrowRight');
  await expect(link).not.toBeFocused();
  await page.keyboard.press('ArrowLeft');
  await expect(link).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('complementary', { name: 'Inspector' })).toContainText('RT-V – RT-M');
  const bend = page.getByRole('button', { name: /^Bend 1 of 1/ });
  await page
    .getByRole('button', { name: /^Bend it here/ })
    .first()
    .focus();
  await page.keyboard.press('ArrowDown');
  await expect(bend).toBeFocused();
  for (let step = 0; step < 4; step++) await page.keyboard.press('ArrowDown');
  await saved(page);
  await page.reload();
  await link.focus();
  await page.keyboard.press('Enter');
  await bend.focus();
  await page.keyboard.press('Delete');
  await expect(bend).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(bend).toHaveCount(1);
  const text = page.getByRole('button', { name: /^Text “f1/ });
  const before = (await text.boundingBox())!.y;
  await text.focus();
  for (let step = 0; step < 3; step++) await page.keyboard.press('ArrowDown');
  await expect.poll(async () => (await text.boundingBox())!.y).toBeGreaterThan(before + 5);
  await saved(page);

  await page.goto(`${await addressOf(page, 'Three Stations')}/class`);
  await page.getByRole('link', { name: 'Jamila Conteh' }).press('Enter');
  await expect(page.getByRole('region', { name: 'Evidence' })).toBeVisible();
  await expect(page).toHaveTitle(/^Jamila Conteh · Check · Three Stations/);
  const lost = page.locator('.react-flow__node-tile[aria-label^="TILL-1, lost: TILL-1 → SHOP"]');
  await expect(lost).toHaveAttribute('aria-roledescription', 'device');
  // Where one only looks, nothing is said of moving or removing.
  const described = await lost.getAttribute('aria-describedby');
  expect((await page.locator(`[id="${described}"]`).textContent())?.trim()).toBe('');
});

test('rules of a filter are put in order by keys; what is moved keeps the focus and says where it is', async ({
  page,
}) => {
  await signIn(page, 'Maren Osterkamp');
  await openBenchOfCopy(page, 'winch-isolation', 'Rules by keys');
  await page.keyboard.press('/');
  await page.keyboard.type('RT-M');
  await page.keyboard.press('Enter');
  const group = page.getByRole('group', { name: 'Filter GUESTS' });
  const decisions = (): Promise<string[]> =>
    group.getByLabel(/: decision$/).evaluateAll((all) => all.map((each) => (each as HTMLSelectElement).value));
  await expect.poll(decisions).toEqual(['permit', 'deny', 'permit']);
  const heard = group.locator('[id^="DndLiveRegion"]');
  await page.getByRole('button', { name: 'Move GUESTS rule 2', exact: true }).focus();
  await page.keyboard.press('Space');
  await expect(heard).toContainText('GUESTS rule 2');
  // On a slow machine the list is measured only after a while, and an arrow before that moves nothing.
  const move = (key: string, place: string): Promise<void> =>
    expect(async () => {
      await page.keyboard.press(key);
      await expect(heard).toContainText(place, { timeout: 1500 });
    }).toPass();
  await move('ArrowUp', 'GUESTS rule 2 would be at place 1 of 3.');
  await page.keyboard.press('Space');
  await expect.poll(decisions).toEqual(['deny', 'permit', 'permit']);
  await expect(page.getByRole('button', { name: 'Move GUESTS rule 1', exact: true })).toBeFocused();
  // Left in the middle of it, nothing moves.
  await page.keyboard.press('Space');
  await expect(heard).toContainText('GUESTS rule 1');
  await move('ArrowDown', 'place 3 of 3');
  await page.keyboard.press('Escape');
  await expect.poll(decisions).toEqual(['deny', 'permit', 'permit']);
  await expect(page.getByRole('button', { name: 'Move GUESTS rule 1', exact: true })).toBeFocused();
  await saved(page);
  await page.reload();
  await page.locator('.react-flow__node-tile').first().waitFor();
  await page.keyboard.press('/');
  await page.keyboard.type('RT-M');
  await page.keyboard.press('Enter');
  await expect.poll(decisions).toEqual(['deny', 'permit', 'permit']);
});
