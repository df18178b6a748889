import { useState } from 'react';
import { type ReachView } from './asking/reach-dialog';
import { type FileDialog } from './files/file-dialogs';
import { type LinkChoice } from './hands/link-dialog';
import { type Listed } from './strip/strip';

/** What is open on the bench beside its drawing: dialogs, panels, a sheet of the strip, a sentence that is told. */
export function useOpenedParts(firstNotice: string | null, isPlanAsked: boolean) {
  const [isKitOpen, setKitOpen] = useState(false);
  /** Whether one chooses what is taken from the plan. */
  const [isPlanOpen, setPlanOpen] = useState(isPlanAsked);
  const [linkChoice, setLinkChoice] = useState<LinkChoice | null>(null);
  const [listed, setListed] = useState<Listed | null>(null);
  /** The device whose name is typed on its tile. */
  const [renaming, setRenaming] = useState<string | null>(null);
  /** Whether the inspector shows the drawing itself. */
  const [isAboutShown, setAboutShown] = useState(false);
  const [dialog, setDialog] = useState<FileDialog | null>(null);
  const [reachView, setReachView] = useState<ReachView | null>(null);
  const [isTextOpen, setTextOpen] = useState(false);
  const [notice, setNotice] = useState(firstNotice);
  /** What was answered to a question, as a sentence. */
  const [answer, setAnswer] = useState<string | null>(null);
  return {
    isKitOpen,
    setKitOpen,
    isPlanOpen,
    setPlanOpen,
    linkChoice,
    setLinkChoice,
    listed,
    setListed,
    renaming,
    setRenaming,
    isAboutShown,
    setAboutShown,
    dialog,
    setDialog,
    reachView,
    setReachView,
    isTextOpen,
    setTextOpen,
    notice,
    setNotice,
    answer,
    setAnswer,
  };
}
export type OpenedParts = ReturnType<typeof useOpenedParts>;
