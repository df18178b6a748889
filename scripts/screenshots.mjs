// npm run screenshots: takes the pictures of docs/screenshots anew, from a fresh database with the demo.
import { mkdirSync } from 'node:fs';
import path from 'node:path';
import { signIn, withDemo } from './lib/demo-browser.mjs';
import { root } from './lib/root.mjs';
import { say } from './lib/say.mjs';

const out = path.join(root, 'docs', 'screenshots');
mkdirSync(out, { recursive: true });
await withDemo(takeAll);

async function pageOf(browser, colorScheme) {
  const context = await browser.newContext({
    viewport: { width: 1280, height: 800 },
    colorScheme,
    locale: 'en-GB',
    timezoneId: 'UTC',
  });
  return context.newPage();
}

async function takeAll({ browser, base }) {
  const page = await pageOf(browser, 'light');
  const shot = async (name, on = page) => {
    await on.waitForTimeout(900); // pictures of a page at rest
    await on.mouse.move(4, 400);
    await on.screenshot({ path: path.join(out, `${name}.png`) });
    say(`docs/screenshots/${name}.png`);
  };
  const labOf = async (on, title) => {
    await on.goto(`${base}/`);
    await on.getByRole('link', { name: title }).first().click();
    await on.waitForURL(/\/labs\//);
    return /^.*\/labs\/[^/]+/.exec(on.url())[0];
  };
  const tile = (on, name) => on.locator('.react-flow__node-tile').filter({ has: on.getByText(name, { exact: true }) });

  await page.goto(`${base}/sign-in`);
  await page.getByText('Look round in the demo').waitFor();
  await shot('sign-in');
  await signIn(page, base, 'Maren Osterkamp');
  const lab = await labOf(page, 'Three Stations');
  const opening = await labOf(page, 'Season Opening');
  await page.goto(`${opening}/brief`);
  await page.getByText('Rules of the lab').waitFor();
  await shot('brief');
  await page.goto(`${opening}/plan`);
  await page.getByRole('treeitem', { name: /^Ticket desks/ }).click();
  await shot('plan');
  await page.goto(`${opening}/class`);
  await page.getByRole('link', { name: 'Hoang Minh Thu' }).click();
  await page.getByRole('treeitem').first().waitFor();
  await shot('check-plan');
  await page.goto(`${lab}/bench`);
  await page.locator('.tile').first().waitFor();
  await shot('bench');
  await page.getByRole('button', { name: /^Links/ }).click();
  await tile(page, 'RT-M').click();
  await shot('bench-inspector');
  await page.keyboard.press('Escape');
  await page.keyboard.press('/');
  await page.keyboard.type('trace DESK-1 CAM-1');
  await page.keyboard.press('Enter');
  await page.getByRole('complementary', { name: 'Trace' }).waitFor();
  await page.getByRole('button', { name: 'Close the strip' }).click();
  await page.getByRole('button', { name: 'Show all' }).click();
  await page.getByRole('listbox', { name: 'Steps of the packet' }).focus();
  for (let step = 0; step < 1; step++) await page.keyboard.press('ArrowUp');
  await page.getByRole('region', { name: 'On the wire' }).getByRole('button').last().click();
  await shot('bench-trace');
  await page.getByRole('button', { name: 'Close the trace' }).click();
  await page.keyboard.press('m');
  await page.getByRole('combobox', { name: 'Switched off for the moment' }).fill('SW-M2');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await page.getByText('cells are other than before').waitFor();
  await shot('reach-grid');
  await page.goto(`${lab}/spec`);
  await page.getByText(/The reference earns/).waitFor();
  await page.keyboard.press('d');
  await page.getByRole('complementary', { name: 'Draft' }).getByRole('checkbox').first().waitFor({ timeout: 120_000 });
  await shot('spec');
  await page.goto(`${lab}/spec/drill`);
  await page.getByRole('button', { name: 'Drill the spec' }).first().click();
  await page.getByRole('complementary', { name: 'Score' }).waitFor({ timeout: 180_000 });
  await shot('drill');
  for (const title of ['Valley Station LAN', 'Three Stations']) {
    await page.goto(`${await labOf(page, title)}/class`);
    await page.getByRole('button', { name: /^Check \d+/ }).click();
    await page.getByRole('button', { name: 'All checked' }).waitFor({ timeout: 120_000 });
  }
  await shot('class');
  await page.getByRole('link', { name: 'Jamila Conteh' }).click();
  await page.getByRole('region', { name: 'Causes' }).getByRole('button').first().waitFor();
  await page.keyboard.press('a');
  await page.getByRole('region', { name: 'Cause A' }).waitFor();
  await shot('check');
  await page.goto(`${lab}/results`);
  await page.getByRole('table').waitFor();
  await page.getByRole('button', { name: /^Look for them/ }).click();
  await page.getByText('of 12 checked').waitFor({ timeout: 120_000 });
  await shot('results');
  await page.goto(`${base}/`);
  await page.getByText('Networks 1').waitFor();
  await shot('home');
  await page.getByRole('link', { name: 'People' }).click();
  await page.getByRole('table', { name: 'People of the course' }).waitFor();
  await shot('course');

  const dark = await pageOf(browser, 'dark');
  await signIn(dark, base, 'Maren Osterkamp');
  await dark.goto(`${lab}/class`);
  await dark.getByRole('link', { name: 'Yrsa Dahlgaard' }).click();
  await dark.getByRole('region', { name: 'Evidence' }).waitFor();
  await dark.keyboard.press('r');
  await shot('check-dark', dark);

  await dark.goto(`${lab}/bench`);
  await dark.locator('.tile').first().waitFor();
  await dark.keyboard.press('t');
  await dark.getByText('The drawing follows the text').waitFor();
  await shot('text-dark', dark);

  const student = await pageOf(browser, 'light');
  await signIn(student, base, 'Ilse Haverkamp');
  await labOf(student, 'Valley Station LAN');
  await student.getByText('Handing in').waitFor();
  await shot('student-lab', student);
  await student.getByRole('link', { name: 'Open the bench' }).click();
  await student.getByRole('toolbar', { name: 'Bench' }).waitFor();
  await student.locator('.tile').first().waitFor();
  await shot('student-bench', student);
}
