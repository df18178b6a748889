import { Menu } from '@mui/material';
import { type Spot } from '@sobrin/core/drawing';
import { type PortSpot } from '../drawing/menu-target';
import { type Selection, isNothing } from '../drawing/selection';
import { menuEntries } from '../ui/menu-entries';
import { type MenuEntry } from './bench-menu';

/** What can be done with what is chosen, by the ids of the menu of the bench, in groups. */
const OF_DEVICES = [
  ['rename', 'link', 'link-choose', 'comment'],
  ['duplicate', 'switch-on', 'switch-off', 'group', 'ungroup', 'front', 'back', 'arrange-chosen'],
  ['tables', 'trace', 'sign-in'],
  ['same-kind', 'same-site'],
  ['remove'],
];
const OF_LINKS = [['straighten', 'break', 'mend', 'comment'], ['remove']];
const OF_SITES = [['arrange-chosen'], ['remove']];
const OF_NOTES = [['remove']];
const OF_SHEET = [
  ['kit', 'link', 'site', 'note', 'comment'],
  ['all', 'box', 'lasso', 'arrange', 'show-all'],
  ['grid', 'counts'],
  ['text', 'about', 'save'],
];

const idsFor = ({ devices, links, sites }: Selection, isSheet: boolean): string[][] =>
  isSheet ? OF_SHEET : devices.length ? OF_DEVICES : links.length ? OF_LINKS : sites.length ? OF_SITES : OF_NOTES;

export interface ContextMenuProps {
  /** Where on the screen: it stays there while it closes. */
  at: Spot;
  /** The port at whose chip it is asked for. */
  port: PortSpot | null;
  open: boolean;
  menu: readonly MenuEntry[];
  selection: Selection;
  /** What can be done with a port. */
  ofPort: (port: PortSpot) => MenuEntry[];
  onClose: () => void;
}

/** The menu at the pointer, of what is chosen or of the sheet: the same entries as in the bar, those that go. */
export function ContextMenu({ at, port, open, menu, selection, ofPort, onClose }: ContextMenuProps) {
  const ports = port ? ofPort(port).map((entry) => ({ ...entry, group: 'port' })) : [];
  const chosen = idsFor(selection, isNothing(selection)).flatMap((ids, group) =>
    ids.flatMap((id) => {
      const entry = menu.find((each) => each.id === id);
      return entry && !entry.off ? [{ ...entry, group: String(group) }] : [];
    }),
  );
  return (
    <Menu
      open={open}
      onClose={onClose}
      // While it faded it would take the next click.
      transitionDuration={0}
      anchorReference="anchorPosition"
      anchorPosition={{ left: at.x, top: at.y }}
      // Another place is asked for while it is open: it closes, as menus at the pointer do.
      onContextMenu={(event) => {
        event.preventDefault();
        onClose();
      }}
    >
      {menuEntries([...ports, ...chosen], onClose)}
    </Menu>
  );
}
