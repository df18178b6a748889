import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { analyse } from '@sobrin/core/engine';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { type TraceRequest, traceAnswer } from '../../workers/trace-answer';
import { marksOfTrace } from '../../drawing/trace-marks';
import TracePanel from './trace-panel';

const host = (name: string, address: string, y: number) => ({
  name,
  model: 'desktop',
  at: { x: 0, y },
  interfaces: { e0: { on: { kind: 'port' as const, port: 'e0' }, v4: { addresses: [address] } } },
});
const drawn = (second: string): Topology => ({
  ...emptyTopology(),
  devices: {
    s: { name: 'SW-1', model: 'access-switch-12', at: { x: 0, y: 0 } },
    a: host('DESK-1', '10.84.1.11/26', 90),
    b: host('DESK-2', second, 180),
    c: { name: 'CAM', model: 'camera', at: { x: 9, y: 9 } },
  },
  links: {
    x: { a: { device: 'a', port: 'e0' }, b: { device: 's', port: 'p1' }, medium: 'straight' },
    y: { a: { device: 'b', port: 'e0' }, b: { device: 's', port: 'p2' }, medium: 'straight' },
  },
});
const traceOf = (second: string, to = 'b') => traceAnswer(analyse(drawn(second)), { from: 'a', to });

test('a packet there and back is told step by step, with the links it crossed', () => {
  const trace = traceOf('10.84.1.12/26');
  expect(trace).toMatchObject({ from: 'DESK-1', to: 'DESK-2', answer: 'yes', target: '10.84.1.12', reason: null });
  expect(trace.steps.map((step) => `${step.way} ${step.name}`)).toEqual([
    'request DESK-1',
    'request DESK-2',
    'reply DESK-2',
    'reply DESK-1',
  ]);
  expect(trace.steps[0]!.links).toEqual(['x', 'y']);
  const marks = marksOfTrace(trace, 0);
  expect([...marks.devices.keys(), ...marks.links.keys()]).toEqual(['a', 'x', 'y']);
});
test('devices have the numbers of the steps at them, there and back, and one stands at the last', () => {
  const { words, here } = marksOfTrace(traceOf('10.84.1.12/26'), 3);
  expect([...words!]).toEqual([
    ['a', '1 · 4'],
    ['b', '2 · 3'],
  ]);
  expect(here).toBe('a');
});
test('where it does not arrive, the last step is marked and the reason told', () => {
  const trace = traceOf('10.84.9.12/26');
  expect(trace).toMatchObject({ answer: 'no', reason: expect.stringMatching(/gateway/) as string });
  expect(marksOfTrace(trace, 0).devices.get('a')).toBe('lost');
});
test('a device without an address cannot be sent to', () => {
  expect(traceOf('10.84.1.12/26', 'c')).toMatchObject({
    answer: 'no',
    steps: [],
    reason: expect.stringMatching(/CAM/) as string,
  });
});
test('what would have to change is told beside the reason', () => {
  expect(traceOf('10.84.9.12/26').remedy).toBe('Set the gateway of DESK-1 to the router’s address in its own subnet.');
});
test('an address can be typed, and a name is asked for first', () => {
  const to = (typed: string, drawing = drawn('10.84.1.12/26')) =>
    traceAnswer(analyse(drawing), { from: 'a', to: '', typed });
  expect(to('10.84.1.12')).toMatchObject({ answer: 'yes', to: '10.84.1.12 (DESK-2)' });
  expect(to('10.84.1.50')).toMatchObject({
    answer: 'no',
    to: '10.84.1.50',
    reason: expect.stringMatching(/nobody answers/) as string,
  });
  expect(to('shop.example')).toMatchObject({ answer: 'no', reason: 'DESK-1 knows no server for names.' });
  const named = drawn('10.84.1.12/26');
  named.devices.a!.settings = { dns: ['10.84.1.12'] };
  named.devices.b!.settings = {
    services: { dns: { enabled: true } },
    dnsRecords: [{ name: 'shop.example', type: 'A', value: '10.84.1.12' }],
  };
  expect(to('shop.example', named)).toMatchObject({ answer: 'yes', named: 'shop.example is 10.84.1.12, by DESK-2.' });
});
test('the arrow keys walk the steps, Escape closes', async () => {
  const asked: number[] = [];
  let closed = false;
  render(
    <TracePanel
      trace={traceOf('10.84.1.12/26')}
      before={null}
      topology={drawn('10.84.1.12/26')}
      onSend={() => {}}
      at={3}
      onStep={(at) => asked.push(at)}
      onClose={() => {
        closed = true;
      }}
    />,
  );
  expect(screen.getByRole('listbox')).toHaveFocus();
  await userEvent.keyboard('{ArrowUp}{ArrowDown}{Escape}');
  expect([asked, closed]).toEqual([[2, 3], true]);
});
test('an answer that comes while the next question is typed takes no letter of it', async () => {
  render(<input aria-label="Next question" />);
  await userEvent.click(screen.getByLabelText('Next question'));
  render(
    <TracePanel
      trace={traceOf('10.84.1.12/26')}
      before={null}
      topology={drawn('10.84.1.12/26')}
      onSend={() => {}}
      at={0}
      onStep={() => {}}
      onClose={() => {}}
    />,
  );
  await userEvent.keyboard('trace');
  expect(screen.getByLabelText('Next question')).toHaveValue('trace');
});

describe('a packet opened to its headers', () => {
  const show = (before: ReturnType<typeof traceOf> | null, onSend: (wish: TraceRequest) => void = () => {}) =>
    render(
      <TracePanel
        trace={traceOf('10.84.1.12/26')}
        before={before}
        topology={drawn('10.84.1.12/26')}
        at={0}
        onStep={() => {}}
        onSend={onSend}
        onClose={() => {}}
      />,
    );
  test('what is on the wire after a step opens to the fields of its headers, with their standards', async () => {
    show(null);
    const wire = screen.getByRole('region', { name: 'On the wire' });
    const frames = within(wire).getAllByRole('button');
    expect(frames.map((frame) => frame.textContent)).toEqual([
      'ARP request for 10.84.1.12DESK-1 e0 – SW-1 p1',
      'ARP request for 10.84.1.12DESK-2 e0 – SW-1 p2',
      'ARP reply for 10.84.1.12DESK-2 e0 – SW-1 p2',
      'ARP reply for 10.84.1.12DESK-1 e0 – SW-1 p1',
      'echo requestDESK-1 e0 – SW-1 p1',
      'echo requestDESK-2 e0 – SW-1 p2',
    ]);
    await userEvent.click(frames[4]!);
    expect(within(wire).getByRole('table', { name: 'IPv4 RFC 791' })).toHaveTextContent('Time to live64');
    expect(within(wire).getByRole('table', { name: 'Ethernet IEEE 802.3' })).toBeInTheDocument();
  });
  test('the same question again is compared with what it gave before', () => {
    show(traceOf('10.84.9.12/26'));
    expect(screen.getByText(/Before:/).parentElement).toHaveTextContent(
      /not reached.*The first 0 of 4 steps are the same/,
    );
    expect(screen.getByText(/Step 1 was DESK-1/)).toHaveTextContent(/gateway/);
  });
  test('another protocol and port are asked for by choosing them', async () => {
    const sent: TraceRequest[] = [];
    show(null, (wish) => sent.push(wish));
    await userEvent.selectOptions(screen.getByLabelText('What is sent'), 'TCP to port');
    expect(sent).toEqual([{ from: 'a', to: 'b', family: undefined, probe: { protocol: 'tcp', port: 80 } }]);
  });
});
