// The Plan page with 500 subnets and 20,000 addresses: the longest time in which the page did not answer, for each thing done.
import { signIn, withDemo } from '../scripts/lib/demo-browser.mjs';
import { largePlan } from './plan.mjs';

export async function benchPlanPage(say) {
  await withDemo(async ({ browser, base }) => {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.addInitScript(() => {
      globalThis.longest = 0;
      new PerformanceObserver((list) => {
        for (const entry of list.getEntries()) globalThis.longest = Math.max(globalThis.longest, entry.duration);
      }).observe({ entryTypes: ['longtask'] });
    });
    await signIn(page, base, 'Maren Osterkamp');
    const lab = await page.evaluate(async (plan) => {
      const headers = { 'content-type': 'application/json', 'x-sobrin-request': '1' };
      const [course] = await (await fetch('/api/courses')).json();
      const file = {
        format: 'sobrin-lab',
        version: 2,
        title: 'Large plan',
        brief: {},
        tasks: [],
        plan,
        policy: {},
        reference: { format: 'sobrin-topology', version: 1, sites: {}, devices: {}, links: {} },
        spec: { groups: {}, sections: [] },
      };
      const answer = await fetch(`/api/courses/${course.id}/labs/import`, {
        method: 'POST',
        headers,
        body: JSON.stringify({ text: JSON.stringify(file) }),
      });
      return (await answer.json()).id;
    }, largePlan(20_000));
    const timed = async (name, run) => {
      await page.waitForTimeout(800);
      await page.evaluate(() => void (globalThis.longest = 0));
      await run();
      await page.waitForTimeout(800);
      const longest = await page.evaluate(() => globalThis.longest);
      say(`${name.padEnd(36)} longest pause ${longest ? `${Math.round(longest)} ms` : 'under 50 ms'}`);
    };
    await page.goto(`${base}/labs/${lab}/brief`);
    await timed('open the plan', async () => {
      await page.getByRole('link', { name: /^Plan/ }).click();
      await page.getByRole('treeitem', { name: /^Subnet 3,/ }).waitFor();
    });
    await timed('choose a subnet', () => page.getByRole('treeitem', { name: /^Subnet 3,/ }).click());
    await timed('take the next free address', async () => {
      await page.keyboard.press('n');
      await page.keyboard.type('NEW');
      await page.keyboard.press('Enter');
      await page.getByText('42 taken').waitFor();
    });
    await timed('scroll to the end and back', async () => {
      await page.getByRole('tree').focus();
      for (const key of ['End', 'Home', 'PageDown', 'PageDown', 'End']) {
        await page.keyboard.press(key);
        await page.waitForTimeout(100);
      }
    });
    await timed('find among 20,000 addresses', async () => {
      await page.getByRole('textbox', { name: 'Find in the plan' }).pressSequentially('h499-3', { delay: 80 });
      await page.getByRole('treeitem', { name: /h499-39/ }).waitFor();
    });
  });
}
