import { type Locator, type Page } from '@playwright/test';
import { expect, labWith, openBenchOf, saved, signIn, test } from './people';

/** What a person does with mouse and keyboard, counted. */
class Hands {
  readonly count = { clicks: 0, keys: 0, letters: 0 };

  constructor(private readonly page: Page) {}

  async click(what: Locator): Promise<void> {
    this.count.clicks++;
    await what.click();
  }

  /** A choice in a list: one click opens it, one takes it. */
  async choose(what: Locator, value: string): Promise<void> {
    this.count.clicks += 2;
    await what.selectOption(value);
  }

  /** One key after the other; those that write nothing. */
  async press(...keys: string[]): Promise<void> {
    for (const key of keys) {
      this.count.keys++;
      await this.page.keyboard.press(key);
    }
  }

  async type(text: string): Promise<void> {
    this.count.letters += text.length;
    await this.page.keyboard.type(text);
  }

  /** A line of the command field. */
  async say(line: string): Promise<void> {
    await this.press('/');
    await this.type(line);
    await expect(this.page.getByLabel('Command field')).toHaveValue(line);
    await this.press('Enter');
    await expect(this.page.getByLabel('Command field')).toHaveValue('');
  }
}

const plan = {
  blocks: {
    root: { prefix: '10.84.0.0/22', prefix6: 'fd5e:7a3c:90b1::/56', name: 'Valley', site: 'Valley' },
    desks: {
      prefix: '10.84.1.0/26',
      prefix6: 'fd5e:7a3c:90b1:1::/64',
      name: 'Desks',
      site: 'Valley',
      group: 'desks',
      vlan: 10,
    },
    phones: { prefix: '10.84.1.64/26', name: 'Phones', purpose: 'phones', site: 'Valley', vlan: 20 },
    guests: { prefix: '10.84.2.0/25', name: 'Guests', site: 'Valley', group: 'guests', vlan: 30 },
  },
};
const brief = {
  sites: [{ name: 'Valley' }],
  groups: [
    { id: 'desks', name: 'Desks', now: 2, later: 10, site: 'Valley', needs: ['phones'] },
    { id: 'guests', name: 'Guests', now: 20, later: 40, site: 'Valley', needs: ['wireless'] },
  ],
};

test('ten devices with three VLANs, leases, translation, phones, wireless and a filter take few steps', async ({
  page,
}) => {
  await signIn(page, 'Maren Osterkamp');
  await openBenchOf(page, { ...labWith('Few steps'), plan, brief });
  await expect(page.getByRole('button', { name: 'Take it from the plan' })).toBeVisible();
  const hands = new Hands(page);
  const field = (name: string): Locator => page.getByLabel(name, { exact: true }).first();
  const button = (name: string | RegExp): Locator => page.getByRole('button', { name }).first();

  // VLANs with gateways and leases, two desks behind two phones, and an access point.
  await hands.press('g');
  await expect(page.getByRole('dialog')).toContainText('RT-1 gives leases for Desks, Phones, Guests.');
  await hands.press('Enter');
  await expect(page.locator('.tile')).toHaveCount(7);

  // A tablet by radio, and the world outside.
  for (const line of ['tablet', 'provider cloud', 'server', 'link TB-1 AP-1', 'link RT-1 CL-1', 'link SV-1 CL-1'])
    await hands.say(line);
  for (const line of ['RT-1 198.51.100.2/30', 'CL-1 198.51.100.1/30', 'CL-1 203.0.113.1/24', 'SV-1 203.0.113.10/24'])
    await hands.say(line);
  for (const line of ['route RT-1 0.0.0.0/0 via 198.51.100.1', 'dhcp TB-1', 'AP-1']) await hands.say(line);
  await hands.click(button(/^Wireless networks/));
  await hands.click(button('Add a network'));
  await hands.type('Guests');
  await hands.press('Tab', 'Tab');
  await hands.type('liftpass');
  await hands.press('Enter', 'Escape');
  await hands.say('TB-1');
  await hands.click(button('Settings of w0'));
  await hands.click(field('Network of w0'));
  await hands.type('Guests');
  await hands.press('Tab', 'Tab');
  await hands.type('liftpass');
  await hands.press('Enter', 'Escape');

  // Translation, and guests that do not reach the desks.
  await hands.say('RT-1');
  await hands.click(button(/^Address translation/));
  await hands.click(button('Add a rule'));
  await hands.click(field('Translation 1: of'));
  await hands.type('10.84.0.0/22');
  await hands.press('Tab');
  await hands.type('g1');
  await hands.press('Enter');
  await hands.click(button(/^1 problem/));
  await hands.click(button('Make g1 the outside and g0.10, g0.20, g0.30 the inside'));
  await hands.click(button(/^Filters/));
  await hands.click(button('Add a filter'));
  await hands.choose(field('filter-1 rule 1: decision'), 'deny');
  await hands.click(field('filter-1 rule 1: to'));
  await hands.press('Control+a');
  await hands.type('10.84.1.0/24');
  await hands.press('Enter');
  await hands.click(page.getByRole('group', { name: 'Filter filter-1' }).getByRole('button', { name: 'Add a rule' }));
  await hands.click(page.getByRole('region', { name: 'Sub-interfaces' }).getByRole('button', { name: 'more' }).last());
  await hands.choose(field('IPv4 filter for what comes in by g0.30'), 'filter-1');
  await saved(page);
  await page.reload();
  await expect(page.locator('.tile')).toHaveCount(10);
  await expect(page.getByText('No problems')).toBeVisible();

  const traced = page.getByRole('complementary', { name: 'Trace' });
  for (const [line, outcome] of [
    ['trace PC-1 SV-1', 'reached, and the answer came back'],
    ['trace PH-1 SV-1', 'reached, and the answer came back'],
    ['trace TB-1 SV-1', 'reached, and the answer came back'],
    ['trace TB-1 PC-1', 'not reached'],
  ] as const) {
    await new Hands(page).say(line);
    await expect(traced).toContainText(line.split(' ')[1]!);
    await expect(traced).toContainText(line.split(' ')[2]!);
    await expect(traced.getByText(outcome, { exact: true })).toBeVisible();
  }
  // Half of what it took when everything was set one by one: 173 clicks, 160 keys and 804 letters.
  const { clicks, keys, letters } = hands.count;
  expect([clicks <= 86, keys <= 80, letters <= 402]).toEqual([true, true, true]);
});
