import { chooseFile, expect, json, openLab, signIn, test } from './people';

const topology = (more: object) =>
  JSON.stringify({ format: 'sobrin-topology', version: 1, sites: {}, devices: {}, links: {}, ...more });
const pc = (name: string) => ({ name, model: 'desktop', at: { x: 0, y: 0 } });

const FILES: [string, string, RegExp][] = [
  ['broken JSON', '{"format": "sobrin-topology",\n}', /line 2, column/],
  ['a wrong version', topology({ version: 9 }), /Version 9/],
  ['an unknown model', topology({ devices: { a: { ...pc('A'), model: 'toaster' } } }), /devices › a › model.*toaster/],
  [
    'a double id',
    '{"format":"sobrin-topology","version":1,"sites":{},"links":{},"devices":{"a":{},"a":{}}}',
    /"a" is there twice/,
  ],
  [
    'a link to a missing port',
    topology({
      devices: { a: pc('A'), b: pc('B') },
      links: { l: { a: { device: 'a', port: 'z9' }, b: { device: 'b', port: 'e0' }, medium: 'straight' } },
    }),
    /has no port "z9"/,
  ],
  ['3 MB', topology({ legend: 'x'.repeat(3_000_000) }), /3\.0 MB: at most 2\.0 MB/],
  [
    '5,001 devices',
    topology({ devices: Object.fromEntries(Array.from({ length: 5001 }, (_one, at) => [`d${at}`, pc(`D${at}`)])) }),
    /5001 devices: at most 5000/,
  ],
  ['12 MB', 'x'.repeat(12_000_000), /12\.0 MB: at most 10 MB/],
];

test('files that cannot be taken are refused with a sentence that names the place, and the drawing stays', async ({
  page,
}) => {
  await signIn(page, 'Ilse Haverkamp');
  await openLab(page, 'Valley Station LAN');
  const panel = page.getByRole('region', { name: 'Your drawing' });
  await expect(panel).toContainText('13 devices');
  for (const [what, text, wanted] of FILES) {
    await chooseFile(page, () => panel.getByRole('button', { name: 'Upload a file' }).click(), json('bad.json', text));
    await expect(panel.getByRole('alert'), what).toContainText(wanted);
    // Nobody is asked to replace a drawing by what cannot be taken.
    await expect(page.getByRole('dialog'), what).toHaveCount(0);
    await expect(panel).toContainText('13 devices');
  }
  await page.reload();
  await expect(panel).toContainText('13 devices');
});

test('names with HTML in them are shown as the text they are', async ({ page }) => {
  await signIn(page, 'Dilnoza Yusupova');
  await openLab(page, 'Three Stations');
  await chooseFile(
    page,
    () => page.getByRole('button', { name: 'Upload a file' }).click(),
    json('html.json', topology({ devices: { a: pc('<img src=x onerror=alert(1)>') } })),
  );
  await page.getByRole('link', { name: 'Open the bench' }).click();
  await expect(page.locator('.tile')).toContainText('<img src=x onerror=alert(1)>');
  await expect(page.locator('.tile img')).toHaveCount(0);
});
