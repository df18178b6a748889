import { Typography } from '@mui/material';
import { plural } from '@sobrin/core';
import { sitesWithin } from '@sobrin/core/drawing';
import { type Site } from '@sobrin/core/topology';
import { Choice, Row, TextInput } from '../../ui/fields';
import { useBench } from '../use-bench';
import { Heading } from '../../ui/sections';
import { RemoveButton } from './remove-button';
import { siteChoices } from './site-choices';

const KINDS = [
  { value: 'lan', text: 'local site' },
  { value: 'wan', text: 'wide area' },
  { value: 'provider', text: 'provider' },
] as const;

export function SiteInspector({ id }: { id: string }) {
  const { document: topology, do: run } = useBench((state) => state);
  const site = topology.sites[id];
  if (!site) return null;
  const set = (change: Partial<Site>): void => void run('change the site', { kind: 'changeSite', id, set: change });
  const inside = sitesWithin(topology, id);
  const members = Object.values(topology.devices).filter((device) => device.site === id).length;
  const setParent = (value: string): void =>
    void run('nest the site', { kind: 'changeSite', id, set: { parent: value || null } });
  return (
    <>
      <Heading title={site.name} under={`Site with ${plural(members, 'device')}`} />
      <Row label="Name">
        <TextInput label="Name of the site" value={site.name} maxLength={80} onCommit={(name) => set({ name })} />
      </Row>
      <Row label="Kind">
        <Choice label="Kind of site" value={site.kind ?? 'lan'} options={KINDS} onChange={(kind) => set({ kind })} />
      </Row>
      <Row label="Lies in">
        <Choice
          label="Lies in"
          value={site.parent ?? ''}
          options={[
            { value: '', text: 'no other site' },
            ...siteChoices(topology).filter(({ value }) => !inside.has(value)),
          ]}
          onChange={setParent}
        />
      </Row>
      <Typography variant="body2" color="text.secondary" sx={{ mt: 1 }}>
        Devices belong to a site by their own field “Site”. Removing a site leaves them where they are.
      </Typography>
      <RemoveButton what="this site" />
    </>
  );
}
