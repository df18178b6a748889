import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type DraftedLab, type Spec, draftOf } from '@sobrin/core/spec';
import { emptyTopology } from '@sobrin/core/topology';
import { useState } from 'react';
import { type DraftNews } from '../workers/draft.worker';
import { show } from '../tests/render';
import { DraftPanel } from './draft-panel';

const site = (name: string) => ({ name });
const device = (name: string, model: string, address?: string, gateway4?: string) => ({
  name,
  model,
  at: { x: 0, y: 0 },
  site: 'valley',
  ...(address !== undefined && {
    interfaces: {
      [model === 'desktop' ? 'e0' : 'g0']: {
        on: { kind: 'port' as const, port: model === 'desktop' ? 'e0' : 'g0' },
        v4: { addresses: [address] },
      },
    },
  }),
  ...(gateway4 !== undefined && { settings: { gateway4 } }),
});
const link = (a: string, b: string) => {
  const end = (text: string) => ({ device: text.split(' ')[0]!, port: text.split(' ')[1]! });
  return { a: end(a), b: end(b), medium: 'straight' as const };
};
/** A router, a switch and two desks; of labels students are told nothing. */
const lab = (): DraftedLab => ({
  brief: {},
  policy: {},
  plan: { blocks: {} },
  tasks: [{ id: 't1', text: 'Draw 1 router and 1 switch. The gateway is the router R.' }],
  spec: { groups: {}, sections: [] },
  reference: {
    ...emptyTopology(),
    sites: { valley: site('Valley Station') },
    devices: {
      R: device('R', 'border-router', '10.84.1.1/24'),
      S: { ...device('S', 'access-switch-12'), ports: { p1: { label: 'to A' } } },
      A: device('A', 'desktop', '10.84.1.11/24', '10.84.1.1'),
      B: device('B', 'desktop', '10.84.1.12/24', '10.84.1.1'),
    },
    links: { l1: link('R g0', 'S u1'), l2: link('A e0', 'S p1'), l3: link('B e0', 'S p2') },
  },
});

// A draft is made in a worker; here the same core makes it beside.
let mockNews: DraftNews;
jest.mock('./use-draft', () => ({ useDraft: () => mockNews }));

/** The panel beside a spec that keeps what it adds. */
async function open(news: DraftNews): Promise<{ spec: () => Spec; closed: () => boolean }> {
  mockNews = news;
  let [last, isClosed] = [lab().spec, false];
  function Beside() {
    const [spec, setSpec] = useState(last);
    const onChange = (next: Spec): void => setSpec((last = next));
    return <DraftPanel lab={lab()} spec={spec} onChange={onChange} onClose={() => (isClosed = true)} />;
  }
  show(<Beside />);
  await screen.findByRole('complementary', { name: 'Draft' });
  return { spec: () => last, closed: () => isClosed };
}
const count = ({ sections }: Spec): number => sections.flatMap(({ requirements }) => requirements).length;
const boxes = (): HTMLElement[] => screen.getAllByRole('checkbox').filter((box) => !box.getAttribute('aria-label'));
const isTicked = (box: HTMLElement): boolean => (box as HTMLInputElement).checked;

describe('a draft', () => {
  const draft = draftOf(lab());
  const ticked = draft.proposals.filter(({ leftOut }) => leftOut === undefined);

  test('says how far it is, and what went wrong', async () => {
    await open({ done: 12, of: 48 });
    expect(screen.getByText(/: 12 of 48\.$/)).toBeInTheDocument();
    expect(screen.getByRole('progressbar')).toHaveAttribute('aria-valuenow', '25');
  });
  test('is sentences with where they are told; what students are told nowhere is left out and says so', async () => {
    await open({ draft });
    for (const { sentence } of ticked) expect(screen.getByRole('checkbox', { name: sentence })).toBeChecked();
    const found = draft.proposals.find(({ leftOut }) => leftOut?.startsWith('students are told it nowhere'))!;
    const box = screen.getByRole('checkbox', { name: found.sentence });
    expect(box).not.toBeChecked();
    expect(box).toHaveAccessibleDescription(
      expect.stringMatching(`^so in the reference ?; left out: ${found.leftOut}$`),
    );
  });
  test('is taken by Enter, together, with the points that are wanted; a second time nothing is offered again', async () => {
    const { spec } = await open({ draft });
    await userEvent.type(screen.getByRole('textbox', { name: 'Points together' }), '40{Enter}');
    screen.getAllByRole('checkbox')[0]!.focus();
    await userEvent.keyboard('{Enter}');
    expect(count(spec())).toBe(ticked.length);
    const points = spec().sections.flatMap(({ requirements }) => requirements.map((each) => each.points));
    expect(points.reduce((sum, each) => sum + each, 0)).toBe(40);
    expect(boxes().some(isTicked)).toBe(false);
    expect(screen.getByRole('button', { name: 'None is ticked' })).toBeDisabled();
  });
  test('is gone through with arrows, unticked by Space and by section', async () => {
    const { spec } = await open({ draft });
    const all = screen.getAllByRole('checkbox');
    expect(all[0]).toHaveFocus();
    await userEvent.keyboard('{ArrowDown} ');
    expect(all[1]).toHaveFocus();
    expect(all[1]).not.toBeChecked();
    const cabling = within(screen.getByRole('group', { name: 'Draft of Cabling' })).getByRole('checkbox', {
      name: 'All of Cabling',
    });
    await userEvent.click(cabling);
    if (isTicked(cabling)) await userEvent.click(cabling);
    await userEvent.click(screen.getByRole('button', { name: /^Add the \d+ ticked$/ }));
    expect(spec().sections.map(({ title }) => title)).not.toContain('Cabling');
    expect(count(spec())).toBe(ticked.filter(({ family }) => family !== 'cabling').length - 1);
  });
  test('shows what adds nothing when it is asked for, with the reason', async () => {
    await open({ draft });
    const before = boxes().length;
    await userEvent.click(screen.getByRole('button', { name: /more that adds? nothing$/ }));
    expect(boxes().length).toBe(draft.proposals.length);
    expect(boxes().length).toBeGreaterThan(before);
    expect(screen.getAllByText(/it says no more than “/).length).toBeGreaterThan(0);
  });
  test('points that are none are said, and nothing is lost', async () => {
    const { spec } = await open({ draft });
    await userEvent.type(screen.getByRole('textbox', { name: 'Points together' }), 'many');
    expect(screen.getByText('A whole number from 1 to 9999.')).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: /^Add the/ }));
    expect(count(spec())).toBe(ticked.length);
  });
  test('Escape closes it', async () => {
    const { closed } = await open({ draft });
    await userEvent.keyboard('{Escape}');
    expect(closed()).toBe(true);
  });
});
