import { lazyPart } from '../ui/lazy-part';
import { usePlanSetting } from './use-plan';
import { type PlanDialog } from './use-plan-actions';

const CompareDialog = lazyPart(() => import('./dialogs/compare-dialog'));
const DivideDialog = lazyPart(() => import('./dialogs/divide-dialog'));
const PasteDialog = lazyPart(() => import('./dialogs/paste-dialog'));
const TableDialog = lazyPart(() => import('./dialogs/table-dialog'));
const WorkingsDialog = lazyPart(() => import('./dialogs/workings-dialog'));

/** What opens over the plan. */
export function PlanDialogs({
  dialog,
  onClose,
  onTold,
}: {
  dialog: PlanDialog;
  onClose: () => void;
  onTold: (text: string) => void;
}) {
  const { title, drawingId } = usePlanSetting();
  switch (dialog.kind) {
    case 'divide':
      return <DivideDialog node={dialog.node} first={dialog.first} onClose={onClose} />;
    case 'paste':
      return <PasteDialog onClose={onClose} />;
    case 'compare':
      return drawingId === null ? null : <CompareDialog drawingId={drawingId} onClose={onClose} />;
    case 'workings':
      return <WorkingsDialog start={dialog.start} title={title} onClose={onClose} />;
    case 'table':
      return <TableDialog drawingId={drawingId} onClose={onClose} onTold={onTold} />;
  }
}
