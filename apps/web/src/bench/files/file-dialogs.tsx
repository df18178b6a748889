import { type Topology } from '@sobrin/core/topology';
import { type ComponentProps, type RefObject } from 'react';
import { type DrawingView } from '../../drawing/view';
import { lazyPart } from '../../ui/lazy-part';
import { type Found } from './drawing-files';
import { ReadDialog } from './read-dialog';
import { useBench } from '../use-bench';
import { type BenchActions } from '../use-bench-actions';

const SaveDialog = lazyPart(() => import('./save-dialog'));
const VersionsDialog = lazyPart(() => import('../versions/versions-dialog'));
const BeginDialog = lazyPart(() => import('./begin-dialog'));
const SharingDialog = lazyPart(() => import('./sharing-dialog'));

/** What is open of the dialogs about the drawing as a whole: saving it, its versions, showing it, or a file that was read. */
export type FileDialog = 'save' | 'versions' | 'sharing' | 'begin' | Found;

export default function FileDialogs({
  open,
  actions,
  owned,
  onRead,
  onClose,
  ...saving
}: {
  open: FileDialog;
  actions: BenchActions;
  /** Whether it is the reference of the lab around it, of somebody who teaches. */
  owned: boolean;
  /** Shows what was found before it is taken. */
  onRead: (found: Found) => void;
  onClose: () => void;
  view: RefObject<DrawingView | null>;
} & Pick<ComponentProps<typeof SaveDialog>, 'title' | 'shown' | 'facts' | 'lenses'>) {
  const topology = useBench((state) => state.document);
  const take = (title: string, taken: Topology): void => {
    onClose();
    actions.takeDrawing(title, taken);
  };
  switch (open) {
    case 'save':
      return <SaveDialog topology={topology} {...saving} onClose={onClose} />;
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
    case 'sharing':
      return <SharingDialog onClose={onClose} />;
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
