import { twoLans } from '../../tests/topologies';
import { type Command } from '../../topology';
import { AnalysisSession, analyse } from '..';

const cut = (id: string): Command => ({ kind: 'setLink', id, set: { broken: true } });
const open = (): AnalysisSession => AnalysisSession.open(twoLans());
const anew = ({ topology }: AnalysisSession) => analyse(structuredClone(topology)).reach.tally();

describe('a session', () => {
  test('answers after each change as if it had never seen another drawing, and takes changes back one by one', () => {
    const session = open();
    const before = [session.topology, session.model] as const;
    for (const id of ['SA-p1-A-e0', 'R-g0-SA-u1']) {
      session.apply(cut(id));
      expect(session.model.reach.tally()).toEqual(anew(session));
    }
    expect(session.undo()).toBe(true);
    expect(session.topology.links).toMatchObject({ 'SA-p1-A-e0': { broken: true }, 'R-g0-SA-u1': {} });
    expect(session.model.reach.tally()).toEqual(anew(session));
    expect([session.undo(), session.undo()]).toEqual([true, false]);
    expect([session.topology, session.model]).toEqual(before);
    expect(session.model).toBe(before[1]);
  });

  test('a command that does not go changes nothing and says why', () => {
    const session = open();
    const { topology, model } = session;
    expect(session.apply(cut('gone'))).toEqual({ ok: false, error: 'There is no link "gone" any more.' });
    expect([session.topology, session.model]).toEqual([topology, model]);
    expect(session.undo()).toBe(false);
  });

  test('forks see what was there before and nothing of one another, however many there are', () => {
    const session = open();
    session.apply(cut('SA-p1-A-e0'));
    const links = Object.keys(session.topology.links);
    const forks = links.flatMap((id) => Array.from({ length: 3 }, () => ({ id, fork: session.fork() })));
    for (const { id, fork } of forks) fork.apply(cut(id));
    session.undo();
    for (const { id, fork } of forks) {
      const broken = links.filter((link) => fork.topology.links[link]!.broken);
      expect(broken.sort()).toEqual([...new Set(['SA-p1-A-e0', id])].sort());
      expect(fork.model.reach.tally()).toEqual(anew(fork));
    }
    // Those that were asked first have given up what was worked out for them, and answer all the same.
    const [{ fork }] = forks as [(typeof forks)[0]];
    expect(fork.model.reach.tally()).toEqual(anew(fork));
    expect([fork.undo(), fork.undo()]).toEqual([true, false]);
    expect(fork.model.reach.tally()).toEqual(anew(fork));
    expect(session.model.reach.tally()).toEqual(analyse(twoLans()).reach.tally());
  });
});
