import { Box } from '@mui/material';
import { counted } from '@sobrin/core';
import { type Facts } from '../../workers/facts';
import { useBench } from '../use-bench';
import { DeviceInspector } from './device-inspector';
import { DocumentInspector } from './document-inspector';
import { LinkInspector } from './link-inspector';
import { NoteInspector } from './note-inspector';
import { Heading } from '../../ui/sections';
import { RemoveButton } from './remove-button';
import { SiteInspector } from './site-inspector';

/** What is chosen, opened at the right: one device, link or site; what several have in common; else the drawing itself. */
export function Inspector({ facts, showDocument, tells }: { facts: Facts; showDocument: boolean; tells: boolean }) {
  const selection = useBench((state) => state.selection);
  const { devices, links, sites, notes = [] } = selection;
  const count = devices.length + links.length + sites.length + notes.length;
  if (count === 0 && !showDocument) return null;
  return (
    <Box
      component="aside"
      aria-label="Inspector"
      sx={{
        width: 304,
        flex: 'none',
        borderLeft: '1px solid var(--line)',
        background: 'var(--surface)',
        overflow: 'auto',
        p: 2,
        pb: 4,
      }}
    >
      {count === 0 && <DocumentInspector />}
      {count > 1 && <Several />}
      {count === 1 && devices[0] !== undefined && (
        <DeviceInspector key={devices[0]} id={devices[0]} facts={facts} tells={tells} />
      )}
      {count === 1 && links[0] !== undefined && (
        <LinkInspector key={links[0]} id={links[0]} facts={facts} tells={tells} />
      )}
      {count === 1 && sites[0] !== undefined && <SiteInspector key={sites[0]} id={sites[0]} />}
      {count === 1 && notes[0] !== undefined && <NoteInspector key={notes[0]} id={notes[0]} />}
    </Box>
  );
}

function Several() {
  const { devices, links, sites, notes = [] } = useBench((state) => state.selection);
  const words = [
    devices.length && counted(devices.length, 'device'),
    links.length && counted(links.length, 'link'),
    sites.length && counted(sites.length, 'site'),
    notes.length && counted(notes.length, 'note'),
  ].filter(Boolean);
  return (
    <>
      <Heading title={words.join(', ')} under="Drag them, or move them with the arrow keys." />
      <RemoveButton what="all of them" />
    </>
  );
}
