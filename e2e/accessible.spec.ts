import AxeBuilder from '@axe-core/playwright';
import { type Browser, type Page } from '@playwright/test';
import { addressOf, choose, chooseOwn, expect, openLab, signIn, test } from './people';

/** Visible words stand in names (2.5.3): the rule is not on by itself. */
const LABELS = { 'label-content-name-mismatch': { enabled: true } };
/** Of a whole page: headings in order, and parts that are named once. */
const PARTS = {
  'heading-order': { enabled: true },
  'page-has-heading-one': { enabled: true },
  'landmark-unique': { enabled: true },
  'landmark-one-main': { enabled: true },
};
const TAGS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'];
/** The rules whose answer hangs on colours: all others say the same in both themes. */
const OF_COLOURS = ['color-contrast', 'link-in-text-block'];

/** `part` is what came since the page around it was looked at; absent for the whole page. */
async function violationsNow(page: Page, part?: string, only?: readonly string[]): Promise<string[]> {
  // What passes is not told, and no page of its own is opened to put frames together: there are none.
  // Axe is half a megabyte to compile: a page that has it keeps it.
  const axeSource = (await page.evaluate(() => 'axe' in window)) ? ';' : undefined;
  const axe = new AxeBuilder({ page, axeSource })
    .options({ resultTypes: ['violations'], rules: part ? LABELS : { ...LABELS, ...PARTS } })
    .setLegacyMode();
  if (part) axe.include(part);
  const { violations: found } = await (only ? axe.withRules([...only]) : axe.withTags(TAGS)).analyze();
  // What the edge of the page cuts off at this moment is as large as it is once it is scrolled into sight.
  for (const result of found)
    if (result.id === 'target-size') {
      const small: typeof result.nodes = [];
      for (const node of result.nodes) if (await isSmall(page, node.target)) small.push(node);
      result.nodes = small;
    }
  return found.flatMap((result) =>
    // A line of a tree is called by the words it begins with; the rest are cells. A block too narrow for a finger in
    // the map has its line in the tree (2.5.8, equivalent).
    result.nodes
      .filter(
        ({ html }) =>
          !(result.id in LABELS && html.includes('role="treeitem"')) &&
          !(result.id === 'target-size' && html.includes('map-cell')),
      )
      .map((node) => `${result.id}: ${node.target.join(' ')} ${node.failureSummary ?? ''}`),
  );
}

async function isSmall(page: Page, [selector]: readonly unknown[]): Promise<boolean> {
  if (typeof selector !== 'string') return true;
  await page.locator(selector).evaluate((element) => element.scrollIntoView({ block: 'center' }));
  const again = new AxeBuilder({ page, axeSource: ';' }).setLegacyMode().include(selector).withRules(['target-size']);
  return (await again.analyze()).violations.length > 0;
}

/** What a person chose at a narrow page, a page at 200 %, and a telephone (WCAG 1.4.4, 1.4.10), besides the usual window. */
const SIZES = [
  [800, 1000],
  [640, 400],
  [390, 844],
  [320, 256],
  [1280, 800],
] as const;

/** Letters, words and lines as far apart as a person may have them (WCAG 1.4.12). */
const APART = `* { letter-spacing: .12em !important; word-spacing: .16em !important; line-height: 1.5 !important } p { margin-bottom: 2em !important }`;

/** What does not fit: a page that scrolls sideways, what lies outside of it, and words that are cut away. */
const misfits = (page: Page): Promise<string[]> =>
  page.evaluate(() => {
    const { clientWidth: room, scrollWidth } = document.documentElement;
    const of = (element: Element): string =>
      `${element.tagName.toLowerCase()} ${element.getAttribute('aria-label') ?? ''} “${(element.textContent ?? '').trim().slice(0, 40)}”`;
    const found = scrollWidth > room ? [`the page is ${scrollWidth} wide in ${room}`] : [];
    const scrolls = (element: Element): boolean => /auto|scroll/.test(getComputedStyle(element).overflowX);
    const isInScroller = (element: Element): boolean => {
      for (let up = element.parentElement; up && up !== document.body; up = up.parentElement)
        if (scrolls(up)) return true;
      return false;
    };
    for (const element of document.querySelectorAll<HTMLElement>('body *')) {
      // A drawing is moved by hand, and what is only heard has no place.
      if (element.closest('.drawing, svg, [data-announcer], .skip, [aria-hidden=true]')) continue;
      const { right, left, width, height } = element.getBoundingClientRect();
      if (!width || !height) continue;
      if ((right > room + 1 || left < -1) && !isInScroller(element)) found.push(`outside: ${of(element)}`);
      if (!element.matches('h1, h2, h3, button, label, legend, td, th, dt, dd, p')) continue;
      const { overflow, textOverflow, webkitLineClamp } = getComputedStyle(element);
      const isCut = element.scrollHeight > element.clientHeight + 3 || element.scrollWidth > element.clientWidth + 1;
      if (isCut && /hidden|clip/.test(overflow) && textOverflow !== 'ellipsis' && webkitLineClamp === 'none')
        found.push(`cut: ${of(element)}`);
    }
    return found.slice(0, 8);
  });

/** What a page breaks at all sizes, also with its letters apart. */
async function misfitsOfAllSizes(page: Page, part?: string): Promise<string[]> {
  const found: string[] = [];
  for (const [width, height] of SIZES) {
    await page.setViewportSize({ width, height });
    await settled(page);
    await page.evaluate((rules) => {
      const sheet = new CSSStyleSheet();
      sheet.replaceSync(rules);
      document.adoptedStyleSheets = [sheet];
    }, APART);
    // What has room with its letters apart has it as it is.
    found.push(...(await misfits(page)).map((each) => `${width} × ${height}, apart: ${each}`));
    await page.evaluate(() => void (document.adoptedStyleSheets = []));
    // What stands beneath on a telephone, or in a menu, is looked at there as well.
    if (part === undefined && width === 390) {
      // As high as the page: what lies beneath the rail just now is no smaller for it.
      await page.setViewportSize({ width, height: 3000 });
      await settled(page);
      found.push(...(await violationsNow(page)));
    }
  }
  return found;
}

const settled = (page: Page): Promise<unknown> =>
  page.evaluate(async () => {
    await new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)));
    await Promise.all(
      document
        .getAnimations()
        .filter(({ effect }) => effect?.getComputedTiming().endTime !== Infinity)
        .map(({ finished }) => finished.catch(() => null)),
    );
  });

/** What a view breaks in either theme; a whole page also at every size, and with colours of the system's own. */
async function violations(page: Page, part?: string): Promise<string[]> {
  const found = await violationsNow(page, part);
  await page.emulateMedia({ colorScheme: 'dark' });
  await settled(page);
  found.push(...(await violationsNow(page, part, OF_COLOURS)));
  await page.emulateMedia({ colorScheme: 'light' });
  found.push(...(await misfitsOfAllSizes(page, part)));
  if (part) return found;
  expect(await page.title(), 'the title of the page').not.toBe('Sobrin');
  await page.emulateMedia({ forcedColors: 'active' });
  found.push(...(await indistinct(page)));
  await page.emulateMedia({ forcedColors: 'none' });
  return found;
}

/** What is chosen or on and looks like what is not, where the system chooses the colours. */
const indistinct = (page: Page): Promise<string[]> =>
  page.evaluate(() =>
    [
      ...document.querySelectorAll(
        '[aria-pressed=true], [aria-selected=true], [aria-current=page], [aria-current=true]',
      ),
    ]
      .filter((element) => element.getClientRects().length && !element.closest('svg'))
      .filter((element) => getComputedStyle(element).outlineStyle === 'none')
      .map((element) => `like what is not chosen: ${element.textContent}`)
      // And what only is open has no line of what is chosen.
      .concat(
        [...document.querySelectorAll('[role=treeitem][aria-selected=false]')]
          .filter((element) => getComputedStyle(element).outlineStyle !== 'none')
          .map((element) => `like what is chosen: ${element.textContent}`),
      ),
  );

const DIALOG = '[role=dialog]';

/** What is opened from the Bench, among it the page that a drawing is shown on without signing in. */
async function dialogsOfTheBench(page: Page, browser: Browser): Promise<void> {
  const dialog = page.getByRole('dialog');
  await choose(page, 'Begin from another lab');
  await dialog.getByRole('radio', { name: /Season Opening/ }).check();
  expect(await violations(page, DIALOG), 'begin from another lab').toEqual([]);
  await choose(page, 'Show it without signing in');
  await dialog.getByRole('button', { name: 'Make an address' }).click();
  const address = await dialog.getByLabel('Address').inputValue();
  expect(await violations(page, DIALOG), 'show it without signing in').toEqual([]);
  for (const colorScheme of ['light', 'dark'] as const) {
    const there = await browser.newPage({ colorScheme });
    await there.goto(address);
    await there.locator('.react-flow__node').first().waitFor();
    expect(await violationsNow(there), `a shown drawing, ${colorScheme}`).toEqual([]);
    await there.close();
  }
  await dialog.getByRole('button', { name: 'Take the address back' }).click();
  await expect(dialog).toContainText('It is not shown');
  await expect(dialog.getByRole('button', { name: 'Make an address' })).toBeFocused();
  await choose(page, 'Who reaches whom');
  await dialog.getByRole('application').waitFor();
  expect(await violations(page, DIALOG), 'reach grid').toEqual([]);
  await dialog.getByRole('tab', { name: 'What if one fails' }).click();
  await dialog.getByText(/devices and links cut somebody off/).waitFor({ timeout: 60_000 });
  expect(await violations(page, DIALOG), 'single failures').toEqual([]);
  await page.keyboard.press('Escape');
  await page.locator('.react-flow__node-tile', { hasText: 'RT-M' }).click();
  await page.keyboard.press('k');
  await page.getByRole('complementary', { name: 'Tables' }).waitFor();
  expect(await violations(page, '[aria-label=Tables]'), 'tables of a device').toEqual([]);
  await page.keyboard.press('Escape');
  await page.keyboard.press('/');
  await page.keyboard.type('trace DESK-1 CAM-1');
  await page.keyboard.press('Enter');
  await page.getByRole('region', { name: 'On the wire' }).or(page.getByText('reached, and')).first().waitFor();
  for (let step = 0; step < 9; step++) await page.keyboard.press('ArrowUp');
  await page.getByRole('region', { name: 'On the wire' }).getByRole('button').first().click();
  expect(await violations(page), 'trace').toEqual([]);
  await page.getByRole('button', { name: 'Close the trace' }).click();
}

test.describe.configure({ mode: 'parallel' });
test('signing in has no accessibility violations', async ({ page }) => {
  await page.goto('/sign-in');
  await expect(page.getByText('Look round in the demo')).toBeVisible();
  expect(await violations(page)).toEqual([]);
});

/** Opens a station of Three Stations as its instructor. */
async function openStation(page: Page, station: string, ready: string): Promise<void> {
  await signIn(page, 'Maren Osterkamp');
  const lab = await addressOf(page, 'Three Stations');
  await page.goto(`${lab}/${station}`);
  await page.locator(ready).first().waitFor();
}

test('home, jobs and the people of a course have no accessibility violations in either theme', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  await page.goto('/jobs');
  await expect(page.getByRole('region', { name: 'Checks' })).toBeVisible();
  expect(await violations(page)).toEqual([]);
  await page.goto('/');
  await expect(page.getByText('Three Stations').first()).toBeVisible();
  expect(await violations(page)).toEqual([]);
  await page.getByRole('button', { name: 'From your library' }).first().click();
  await expect(page.getByRole('button', { name: 'Give the lab Three Stations' })).toBeVisible();
  expect(await violations(page, DIALOG)).toEqual([]);
  await page.keyboard.press('Escape');
  await page.getByRole('link', { name: 'People' }).first().click();
  await expect(page.getByRole('table', { name: 'People of the course' })).toBeVisible();
  expect(await violations(page)).toEqual([]);
  await page.getByRole('button', { name: 'Change Zofia Wrona' }).click();
  await page.getByRole('dialog').waitFor();
  expect(await violations(page, DIALOG)).toEqual([]);
  await page.keyboard.press('Escape');
  await chooseOwn(page, 'Second factor…');
  await page.getByLabel('Your password', { exact: true }).waitFor();
  expect(await violations(page, DIALOG)).toEqual([]);
});

for (const [station, ready] of [
  ['brief', 'text=Rules of the lab'],
  ['spec', '[data-requirement]'],
] as const)
  test(`the ${station} has no accessibility violations in either theme`, async ({ page }) => {
    await openStation(page, station, ready);
    expect(await violations(page)).toEqual([]);
    if (station !== 'spec') return;
    await page.goto(`${await addressOf(page, 'Valley Station LAN')}/spec`);
    await expect(page.locator('[data-requirement]').first()).toBeVisible();
    await page.keyboard.press('d');
    await expect(page.getByRole('complementary', { name: 'Draft' }).getByRole('checkbox').first()).toBeVisible();
    expect(await violations(page), 'draft').toEqual([]);
    await page.getByRole('button', { name: /^Text/ }).click();
    await expect(page.getByRole('textbox', { name: 'Text of the spec' })).toContainText('sections');
    expect(await violations(page), 'text').toEqual([]);
  });

test('a drill has no accessibility violations in either theme', async ({ page }) => {
  await signIn(page, 'Maren Osterkamp');
  await page.goto(`${await addressOf(page, 'Valley Station LAN')}/spec/drill`);
  await page.getByRole('button', { name: 'Drill the spec' }).first().click();
  await expect(page.getByRole('complementary', { name: 'Score' })).toBeVisible({ timeout: 120_000 });
  expect(await violations(page)).toEqual([]);
});

test('the bench has no accessibility violations in either theme', async ({ page, browser }) => {
  await openStation(page, 'bench', '.tile');
  await page.locator('.react-flow__node-tile', { hasText: 'RT-M' }).click();
  expect(await violations(page)).toEqual([]);
  await dialogsOfTheBench(page, browser);
});

test('the plan and its dialogs have no accessibility violations in either theme', async ({ page }) => {
  await openStation(page, 'plan', '[role=treeitem]');
  await page.getByRole('treeitem', { name: /^cameras/ }).click();
  expect(await violations(page)).toEqual([]);
  for (const [key, ready] of [
    ['d', 'textbox'],
    ['p', 'textbox'],
    ['w', 'listitem'],
  ] as const) {
    await page.getByRole('tree').focus();
    await page.keyboard.press(key);
    await page.getByRole('dialog').getByRole(ready).first().waitFor();
    expect(await violations(page, DIALOG), `plan ${key}`).toEqual([]);
    await page.keyboard.press('Escape');
    await expect(page.getByRole('dialog')).toBeHidden();
  }
});

test('the class, checks of a drawing and of a plan, and results have no accessibility violations in either theme', async ({
  page,
}) => {
  await openStation(page, 'class', 'table');
  expect(await violations(page), 'class').toEqual([]);
  await page.getByRole('link', { name: 'Jamila Conteh' }).click();
  await expect(page.getByRole('region', { name: 'Evidence' })).toBeVisible();
  expect(await violations(page), 'check').toEqual([]);
  await expect(page.getByRole('region', { name: 'Causes' }).getByRole('button').first()).toBeVisible();
  await page.keyboard.press('a');
  await expect(page.getByRole('region', { name: 'Cause A' })).toBeVisible();
  await page.keyboard.press('y');
  expect(await violations(page), 'a cause').toEqual([]);
  await page.goto(page.url().replace(/\/labs\/([^/]+)\/.*$/, '/labs/$1/results'));
  await expect(page.getByRole('table')).toBeVisible();
  await expect(page.getByRole('region', { name: 'Causes in common' })).toBeVisible();
  expect(await violations(page), 'results').toEqual([]);
  const opening = await addressOf(page, 'Season Opening');
  await page.goto(`${opening}/class`);
  await page.getByRole('link', { name: 'Hoang Minh Thu' }).click();
  await expect(page.getByRole('treeitem').first()).toBeVisible();
  expect(await violations(page), 'check of a plan').toEqual([]);
});

test('the student’s views have no accessibility violations', async ({ page }) => {
  await signIn(page, 'Jamila Conteh');
  await openLab(page, 'Three Stations');
  await expect(page.getByText('Handing in')).toBeVisible();
  expect(await violations(page), 'lab').toEqual([]);
  await page.getByRole('link', { name: 'Open the bench' }).click();
  await expect(page.getByRole('toolbar', { name: 'Bench' })).toBeVisible();
  expect(await violations(page), 'bench').toEqual([]);
  await page.keyboard.press('a');
  await expect(page.getByRole('dialog')).toBeVisible();
  expect(await violations(page, DIALOG), 'kit').toEqual([]);
  await page.keyboard.press('Escape');
  await page.getByRole('link', { name: 'Tasks' }).click();
  await page.getByRole('link', { name: /^Attempt 1/ }).click();
  await expect(page.getByRole('heading', { name: 'Attempt 1' })).toBeVisible();
  expect(await violations(page), 'attempt').toEqual([]);
});
