import { type Topology } from '@sobrin/core';
import { type ComponentProps, type RefObject, Suspense, lazy } from 'react';
import { type DrawingView } from '../drawing/view';
import { type Found } from './drawing-files';
import { BeginDialog } from './begin-dialog';
import { ReadDialog } from './read-dialog';
import { ShowingDialog } from './showing-dialog';
import { useBench } from './use-bench';
import { type BenchActions } from './use-bench-actions';
import { VersionsDialog } from './versions-dialog';

/** It brings much along, and not everybody wants it. */
const SaveDialog = lazy(() => import('./save-dialog'));

/** What is open of the dialogs about the drawing as a whole: saving it, its versions, showing it, or a file that was read. */
export type FileDialog = 'save' | 'versions' | 'showing' | 'begin' | Found;

export function FileDialogs({
  open,
  actions,
  owned,
  onRead,
  onClose,
  ...saving
}: {
  open: FileDialog | null;
  actions: BenchActions;
  /** Whether it is the reference of the lab around it, of somebody who teaches. */
  owned: boolean;
  /** Shows what was found before it is taken. */
  onRead: (found: Found) => void;
  onClose: () => void;
  view: RefObject<DrawingView | null>;
} & Pick<ComponentProps<typeof SaveDialog>, 'title' | 'facts' | 'lenses'>) {
  const topology = useBench((state) => state.document);
  const take = (title: string, taken: Topology): void => {
    onClose();
    actions.takeDrawing(title, taken);
  };
  switch (open) {
    case null:
      return null;
    case 'save':
      return (
        <Suspense fallback={null}>
          <SaveDialog topology={topology} {...saving} onClose={onClose} />
        </Suspense>
      );
    case 'versions':
      return (
        <VersionsDialog
          title={saving.title}
          owned={owned}
          onRestore={(version) => take('go back to a version', version)}
          onClose={onClose}
        />
      );
    case 'begin':
      return <BeginDialog onRead={onRead} onClose={onClose} />;
    case 'showing':
      return <ShowingDialog onClose={onClose} />;
    default:
      return (
        <ReadDialog
          {...open}
          topology={topology}
          onReplace={() => take('take the drawing of a file', open.read.topology)}
          onAdd={() => {
            onClose();
            actions.addDrawing(open.read.topology);
          }}
          onClose={onClose}
        />
      );
  }
}
