import { type Device, type Settings, filled } from '@sobrin/core/topology';
import { Choice, Row } from '../../ui/fields';
import { ListPart } from '../../ui/list-part';
import { Fold } from '../../ui/sections';
import { prefixProblem } from './checks';
import { OSPF, OspfPart } from './ospf-part';
import { RoutesPart } from './routes-part';
import { useSettings } from './use-settings';

type Rip = NonNullable<Settings['rip']>;

/** Static routes and the routing protocols of a router. */
export function RoutingParts({ id, device }: { id: string; device: Device }) {
  const { settings, set } = useSettings(id, device);
  const { rip } = settings;
  const setRip = (change: { [K in keyof Rip]?: Rip[K] | undefined }): void =>
    set('change RIP', { rip: filled({ ...rip, ...change }) });
  return (
    <>
      <RoutesPart id={id} device={device} />
      {OSPF.map((version) => (
        <OspfPart key={version.key} id={id} device={device} version={version} />
      ))}
      <Fold title="RIP" aside={rip ? 'on' : 'off'} startOpen={rip !== undefined}>
        <ListPart<{ prefix: string }>
          title="Networks of RIP"
          entryName="network"
          entries={(rip?.networks ?? []).map((prefix) => ({ prefix }))}
          blank={{ prefix: '' }}
          onStore={(list) => setRip({ networks: list.length ? list.map((network) => network.prefix) : undefined })}
          columns={[
            {
              label: 'prefix',
              width: 'minmax(0, 1fr)',
              mono: true,
              check: prefixProblem,
              read: (network) => network.prefix,
              write: (_one, prefix) => ({ prefix }),
            },
          ]}
        />
        <Row label="Default">
          <Choice
            label="Default route told by RIP"
            value={rip?.defaultOriginate ? 'on' : 'off'}
            options={[
              { value: 'off', text: 'not told' },
              { value: 'on', text: 'told' },
            ]}
            onChange={(value) => setRip({ defaultOriginate: value === 'on' ? true : undefined })}
          />
        </Row>
      </Fold>
    </>
  );
}
