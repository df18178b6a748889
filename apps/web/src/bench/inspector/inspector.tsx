import { type Policy } from '@sobrin/core/spec';
import { SidePanel } from '../../ui/side-panel';
import { type Facts } from '../../workers/facts';
import { useBench } from '../use-bench';
import { type MenuEntry } from '../bench-menu';
import { DeviceInspector } from './device-inspector';
import { DocumentInspector } from './document-inspector';
import { LinkInspector } from './link-inspector';
import { NoteInspector } from './note-inspector';
import { PictureInspector } from './picture-inspector';
import { SeveralInspector } from './several-inspector';
import { SiteInspector } from './site-inspector';

/** What is chosen, opened at the right: one device, link or site; what several have in common; else the drawing itself. */
export default function Inspector({
  facts,
  showDocument,
  showsEngine,
  menu,
  modules,
}: {
  facts: Facts;
  showDocument: boolean;
  showsEngine: boolean;
  menu: readonly MenuEntry[];
  modules: Policy['modules'];
}) {
  const selection = useBench((state) => state.selection);
  const { devices, links, sites, notes = [], pictures = [] } = selection;
  const count = devices.length + links.length + sites.length + notes.length + pictures.length;
  if (count === 0 && !showDocument) return null;
  return (
    <SidePanel label="Inspector">
      {count === 0 && <DocumentInspector />}
      {count > 1 && <SeveralInspector menu={menu} />}
      {count === 1 && devices[0] !== undefined && (
        <DeviceInspector key={devices[0]} id={devices[0]} facts={facts} showsEngine={showsEngine} modules={modules} />
      )}
      {count === 1 && links[0] !== undefined && (
        <LinkInspector key={links[0]} id={links[0]} facts={facts} showsEngine={showsEngine} />
      )}
      {count === 1 && sites[0] !== undefined && <SiteInspector key={sites[0]} id={sites[0]} />}
      {count === 1 && pictures[0] !== undefined && <PictureInspector key={pictures[0]} id={pictures[0]} />}
      {count === 1 && notes[0] !== undefined && <NoteInspector key={notes[0]} id={notes[0]} />}
    </SidePanel>
  );
}
