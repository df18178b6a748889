import { Box, Button } from '@mui/material';
import { plural } from '@sobrin/core';
import { type Command, modelOf } from '@sobrin/core/topology';
import { Choice, Row } from '../../ui/fields';
import { Heading, Part } from '../../ui/sections';
import { useBench } from '../use-bench';
import { type MenuEntry } from '../bench-menu';
import { RemoveButton } from './remove-button';
import { SeveralHosts } from './several-hosts';
import { siteChoices } from './site-choices';
import { TintChoice } from './tint-choice';

const MIXED = ' ';

/** Several things at once: what they are, what can be set for all of them, and how to line them up. */
export function SeveralInspector({ menu }: { menu: readonly MenuEntry[] }) {
  const { document: topology, selection, do: run } = useBench((state) => state);
  const { devices, links, sites, notes = [], pictures = [] } = selection;
  const words = [
    devices.length && plural(devices.length, 'device'),
    links.length && plural(links.length, 'link'),
    sites.length && plural(sites.length, 'site'),
    notes.length && plural(notes.length, 'note'),
    pictures.length && plural(pictures.length, 'picture'),
  ].filter(Boolean);
  const kinds = new Map<string, number>();
  for (const id of devices) {
    const device = topology.devices[id]!;
    const name = modelOf(topology, device)?.name ?? device.model;
    kinds.set(name, (kinds.get(name) ?? 0) + 1);
  }
  const siteOf = (id: string): string => topology.devices[id]!.site ?? '';
  const [first] = devices;
  const site = first !== undefined && devices.every((id) => siteOf(id) === siteOf(first)) ? siteOf(first) : MIXED;
  const powerOf = (id: string): string => (topology.devices[id]!.powered === false ? 'off' : 'on');
  const power = first !== undefined && devices.every((id) => powerOf(id) === powerOf(first)) ? powerOf(first) : MIXED;
  const tint = first === undefined ? undefined : topology.devices[first]!.tint;
  const setAll = (title: string, set: Record<string, unknown>): void =>
    void run(title, ...devices.map((id): Command => ({ kind: 'setDevice', id, set })));
  return (
    <>
      <Heading
        title={words.join(', ')}
        under={[...kinds].map(([name, count]) => `${name} ×${count}`).join(', ') || 'Links between devices'}
      />
      {devices.length > 0 && (
        <>
          <Row label="Site">
            <Choice
              label="Site of all of them"
              value={site}
              options={[
                ...(site === MIXED ? [{ value: MIXED, text: 'different ones' }] : []),
                { value: '', text: 'none' },
                ...siteChoices(topology),
              ]}
              onChange={(next) => next !== MIXED && setAll('move to a site', { site: next || null })}
            />
          </Row>
          <Row label="Power">
            <Choice
              label="Power of all of them"
              value={power}
              options={[
                ...(power === MIXED ? [{ value: MIXED, text: 'different' }] : []),
                { value: 'on', text: 'on' },
                { value: 'off', text: 'off' },
              ]}
              onChange={(next) =>
                next !== MIXED && setAll(`switch ${next}`, { powered: next === 'off' ? false : null })
              }
            />
          </Row>
          <Row label="Tint">
            <TintChoice
              label="Tint of all of them"
              now={devices.every((id) => topology.devices[id]!.tint === tint) ? tint : null}
              onChange={(next) => setAll('tint devices', { tint: next })}
            />
          </Row>
          <SeveralHosts ids={devices} />
          <Part title="Line up">
            <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.5 }}>
              {menu
                .filter((entry) => entry.group === 'arrange' && !entry.off && entry.id !== 'arrange')
                .map((entry) => (
                  <Button
                    key={entry.id}
                    size="small"
                    variant="outlined"
                    onClick={entry.run}
                    sx={{
                      justifyContent: 'flex-start',
                      whiteSpace: 'nowrap',
                      px: 1,
                      ...(entry.id === 'arrange-chosen' && { gridColumn: '1 / -1' }),
                    }}
                  >
                    {entry.text}
                  </Button>
                ))}
            </Box>
          </Part>
        </>
      )}
      <RemoveButton what="all of them" />
    </>
  );
}
