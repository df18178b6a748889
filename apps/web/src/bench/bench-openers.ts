import { NOTHING } from '../drawing/selection';
import { type Asking } from './asking/use-asking';
import { type Arranging } from './hands/use-arrange';
import { type Pictures } from './hands/use-pictures';
import { type Modes } from './modes';
import { type BenchStore } from './bench-store';
import { type SignInQuestion } from '../workers/engine-requests';
import { type BenchOpeners } from './use-bench-actions';
import { type OpenedParts } from './use-opened-parts';

/** What menus, keys and the command field open, each in the part of the bench that shows it. */
export function benchOpeners({
  store,
  parts,
  modes,
  pictures,
  arranging,
  asking,
  showsEngine,
  owned,
  hasPlan,
}: {
  store: BenchStore;
  parts: OpenedParts;
  modes: Modes;
  pictures: Pictures;
  arranging: Arranging;
  asking: Asking;
  /** Whether the lab lets the bench answer what the engine says. */
  showsEngine: boolean;
  owned: boolean;
  hasPlan: boolean;
}): BenchOpeners {
  const whereAllowed =
    <A extends unknown[]>(run: (...asked: A) => void) =>
    (...asked: A): void =>
      showsEngine ? run(...asked) : parts.setNotice('In this lab the bench does not say who reaches whom.');
  return {
    kit: () => parts.setKitOpen(true),
    ...(hasPlan && { fromPlan: () => parts.setPlanOpen(true) }),
    arrange: arranging.start,
    link: parts.setLinkChoice,
    linking: modes.setLinking,
    marquee: modes.setMarquee,
    comment: modes.setTalk,
    picture: (beneath, middle) => {
      modes.setTalk(null);
      pictures.choose(beneath, middle);
    },
    rename: parts.setRenaming,
    list: (sheet, devices) => parts.setListed({ sheet, devices }),
    trace: whereAllowed((from: string, to: string, typed?: string) => asking.send({ from, to, typed }, null)),
    signIn: whereAllowed((question: SignInQuestion) => void asking.signIn(question).then(parts.setAnswer)),
    call: whereAllowed((from: string, to: string) => void asking.call({ from, to }).then(parts.setAnswer)),
    plug: whereAllowed((device: string, port: string) => void asking.plug({ device, port }).then(parts.setAnswer)),
    tables: whereAllowed(modes.setTabled),
    ask: whereAllowed(parts.setReachView),
    about: () => {
      parts.setAboutShown(true);
      store.getState().select(NOTHING);
    },
    save: () => parts.setDialog('save'),
    text: () => parts.setTextOpen(!parts.isTextOpen),
    versions: () => parts.setDialog('versions'),
    ...(owned && { sharing: () => parts.setDialog('sharing'), begin: () => parts.setDialog('begin') }),
    read: parts.setDialog,
    tell: parts.setNotice,
  };
}
