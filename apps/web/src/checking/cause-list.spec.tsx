import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { CauseList } from './cause-list';
import { type Causes } from './use-causes';

const causes = (more: Partial<Causes> = {}): Causes => ({
  diagnosis: null,
  isLooking: true,
  progress: null,
  error: null,
  stop: jest.fn(),
  goOn: jest.fn(),
  lettersOf: () => [],
  chosen: null,
  choose: jest.fn(),
  tried: null,
  tryIt: jest.fn(),
  ...more,
});
const progress = { runs: 60, bound: 240, found: ['RT-V has no route to 10.84.2.0/24.'] };

test('the best so far stands there while more is looked for, with how far that is', async () => {
  const looking = causes({ progress });
  const { rerender } = render(<CauseList causes={looking} />);
  expect(screen.getByRole('list', { name: 'Found so far' })).toHaveTextContent('RT-V has no route to 10.84.2.0/24.');
  expect(screen.getByText('60 of at most 240 tried')).toBeInTheDocument();
  expect(screen.getByRole('progressbar', { name: 'Repairs that were tried' })).toHaveAttribute('aria-valuenow', '25');
  expect(screen.getByRole('status')).toHaveTextContent('looking for them');
  await userEvent.click(screen.getByRole('button', { name: 'Stop' }));
  expect(looking.stop).toHaveBeenCalled();
  const stopped = causes({ progress, isLooking: false });
  rerender(<CauseList causes={stopped} />);
  expect(screen.getByRole('status')).toHaveTextContent('not looked for to the end');
  expect(screen.getByRole('list', { name: 'Found so far' })).toBeInTheDocument();
  await userEvent.click(screen.getByRole('button', { name: 'Go on' }));
  expect(stopped.goOn).toHaveBeenCalled();
});

test('before anything is known it only says that it is looked for; with nothing to look for there is nothing', () => {
  const { rerender } = render(<CauseList causes={causes()} />);
  expect(screen.queryByRole('progressbar')).not.toBeInTheDocument();
  expect(screen.getByRole('status')).toHaveTextContent('looking for them');
  rerender(<CauseList causes={causes({ isLooking: false })} />);
  expect(screen.queryByRole('region', { name: 'Causes' })).not.toBeInTheDocument();
});
