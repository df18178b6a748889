import {
  type CellReason,
  type Counts,
  type DeviceTables,
  type EngineOptions,
  type Failure,
  type Grid,
  type GridRequest,
  type NetworkModel,
  type SignIn,
  type SignInRequest,
  type Switchable,
  cellReasons,
  countsOf,
  failureOf,
  gridOf,
  callOf,
  pluggedInWords,
  signIn,
  tablesOf,
} from '@sobrin/core/engine';
import { type Mends, causesOf, mendsOf } from '@sobrin/core/editing';
import { writePairs } from '@sobrin/core/formats';
import { type Facts, factsOf } from './facts';
import { type ReachAnswer, reachAnswer } from './reach-answer';
import { type TraceAnswer, type TraceRequest, traceAnswer } from './trace-answer';

/** What can be asked of the engine, and what it answers: plain data that crosses to and from a worker. */
export interface EngineRequests {
  facts: { asked: null; answer: Facts };
  /** Which problems only follow from another one, by their texts. */
  causes: { asked: null; answer: Causes };
  trace: { asked: TraceRequest; answer: TraceAnswer };
  /** What of the drawing would have to be otherwise for a packet to be answered. */
  mends: { asked: TraceRequest; answer: Mends };
  /** Who a device of the drawing reaches. */
  reach: { asked: string; answer: ReachAnswer };
  /** What a device of the drawing knows; the first one of a tile. */
  tables: { asked: string; answer: DeviceTables | null };
  grid: { asked: GridRequest; answer: Grid };
  /** Why pairs of one cell of a grid are not reached. */
  cell: { asked: GridRequest & { row: string; column: string }; answer: CellReason[] };
  /** All pairs of a grid with their reasons, as CSV. */
  pairs: { asked: GridRequest; answer: string };
  counts: { asked: null; answer: Counts };
  /** Whether one can sign in at a device, by each of the ways that are asked about; the first one of a tile. */
  signIn: { asked: SignInQuestion; answer: SignIn[] };
  call: { asked: { from: string; to: string }; answer: { text: string } };
  /** What a laptop gets that is plugged into a port; of a tile into the first of its devices. */
  plug: { asked: { device: string; port: string }; answer: string[] };
  /** What is cut off while one thing is off. */
  failure: { asked: Switchable; answer: Failure };
}
/** The text of the problem that another one follows from, by its text. */
export type Causes = Readonly<Record<string, string>>;
export type RequestKind = keyof EngineRequests;
export type Ask = <K extends RequestKind>(
  kind: K,
  asked: EngineRequests[K]['asked'],
) => Promise<EngineRequests[K]['answer']>;

export const ANSWERS: {
  readonly [K in RequestKind]: (model: NetworkModel, asked: EngineRequests[K]['asked']) => EngineRequests[K]['answer'];
} = {
  facts: factsOf,
  causes: (model) => causesOf(model),
  trace: traceAnswer,
  mends: (model, asked) => mendsOf(model, (after) => traceAnswer(after, asked).answer === 'yes'),
  reach: reachAnswer,
  tables: (model, device) => {
    const first = [...model.instances.values()].find((instance) => instance.deviceId === device);
    return first ? tablesOf(model, first.id) : null;
  },
  grid: gridOf,
  cell: cellReasons,
  pairs: writePairs,
  failure: failureOf,
  counts: countsOf,
  signIn: signInAnswer,
  call: callAnswer,
  plug: (model, { device, port }) => {
    const first = [...model.instances.values()].find((instance) => instance.deviceId === device);
    return pluggedInWords(model, { id: first?.id ?? device, port });
  },
};

export interface SignInQuestion {
  from: string;
  to: string;
  ways: readonly SignInRequest['by'][];
  changing: boolean;
}

function signInAnswer(model: NetworkModel, { from, to, ways, changing }: SignInQuestion): SignIn[] {
  const first = (device: string) => [...model.instances.values()].find((instance) => instance.deviceId === device);
  const [source, target] = [first(from), first(to)];
  if (!source || !target) return [];
  return ways.map((by) => signIn(model, { from: source.id, to: target.id, address: null, by, changing }));
}

function callAnswer(model: NetworkModel, { from, to }: { from: string; to: string }): { text: string } {
  const first = (device: string) => [...model.instances.values()].find((instance) => instance.deviceId === device);
  const [source, target] = [first(from), first(to)];
  const extension = target?.settings.telephony?.extension;
  return source && extension !== undefined ? callOf(model, source.id, extension) : { text: 'That is no telephone.' };
}

/** How the equipment behaves, with every setting said. */
export type Equipment = Partial<EngineOptions>;
