import { type Conflict, type Saved } from '@sobrin/contracts';
import { type Command, type Topology, emptyTopology } from '@sobrin/core/topology';
import { ApiError } from '../api/client';
import { type Pending, type Save } from './pending';
import { type SaveState, Saver } from './saver';

const move = (x: number): Command => ({ kind: 'move', to: { a: { x, y: 0 } } });

/** A server one can switch off, and a clock one turns by hand. */
function bench() {
  const saves: Save<Command>[] = [];
  const states: SaveState[] = [];
  const kept: Pending<Command>[] = [];
  const merged: Command[][] = [];
  const met: Conflict[] = [];
  let timers: (() => void)[] = [];
  let answer: (save: Save<Command>) => Promise<Saved> = (save) =>
    Promise.resolve({ revision: save.base + 1, merged: null });
  let ids = 0;
  let there = { document: emptyTopology(), revision: 7 };
  let room = true;
  const saver = new Saver<Topology, Command>(7, {
    post: (save) => {
      saves.push(save);
      return answer(save);
    },
    keep: (pending) => {
      if (!room) return Promise.reject(new DOMException('full', 'QuotaExceededError'));
      kept.push(pending);
      return Promise.resolve();
    },
    read: () => Promise.resolve(there),
    onState: (state) => states.push(state),
    onMerged: (_topology, waiting) => merged.push([...waiting]),
    onOthers: () => merged.push([]),
    onConflict: (conflict) => met.push(conflict),
    newId: () => `save${++ids}`,
    later: (run) => void timers.push(run),
  });
  /** Lets all that waits for time or for an answer happen, a few rounds long. */
  const settle = async (): Promise<void> => {
    for (let round = 0; round < 6; round++) {
      const due = timers;
      timers = [];
      for (const run of due) run();
      for (let turn = 0; turn < 20; turn++) await Promise.resolve();
    }
  };
  return {
    saver,
    saves,
    states,
    kept,
    merged,
    met,
    settle,
    answers: (next: typeof answer) => void (answer = next),
    /** Somebody else saved. */
    others: (revision: number) => void (there = { ...there, revision }),
    fill: () => void (room = false),
  };
}

test('commands made in quick succession go out as one save, on top of the revision known', async () => {
  const { saver, saves, states, settle } = bench();
  saver.add([move(1)]);
  saver.add([move(2)]);
  await settle();
  expect(saves).toEqual([{ save: 'save1', base: 7, commands: [move(1), move(2)] }]);
  expect(states.at(-1)).toEqual({ kind: 'saved' });
  saver.add([move(3)]);
  await settle();
  expect(saves[1]).toEqual({ save: 'save2', base: 8, commands: [move(3)] });
});

test('what was drawn in a day without a connection goes out in saves that the server takes', async () => {
  const { saver, saves, settle } = bench();
  saver.add(Array.from({ length: 1200 }, (_each, at) => move(at)));
  await settle();
  await settle();
  expect(saves.map(({ base, commands }) => [base, commands.length])).toEqual([
    [7, 500],
    [8, 500],
    [9, 200],
  ]);
  expect(saves.flatMap(({ commands }) => commands)).toEqual(Array.from({ length: 1200 }, (_each, at) => move(at)));
});

test('everything is kept in the browser before it is sent, and forgotten when it is confirmed', async () => {
  const { saver, kept, settle, answers } = bench();
  let keptAtSending: Pending | undefined;
  answers((save) => {
    keptAtSending = kept.at(-1);
    return Promise.resolve({ revision: save.base + 1, merged: null });
  });
  saver.add([move(1)]);
  await settle();
  expect(keptAtSending?.sent?.commands).toEqual([move(1)]);
  expect(kept.at(-1)).toMatchObject({ sent: null, waiting: [] });
});

test('a save whose answer is lost is sent again under the same id, and what came later waits for it', async () => {
  const { saver, saves, states, settle, answers } = bench();
  answers(() => Promise.reject(new ApiError(0, 'no answer')));
  saver.add([move(1)]);
  await settle();
  saver.add([move(2)]);
  await settle();
  expect(new Set(saves.map((save) => save.save))).toEqual(new Set(['save1']));
  expect(saves.every((save) => save.commands.length === 1)).toBe(true);
  expect(states.some((state) => state.kind === 'offline')).toBe(true);
  answers((save) => Promise.resolve({ revision: save.base + 1, merged: null }));
  saver.retry();
  await settle();
  expect(saves.at(-1)).toEqual({ save: 'save2', base: 8, commands: [move(2)] });
  expect(saver.isClean).toBe(true);
});

test('changes of somebody else come with what is still waiting here', async () => {
  const { saver, merged, settle, answers } = bench();
  answers((save) => {
    if (save.save === 'save1') saver.add([move(9)]);
    return Promise.resolve({ revision: 12, merged: emptyTopology() });
  });
  saver.add([move(1)]);
  await settle();
  expect(merged[0]).toEqual([move(9)]);
});

test('a conflict stops sending until one version is chosen', async () => {
  const { saver, saves, states, met, settle, answers } = bench();
  const conflict = {
    message: 'met',
    places: ['devices › a'],
    by: ['Zofia Wrona'],
    revision: 20,
    before: emptyTopology(),
    mine: emptyTopology(),
    theirs: emptyTopology(),
  };
  answers(() => Promise.reject(new ApiError(409, 'met', [], conflict)));
  saver.add([move(1)]);
  await settle();
  saver.add([move(2)]);
  await settle();
  expect(saves).toHaveLength(1);
  expect(met).toEqual([conflict]);
  expect(saver.own).toEqual({ base: 7, commands: [move(1), move(2)] });
  answers((save) => Promise.resolve({ revision: save.base + 1, merged: null }));
  const mine: Command = { kind: 'replace', topology: emptyTopology() };
  saver.resolve(20, [mine]);
  await settle();
  expect(saves.at(-1)).toEqual({ save: 'save2', base: 20, commands: [mine] });
  expect(states.at(-1)).toEqual({ kind: 'saved' });
});

test('what the server refuses for good is said and not sent again and again', async () => {
  const { saver, saves, states, settle, answers } = bench();
  answers(() =>
    Promise.reject(new ApiError(422, 'The change does not hold.', [{ place: '', text: 'There is no site "moon".' }])),
  );
  saver.add([move(1)]);
  await settle();
  expect(saves).toHaveLength(1);
  expect(states.at(-1)).toEqual({ kind: 'refused', text: 'The change does not hold. There is no site "moon".' });
});

test('what others save is shown at once where nothing of one’s own is on its way', async () => {
  const { saver, saves, merged, settle, others } = bench();
  await saver.heard(7);
  expect(merged).toEqual([]);
  others(9);
  await saver.heard(9);
  expect(merged).toEqual([[]]);
  saver.add([move(1)]);
  await settle();
  expect(saves.at(-1)!.base).toBe(9);
});

test('what others save does not hide that one’s own change was made without it: the server has to tell', async () => {
  const { saver, saves, merged, settle, others } = bench();
  saver.add([move(1)]);
  others(9);
  await saver.heard(9);
  expect(merged).toEqual([]);
  await settle();
  expect(saves.at(-1)!.base).toBe(7);
});

test('a browser without room keeps no save from the server, and says so while that does not answer', async () => {
  const { saver, saves, states, settle, answers, fill } = bench();
  fill();
  saver.add([move(1)]);
  await settle();
  expect(states.at(-1)).toEqual({ kind: 'saved' });
  answers(() => Promise.reject(new ApiError(0, 'no answer')));
  saver.add([move(2)]);
  await settle();
  expect(states.at(-1)).toMatchObject({ kind: 'offline', text: expect.stringMatching(/no room/) as string });
  answers((save) => Promise.resolve({ revision: save.base + 1, merged: null }));
  saver.retry();
  await settle();
  expect(saves.at(-1)!.commands).toEqual([move(2)]);
  expect(states.at(-1)).toEqual({ kind: 'saved' });
});

test('an hour without a connection: everything that was done meanwhile arrives, in order', async () => {
  const { saver, saves, states, kept, settle, answers } = bench();
  answers(() => Promise.reject(new ApiError(0, 'no answer')));
  for (let minute = 1; minute <= 60; minute++) {
    saver.add([move(minute)]);
    await settle();
  }
  const { sent, waiting } = kept.at(-1)!;
  expect([...sent!.commands, ...waiting]).toEqual(Array.from({ length: 60 }, (_, at) => move(at + 1)));
  const before = saves.length;
  answers((save) => Promise.resolve({ revision: save.base + 1, merged: null }));
  saver.retry();
  await settle();
  expect(saves.slice(before).flatMap((save) => save.commands)).toEqual([...sent!.commands, ...waiting]);
  expect(states.at(-1)).toEqual({ kind: 'saved' });
});
