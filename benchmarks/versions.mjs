/* global document, innerHeight -- in functions that run in the page */
// 200 versions of a drawing with 1,000 devices, through the page: listing, comparing and going back, beside what it takes
// to read and write the same drawing as plain JSON.
import { signIn, withDemo } from '../scripts/lib/demo-browser.mjs';
import { campus } from './campus.mjs';

const VERSIONS = 200;
/** Saves between two versions. */
const SAVES = 3;

export async function benchVersions(say) {
  await withDemo(async ({ browser, base }) => {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await signIn(page, base, 'Maren Osterkamp');
    const [lab, plain] = await page.evaluate(
      async ([reference, versions, saves]) => {
        const send = async (path, body) => {
          const headers = { 'content-type': 'application/json', 'x-sobrin-request': '1' };
          const answer = await fetch(`/api/${path}`, { method: 'POST', headers, body: JSON.stringify(body) });
          if (!answer.ok) throw new Error(`${path}: ${await answer.text()}`);
          return answer.status === 204 ? null : answer.json();
        };
        const [course] = await (await fetch('/api/courses')).json();
        const file = { format: 'sobrin-lab', version: 2, title: 'Large', brief: {}, tasks: [], policy: {}, reference };
        const plan = { blocks: {} };
        const spec = { groups: {}, sections: [] };
        const text = JSON.stringify({ ...file, plan, spec });
        const { id } = await send(`courses/${course.id}/labs/import`, { text });
        const { referenceId } = await (await fetch(`/api/labs/${id}`)).json();
        const names = Object.keys(reference.devices);
        let { revision } = await (await fetch(`/api/documents/${referenceId}`)).json();
        for (let version = 0; version < versions; version++) {
          for (let save = 0; save < saves; save++) {
            const moved = names.slice((version * 4 + save) % 900).slice(0, 20);
            const commands = [
              { kind: 'setDevice', id: names[version * saves + save], set: { name: `V${version}-${save}` } },
              { kind: 'move', to: Object.fromEntries(moved.map((id, at) => [id, { x: version * 10, y: at * 90 }])) },
            ];
            const body = { save: crypto.randomUUID(), base: revision, commands };
            ({ revision } = await send(`documents/${referenceId}/changes`, body));
          }
          await send(`documents/${referenceId}/versions`, { revision, name: `Version ${version + 1}` });
        }
        const start = performance.now();
        await (await fetch(`/api/documents/${referenceId}`, { cache: 'no-store' })).json();
        return [id, performance.now() - start];
      },
      [campus(), VERSIONS, SAVES],
    );
    const timed = async (name, run) => {
      await page.waitForTimeout(1000);
      const start = performance.now();
      await run();
      const ms = performance.now() - start;
      say(`  ${name.padEnd(36)} ${ms.toFixed(0)} ms, ${(ms / plain).toFixed(1)} times reading the drawing as it is`);
    };
    await page.goto(`${base}/labs/${lab}/bench`);
    await page.locator('.react-flow__node').first().waitFor({ timeout: 120_000 });
    await page.waitForTimeout(3000);
    await page.keyboard.press('/');
    await page.keyboard.type('Versions');
    const dialog = page.getByRole('dialog');
    /** Looks at each frame: locators look again less and less often. */
    const written = (text) =>
      page.waitForFunction((told) => document.querySelector('[role=dialog]')?.textContent.includes(told), text);
    await timed('open the list of versions', async () => {
      await page.keyboard.press('Enter');
      await written('Version 200');
    });
    const oldest = dialog.getByRole('option').last();
    await timed('see the oldest, compared with now', async () => {
      await oldest.click();
      await written('Version 1. Since then:');
    });
    await timed('see another', async () => {
      await dialog.getByRole('option', { name: 'Version 100' }).click();
      await written('Version 100. Since then:');
    });
    await timed('a picture of every version in sight', () =>
      page.waitForFunction(
        () => {
          const near = [...document.querySelectorAll('[role=option] img')].filter(
            (element) => element.getBoundingClientRect().top < innerHeight,
          );
          return near.length > 3 && near.every((element) => element.complete && element.naturalWidth > 0);
        },
        null,
        { timeout: 60_000 },
      ),
    );
    await timed('go back to it, seen and saved', async () => {
      const saved = page.waitForResponse((response) => response.url().endsWith('/changes') && response.ok());
      await dialog.getByRole('button', { name: 'Go back to this version' }).click();
      await Promise.all([dialog.waitFor({ state: 'detached' }), saved]);
    });
  });
}
