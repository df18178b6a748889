import { type ReactNode, useCallback, useState } from 'react';
import { lazyPart } from '../ui/lazy-part';
import { type TraceAnswer, type TraceRequest } from '../workers/trace-answer';
import { type Ask } from '../workers/engine-requests';
import { OpenTalk } from './comments/open-talk';
import { type Modes } from './modes';
import { type TextPanelProps } from './text-panel';
import { useBench } from './use-bench';
import { TraceMends } from './asking/trace-mends';
import { useComments } from './comments/use-comments';

const TracePanel = lazyPart(() => import('./asking/trace-panel'));
const TablesPanel = lazyPart(() => import('./asking/tables-panel'));
const CommentsPanel = lazyPart(() => import('./comments/comments-panel'));
const TextPanel = lazyPart(() => import('./text-panel'));

/** What stands beside the drawing: what was opened last, else the inspector. */
export function SidePanels({
  modes: { talk, setTalk, traced, setTraced, tabled, setTabled },
  ask,
  onSend,
  text,
  inspector,
  helps,
}: {
  modes: Modes;
  ask: Ask;
  /** Sends a packet, to be compared with what it did before. */
  onSend: (request: TraceRequest, before: TraceAnswer) => void;
  /** The drawing as text, while it is open. */
  text: TextPanelProps | null;
  inspector: ReactNode;
  /** Whether it is told what would mend something. */
  helps: boolean;
}) {
  const run = useBench((state) => state.do);
  const topology = useBench((state) => state.document);
  const comments = useComments(setTalk);
  const [drafts, setDrafts] = useState<ReadonlyMap<string, string>>(new Map());
  const askTables = useCallback(() => ask('tables', tabled ?? ''), [ask, tabled]);
  if (traced)
    return (
      <TracePanel
        trace={traced.trace}
        at={traced.at}
        before={traced.before}
        topology={topology}
        onStep={(at) => setTraced({ ...traced, at })}
        onSend={(request) => onSend(request, traced.trace)}
        onClose={() => setTraced(null)}
        mends={
          helps && (
            <TraceMends
              key={JSON.stringify(traced.trace.request)}
              trace={traced.trace}
              ask={ask}
              onMend={({ repair, commands }) => run(repair.toLowerCase(), ...commands)}
            />
          )
        }
      />
    );
  if (talk !== null)
    return (
      <CommentsPanel
        talk={talk}
        onOpen={setTalk}
        onClose={() => setTalk(null)}
        drafts={drafts}
        onDraft={(key, text) => setDrafts((now) => new Map(now).set(key, text))}
        {...comments}
      />
    );
  if (tabled !== null && topology.devices[tabled])
    return <TablesPanel key={tabled} ask={askTables} onClose={() => setTabled(null)} />;
  if (text) return <TextPanel {...text} />;
  return <OpenTalk value={setTalk}>{inspector}</OpenTalk>;
}
