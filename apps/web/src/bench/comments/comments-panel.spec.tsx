import { useState } from 'react';
import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { createBenchStore } from '../bench-store';
import CommentsPanel from './comments-panel';
import { type Talk } from './open-talk';
import { BenchProvider } from '../use-bench';

const topology: Topology = {
  ...emptyTopology(),
  devices: { r: { name: 'RT-1', model: 'border-router', at: { x: 0, y: 0 } } },
  comments: {
    open: {
      anchor: { kind: 'device', id: 'r', port: 'g0' },
      entries: [
        { by: 'Zofia', at: '2026-11-26T10:00:00Z', text: 'Why fibre?' },
        { by: 'Maren', at: 'yesterday', text: 'For the pylons.' },
      ],
    },
    done: {
      at: { x: 0, y: 0 },
      resolved: true,
      entries: [{ by: 'Ilse', at: '2026-11-25T10:00:00Z', text: 'Move this.' }],
    },
  },
};
function open(talk: Talk) {
  const said: unknown[][] = [];
  const tell =
    (what: string) =>
    (...of: unknown[]): void =>
      void said.push([what, ...of]);
  const store = createBenchStore(
    { document: topology, revision: 0 },
    { post: () => new Promise(() => {}), keep: () => Promise.resolve(), newId: () => '1', later: () => {} },
  );
  function Beside() {
    const [drafts, setDrafts] = useState<ReadonlyMap<string, string>>(new Map());
    const [isShown, setIsShown] = useState(true);
    return (
      <BenchProvider store={store} id="d">
        <button onClick={() => setIsShown(!isShown)}>Something else</button>
        {isShown && (
          <CommentsPanel
            talk={talk}
            onOpen={tell('open')}
            onSay={(...of) => (tell('say')(...of), of[1] !== 'Refused')}
            onResolve={tell('resolve')}
            onRemove={tell('remove')}
            onClose={tell('close')}
            drafts={drafts}
            onDraft={(key, text) => setDrafts(new Map(drafts).set(key, text))}
          />
        )}
      </BenchProvider>
    );
  }
  render(<Beside />);
  return said;
}

test('a thread shows who said what about which port, and takes an answer', async () => {
  const said = open({ id: 'open' });
  expect(screen.getByRole('heading', { name: 'RT-1 g0' })).toBeInTheDocument();
  expect(screen.getByText('For the pylons.')).toBeInTheDocument();
  expect(screen.getByText(/26 Nov/)).toBeInTheDocument();
  expect(screen.getByRole('button', { name: 'Say it' })).toBeDisabled();
  await userEvent.type(screen.getByLabelText('Answer'), '  Thanks. {Control>}{Enter}{/Control}');
  await userEvent.click(screen.getByRole('button', { name: 'Resolve' }));
  expect(said).toEqual([
    ['say', { id: 'open' }, 'Thanks.'],
    ['resolve', 'open', true],
  ]);
  expect(screen.getByLabelText('Answer')).toHaveValue('');
});
test('one that is settled can be opened again', async () => {
  const said = open({ id: 'done' });
  await userEvent.click(screen.getByRole('button', { name: 'Open again' }));
  expect(said).toEqual([['resolve', 'done', false]]);
});
test('all are listed, the open ones first, and Escape closes the panel', async () => {
  const said = open('all');
  const regions = screen.getAllByRole('region').map((element) => element.getAttribute('aria-label'));
  expect(regions).toEqual(['Open', 'Resolved']);
  await userEvent.click(screen.getByRole('button', { name: /Move this/ }));
  await userEvent.keyboard('{Escape}');
  expect(said).toEqual([['open', { id: 'done' }], ['close']]);
});
test('a new one says what it is about before anything is said', async () => {
  const said = open({ about: { kind: 'device', id: 'r' } });
  expect(screen.getByRole('heading', { name: 'RT-1' })).toBeInTheDocument();
  await userEvent.type(screen.getByLabelText('Comment'), 'Here?{Control>}{Enter}{/Control}');
  expect(said).toEqual([['say', { about: { kind: 'device', id: 'r' } }, 'Here?']]);
});
test('what is typed stays while one looks at something else, and where it could not be taken', async () => {
  open({ id: 'open' });
  await userEvent.type(screen.getByLabelText('Answer'), 'Refused{Control>}{Enter}{/Control}');
  await userEvent.click(screen.getByText('Something else'));
  expect(screen.queryByLabelText('Answer')).not.toBeInTheDocument();
  await userEvent.click(screen.getByText('Something else'));
  expect(screen.getByLabelText('Answer')).toHaveValue('Refused');
});
