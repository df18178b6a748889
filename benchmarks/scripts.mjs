// What opening each page loads of script, compressed, in kB of 1,000 bytes. The Bench is to stay within its bound.
import { signIn, withDemo } from '../scripts/lib/demo-browser.mjs';

const BENCH_AT_MOST = 400;
const PAGES = ['brief', 'plan', 'bench', 'spec', 'class', 'results'];

export async function benchScripts(say, { list = false } = {}) {
  await withDemo(async ({ browser, base }) => {
    const page = await browser.newPage();
    await signIn(page, base, 'Maren Osterkamp');
    await page.getByRole('link', { name: 'Three Stations' }).first().click();
    await page.waitForURL(/\/labs\//);
    const [lab] = /^.*\/labs\/[^/]+/.exec(page.url());
    const { cookies } = await page.context().storageState();
    await page.close();
    for (const stop of PAGES) {
      const context = await browser.newContext();
      await context.addCookies(cookies);
      const opened = await context.newPage();
      const loaded = new Map();
      const network = await context.newCDPSession(opened);
      await network.send('Network.enable');
      const names = new Map();
      network.on('Network.responseReceived', ({ requestId, response, type }) => {
        if (type === 'Script') names.set(requestId, [response.url.split('/').at(-1), response.encodedDataLength]);
      });
      network.on('Network.loadingFinished', ({ requestId, encodedDataLength }) => {
        const [name, headers] = names.get(requestId) ?? [];
        if (name) loaded.set(name, encodedDataLength - headers);
      });
      await opened.goto(`${lab}/${stop}`, { waitUntil: 'networkidle' });
      const total = [...loaded.values()].reduce((sum, bytes) => sum + bytes, 0) / 1000;
      const verdict =
        stop === 'bench' ? (total <= BENCH_AT_MOST ? `, within ${BENCH_AT_MOST}` : `, MORE than ${BENCH_AT_MOST}`) : '';
      say(`  ${stop.padEnd(8)} ${total.toFixed(0).padStart(4)} kB in ${loaded.size} scripts${verdict}`);
      if (list && stop === 'bench')
        for (const [name, bytes] of [...loaded].sort((a, b) => b[1] - a[1]))
          say(`      ${name} ${(bytes / 1000).toFixed(1)}`);
      await context.close();
    }
  });
}
