import { type PlanOfLab } from '@sobrin/core/editing';
import { type Policy } from '@sobrin/core/spec';
import { type Topology } from '@sobrin/core/topology';
import { type RefObject } from 'react';
import { type Lenses } from '../drawing/lenses';
import { type DrawingView } from '../drawing/view';
import { lazyPart } from '../ui/lazy-part';
import { type Ask } from '../workers/engine-requests';
import { type Facts } from '../workers/facts';
import { type TraceRequest } from '../workers/trace-answer';
import { type Modes } from './modes';
import { type HelpLevel } from './help-level';
import { useBench } from './use-bench';
import { type BenchActions } from './use-bench-actions';
import { type OpenedParts } from './use-opened-parts';
import { Notice } from '../ui/notice';

const KitDialog = lazyPart(() => import('./hands/kit-dialog'));
const FromPlanDialog = lazyPart(() => import('./hands/from-plan-dialog'));
const LinkDialog = lazyPart(() => import('./hands/link-dialog'));
const FileDialogs = lazyPart(() => import('./files/file-dialogs'));
const ReachDialog = lazyPart(() => import('./asking/reach-dialog'));
const ConflictDialog = lazyPart(() => import('./versions/conflict-dialog'));

/** Everything that opens over the bench. */
export function BenchDialogs({
  parts,
  actions,
  setPlacing,
  title,
  help,
  automatic,
  owned,
  plan,
  kit,
  shown,
  facts,
  lenses,
  view,
  ask,
  onSend,
}: {
  parts: OpenedParts;
  actions: BenchActions;
  setPlacing: Modes['setPlacing'];
  title: string;
  help: HelpLevel;
  automatic: boolean;
  owned: boolean;
  plan: PlanOfLab | undefined;
  kit: Policy['kit'];
  /** What the engine says of the links; null where the bench does not tell. */
  /** The drawing as it is looked at. */
  shown: Topology;
  facts: Facts['links'] | null;
  lenses: Lenses;
  view: RefObject<DrawingView | null>;
  ask: Ask;
  onSend: (request: TraceRequest) => void;
}) {
  const { document: topology, selection, save, refusal, dismiss } = useBench((state) => state);
  const { linkChoice, dialog, reachView, notice, answer } = parts;
  return (
    <>
      {parts.isKitOpen && (
        <KitDialog
          topology={topology}
          kit={kit}
          onClose={() => parts.setKitOpen(false)}
          onTake={(model, held) => {
            parts.setKitOpen(false);
            setPlacing({ model, held });
          }}
          onAdd={(model, count) => {
            parts.setKitOpen(false);
            actions.add(model, count);
          }}
        />
      )}
      {parts.isPlanOpen && owned && plan && (
        <FromPlanDialog
          topology={topology}
          plan={plan}
          chosen={selection.devices}
          kit={kit}
          onClose={() => parts.setPlanOpen(false)}
          onTake={(wish) => actions.fromPlan(wish) && parts.setPlanOpen(false)}
        />
      )}
      {linkChoice && (
        <LinkDialog
          key={`${linkChoice.a} ${linkChoice.b} ${linkChoice.replaces?.id}`}
          choice={linkChoice}
          topology={topology}
          helps={help === 'coach'}
          automatic={automatic}
          onClose={() => parts.setLinkChoice(null)}
          onLink={(link, again) => {
            if (linkChoice.replaces) actions.rewire(linkChoice.replaces.id, link);
            else actions.connect(link);
            parts.setLinkChoice(again ? { a: link.a.device, b: null } : null);
          }}
        />
      )}
      {dialog && (
        <FileDialogs
          open={dialog}
          actions={actions}
          owned={owned}
          onRead={parts.setDialog}
          title={title}
          shown={shown}
          facts={facts}
          lenses={lenses}
          view={view}
          onClose={() => parts.setDialog(null)}
        />
      )}
      {reachView && (
        <ReachDialog
          view={reachView}
          topology={topology}
          title={title}
          ask={ask}
          onView={parts.setReachView}
          onTrace={(request) => {
            parts.setReachView(null);
            onSend(request);
          }}
          onClose={() => parts.setReachView(null)}
        />
      )}
      {save.kind === 'conflict' && <ConflictDialog />}
      <Notice text={refusal} onClose={dismiss} />
      <Notice text={notice} onClose={() => parts.setNotice(null)} />
      <Notice text={answer} severity="info" onClose={() => parts.setAnswer(null)} />
    </>
  );
}
