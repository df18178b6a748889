import { type ReactNode, Suspense, lazy, useCallback } from 'react';
import { type TraceAnswer, type TraceRequest } from '../workers/trace-answer';
import { type Ask } from '../workers/engine-requests';
import { CommentsPanel, OpenTalk } from './comments-panel';
import { type Modes } from './modes';
import { TablesPanel } from './tables-panel';
import { type TextPanelProps } from './text-panel';
import { TracePanel } from './trace-panel';
import { useBench } from './use-bench';
import { useComments } from './use-comments';

/** It brings much along, and not everybody wants it. */
const TextPanel = lazy(() => import('./text-panel'));

/** What stands beside the drawing: what was opened last, else the inspector. */
export function SidePanels({
  modes: { talk, setTalk, traced, setTraced, tabled, setTabled },
  ask,
  onSend,
  text,
  inspector,
}: {
  modes: Modes;
  ask: Ask;
  /** Sends a packet, to be compared with what it did before. */
  onSend: (wish: TraceRequest, before: TraceAnswer) => void;
  /** The drawing as text, while it is open. */
  text: TextPanelProps | null;
  inspector: ReactNode;
}) {
  const topology = useBench((state) => state.document);
  const comments = useComments(setTalk);
  const askTables = useCallback(() => ask('tables', tabled ?? ''), [ask, tabled]);
  if (traced)
    return (
      <TracePanel
        trace={traced.trace}
        at={traced.at}
        before={traced.before}
        topology={topology}
        onStep={(at) => setTraced({ ...traced, at })}
        onSend={(wish) => onSend(wish, traced.trace)}
        onClose={() => setTraced(null)}
      />
    );
  if (talk !== null) return <CommentsPanel talk={talk} onOpen={setTalk} onClose={() => setTalk(null)} {...comments} />;
  if (tabled !== null && topology.devices[tabled])
    return <TablesPanel key={tabled} ask={askTables} onClose={() => setTabled(null)} />;
  if (text)
    return (
      <Suspense fallback={null}>
        <TextPanel {...text} />
      </Suspense>
    );
  return <OpenTalk value={setTalk}>{inspector}</OpenTalk>;
}
