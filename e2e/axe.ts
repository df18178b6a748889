import AxeBuilder from '@axe-core/playwright';
import { type Page } from '@playwright/test';
import { expect } from './people';

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
export async function violationsNow(page: Page, part?: string, only?: readonly string[]): Promise<string[]> {
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
export async function violations(page: Page, part?: string): Promise<string[]> {
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
