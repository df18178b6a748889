import { plural } from '@sobrin/core';
import { countUp } from '@sobrin/core/editing';
import { type Device, type Settings, entriesById, portsOf } from '@sobrin/core/topology';
import { ListPart } from '../../ui/list-part';
import { Fold } from '../../ui/sections';
import { useBench } from '../use-bench';
import { wordsOf } from './checks';
import { useSettings } from './use-settings';

type Firewall = NonNullable<Settings['firewall']>;
type Policy = Firewall['policies'][number];
interface Zone {
  key: string;
  name: string;
  interfaces: string[];
}

/** Zones of a firewall, and what may pass from one to another: the first policy that fits decides, and where none does nothing passes. */
export function ZonesPart({ id, device }: { id: string; device: Device }) {
  const topology = useBench((state) => state.document);
  const { settings, set } = useSettings(id, device);
  const { zones: stored = {}, policies = [] } = settings.firewall ?? {};
  const zones = entriesById(stored).map(([key, zone]): Zone => ({ key, ...zone }));
  const known = [
    ...new Set([...Object.keys(device.interfaces ?? {}), ...portsOf(topology, device).map(({ key }) => key)]),
  ];
  const filters = entriesById(settings.filters).map(([key]) => key);
  const store = (list: readonly Zone[], next: Policy[]): void =>
    set('change the zones', {
      firewall: list.length
        ? {
            zones: Object.fromEntries(list.map(({ key, ...zone }) => [key, zone])),
            // What speaks of a zone goes with it.
            policies: next.filter(({ from, to }) => [from, to].every((zone) => list.some(({ key }) => key === zone))),
          }
        : null,
    });
  const choices = zones.map(({ key, name }) => ({ value: key, text: name }));
  return (
    <Fold title="Zones" aside={zones.length ? plural(zones.length, 'zone') : 'none'} startOpen={zones.length > 0}>
      <ListPart<Zone>
        title="Zones of the firewall"
        entryName="zone"
        entries={zones}
        blank={{ key: '', name: '', interfaces: [] }}
        onStore={(list) => {
          const taken = new Set(list.map(({ key }) => key).filter(Boolean));
          store(
            list.map((zone) => (zone.key ? zone : { ...zone, key: countUp('zone-0', taken) })),
            policies,
          );
        }}
        columns={[
          {
            label: 'name',
            width: 'minmax(0, 1fr)',
            check: (name) =>
              zones.filter((zone) => zone.name === name).length > 1 ? `Another zone is called “${name}” too.` : null,
            read: (zone) => zone.name,
            write: (zone, name) => ({ ...zone, name }),
          },
          {
            label: 'interfaces',
            width: 'minmax(0, 1fr)',
            mono: true,
            placeholder: 'g0, g1.20',
            check: (text) => {
              const words = wordsOf(text);
              const wrong = words.find((word) => !known.includes(word));
              if (wrong !== undefined) return `There is no interface “${wrong}” here.`;
              const twice = words.find((word) => zones.filter((zone) => zone.interfaces.includes(word)).length > 1);
              return twice === undefined ? null : `“${twice}” is in two zones: the first one counts.`;
            },
            suggestions: known,
            read: (zone) => zone.interfaces.join(', '),
            write: (zone, text) => ({ ...zone, interfaces: wordsOf(text) }),
          },
        ]}
      />
      {zones.length > 1 && (
        <ListPart<Policy>
          title="What passes between them"
          entryName="policy"
          entries={policies}
          blank={{ from: '', to: '', action: 'permit' }}
          onStore={(next) => store(zones, next)}
          columns={[
            {
              label: 'from',
              width: 'minmax(0, 1fr)',
              choices: [
                { value: '', text: 'from …' },
                ...choices.map(({ value, text }) => ({ value, text: `from ${text}` })),
              ],
              read: ({ from }) => from,
              write: (policy, from) => ({
                ...policy,
                from,
                to: policy.to || (zones.find(({ key }) => key !== from)?.key ?? from),
              }),
            },
            {
              label: 'to',
              width: 'minmax(0, 1fr)',
              choices: choices.map(({ value, text }) => ({ value, text: `to ${text}` })),
              read: ({ to }) => to,
              write: (policy, to) => ({ ...policy, to }),
            },
            {
              label: 'decision',
              width: '',
              below: true,
              choices: ['permit', 'deny'].map((value) => ({ value, text: value })),
              read: ({ action }) => action,
              write: (policy, action) => ({ ...policy, action: action as Policy['action'] }),
            },
            {
              label: 'what',
              width: '',
              below: true,
              choices: [{ value: '', text: 'everything' }, ...filters.map((value) => ({ value, text: value }))],
              read: ({ filter }) => filter ?? '',
              write: ({ filter: _old, ...policy }, filter) => ({ ...policy, ...(filter && { filter }) }),
            },
          ]}
        />
      )}
      {zones.length > 0 && (
        <p style={{ color: 'var(--ink2)', fontSize: 12, margin: '4px 0 0' }}>
          Between zones nothing passes that no policy permits; answers to what was let through do.
        </p>
      )}
    </Fold>
  );
}
