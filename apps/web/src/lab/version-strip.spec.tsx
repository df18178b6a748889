import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type LabVersionView, type LabView } from '@sobrin/contracts';
import { serve, show } from '../tests/render';
import { useShownLab } from './lab-shell';
import { VersionStrip } from './version-strip';
import { LabVersionsDialog } from './versions-dialog';

const version = (number: number, judges: boolean): LabVersionView => ({
  number,
  madeAt: `2026-11-2${number}T08:00:00Z`,
  by: 'Maren Osterkamp',
  judges,
});
const lab = (more: Partial<LabView>) =>
  ({ id: 'lab', versions: 1, isChanged: false, teaches: true, timeZone: 'UTC', ...more }) as LabView;
const Shown = () => <VersionStrip lab={useShownLab()} />;

test('a lab that students do not see is released with a word on what that means', async () => {
  const calls = serve({ 'POST labs/lab/release': {} });
  show(<Shown />, { lab: lab({ releasedAt: null, version: null, versions: 0 }) });
  expect(screen.getByRole('alert')).toHaveTextContent('Students do not see this lab yet.');
  await userEvent.click(screen.getByRole('button', { name: 'Release to the class' }));
  expect(screen.getByRole('dialog')).toHaveTextContent(/become version 1/);
  expect(calls).toEqual([]);
  await userEvent.click(screen.getByRole('button', { name: 'Release' }));
  expect(calls.map(({ method, path }) => `${method} ${path}`)).toContain('POST labs/lab/release');
});

test('a lab that was changed says by which version the class is judged, and becomes the next one', async () => {
  const calls = serve({ 'POST labs/lab/versions': {} });
  show(<Shown />, {
    lab: lab({ releasedAt: '2026-11-21T08:00:00Z', version: version(2, true), versions: 3, isChanged: true }),
  });
  expect(screen.getByRole('alert')).toHaveTextContent(/judged by version 2 of .*changed since/);
  await userEvent.click(screen.getByRole('button', { name: 'Make it final' }));
  const dialog = screen.getByRole('dialog');
  expect(dialog).toHaveTextContent(/as version 4 unless.*Results of version 2 stay/);
  await userEvent.click(within(dialog).getByRole('button', { name: 'Make it final' }));
  expect(calls.map(({ method, path }) => `${method} ${path}`)).toContain('POST labs/lab/versions');
});

test('nothing stands there where the class is judged by the lab as it is', () => {
  serve({});
  show(<Shown />, { lab: lab({ releasedAt: '2026-11-21T08:00:00Z', version: version(1, true) }) });
  expect(screen.queryByRole('alert')).toBeNull();
});

test('another version is chosen to judge the class', async () => {
  let judging = 2;
  const calls = serve({
    'GET labs/lab/versions': () => ({ body: [2, 1].map((number) => version(number, number === judging)) }),
    'PUT labs/lab/version': () => {
      judging = 1;
      return {};
    },
  });
  show(<LabVersionsDialog lab={lab({})} onClose={() => undefined} />);
  expect(await screen.findAllByRole('listitem')).toHaveLength(2);
  await userEvent.click(screen.getByRole('button', { name: 'Judge by version 1' }));
  expect(await screen.findByRole('button', { name: 'Judge by version 2' })).toBeEnabled();
  expect(calls.find((call) => call.method === 'PUT')?.body).toEqual({ number: 1 });
});
