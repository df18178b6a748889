import { ok, type Result } from '../../result';
import { type Command, type Topology, applyCommand } from '../../topology';
import { type NetworkModel, analyse, analyseAfter } from './model';
import { type EngineOptions } from './options';

/** So many sessions that came of one another keep what was worked out for them; the others work it out again when asked. */
const KEPT = 4;

/** The drawing as it stands, and what is known of it: the model of it, or one of an earlier drawing to go on from. */
interface State {
  readonly topology: Topology;
  readonly known: NetworkModel;
}

/**
 * A drawing that is changed and asked in turn. Each change costs as much as it concerns, and forks share everything that
 * their changes leave alone: one tries a thousand changes of one drawing without holding a thousand analyses.
 *
 * What is shared never changes what was said: models are values, and the memories behind them (`PointNumbers`, `Verdicts`,
 * the columns of `Destinations`) only grow. Answers are those of an analysis of the drawing from nothing.
 */
export class AnalysisSession {
  /** What was applied since the ground, with what takes it back. */
  private readonly applied: { readonly command: Command; readonly inverse: Command }[] = [];
  private state: State | null = null;

  private constructor(
    /** The model that this session began with. */
    private readonly ground: NetworkModel,
    /** Sessions that hold a state of their own, the one asked last at the end. */
    private readonly holders: AnalysisSession[],
  ) {}

  /** A session that begins with a drawing of which nothing is known. */
  static open(topology: Topology, options: Partial<EngineOptions> = {}): AnalysisSession {
    return AnalysisSession.from(analyse(topology, options));
  }

  /** A session that begins with what was worked out already; the model stays what it is. */
  static from(model: NetworkModel): AnalysisSession {
    return new AnalysisSession(model, []);
  }

  get topology(): Topology {
    return this.stand().topology;
  }

  /** What the engine says of the drawing as it stands now; worked out when it is asked for. */
  get model(): NetworkModel {
    const { topology, known } = this.stand();
    if (known.topology === topology) return known;
    const model = analyseAfter(known, topology);
    this.hold({ topology, known: model });
    return model;
  }

  /** Changes the drawing. A command that does not go changes nothing: the error is a sentence that says why. */
  apply(command: Command): Result<Topology, string> {
    const { topology, known } = this.stand();
    const done = applyCommand(topology, command);
    if (!done.ok) return done;
    const { document, inverse } = done.value;
    this.applied.push({ command, inverse });
    this.hold({ topology: document, known });
    return ok(document);
  }

  /** Takes the last change back; false where none is left since the session began. */
  undo(): boolean {
    const { topology, known } = this.stand();
    const last = this.applied.pop();
    if (!last) return false;
    this.hold(this.applied.length ? { topology: changed(topology, last.inverse), known } : null);
    return true;
  }

  /** Another session that begins with the drawing as it is now; neither sees what is done in the other. */
  fork(): AnalysisSession {
    return new AnalysisSession(this.model, this.holders);
  }

  private stand(): State {
    if (!this.applied.length) return { topology: this.ground.topology, known: this.ground };
    const state = this.state ?? {
      topology: this.applied.reduce((topology, { command }) => changed(topology, command), this.ground.topology),
      known: this.ground,
    };
    this.hold(state);
    return state;
  }

  private hold(state: State | null): void {
    this.state = state;
    const at = this.holders.indexOf(this);
    if (at >= 0) this.holders.splice(at, 1);
    if (!state) return;
    this.holders.push(this);
    if (this.holders.length > KEPT) this.holders.shift()!.state = null;
  }
}

/** A drawing after a command that has gone before. */
function changed(topology: Topology, command: Command): Topology {
  const done = applyCommand(topology, command);
  if (!done.ok) throw new Error(done.error);
  return done.value.document;
}
