import { type Device, type Settings } from '@sobrin/core/topology';
import { Choice, Row, TextInput } from '../../ui/fields';
import { ListPart } from '../../ui/list-part';
import { Fold } from '../../ui/sections';
import { addressProblem, prefixProblem } from './checks';
import { RoutesPart } from './routes-part';
import { useSettings } from './use-settings';

type Ospf = NonNullable<Settings['ospf']>;
type Rip = NonNullable<Settings['rip']>;
type OspfNetwork = NonNullable<Ospf['networks']>[number];

const areaProblem = (text: string): string | null =>
  /^\d{1,10}$/.test(text) && Number(text) <= 0xffffffff ? null : 'An area is a number, 0 for the backbone.';

const wordsOf = (text: string): string[] => [
  ...new Set(
    text
      .toLowerCase()
      .split(/[\s,;]+/)
      .filter(Boolean),
  ),
];
const sourcesProblem = (text: string): string | null =>
  wordsOf(text).every((word) => ['connected', 'static', 'rip'].includes(word))
    ? null
    : 'OSPF takes over what is connected, static or learnt by rip: write these words with commas.';

/** Static routes and the two routing protocols of a router. */
export function RoutingParts({ id, device }: { id: string; device: Device }) {
  const { settings, set } = useSettings(id, device);
  const { ospf, rip } = settings;
  const setOspf = (change: { [K in keyof Ospf]?: Ospf[K] | undefined }): void =>
    set('change OSPF', { ospf: without({ ...ospf, ...change }) });
  const setRip = (change: { [K in keyof Rip]?: Rip[K] | undefined }): void =>
    set('change RIP', { rip: without({ ...rip, ...change }) });
  return (
    <>
      <RoutesPart id={id} device={device} />
      <Fold title="OSPF" aside={ospf ? 'on' : 'off'} startOpen={ospf !== undefined}>
        <Row label="Router id">
          <TextInput
            label="OSPF router id"
            mono
            placeholder="highest address"
            value={ospf?.routerId ?? ''}
            check={addressProblem}
            onCommit={(text) => setOspf({ routerId: text || undefined })}
          />
        </Row>
        <ListPart<OspfNetwork>
          title="Networks of OSPF"
          entryName="network"
          entries={ospf?.networks ?? []}
          blank={{ prefix: '', area: 0 }}
          onStore={(networks) => setOspf({ networks: networks.length ? networks : undefined })}
          columns={[
            {
              label: 'prefix',
              width: 'minmax(0, 1fr)',
              mono: true,
              check: prefixProblem,
              read: (network) => network.prefix,
              write: (network, prefix) => ({ ...network, prefix }),
            },
            {
              label: 'area',
              width: '64px',
              mono: true,
              strict: true,
              check: areaProblem,
              read: (network) => String(network.area),
              write: (network, area) => ({ ...network, area: Number(area) }),
            },
          ]}
        />
        <Row label="Takes over">
          <TextInput
            label="What OSPF takes over"
            placeholder="nothing"
            value={(ospf?.redistribute ?? []).join(', ')}
            check={sourcesProblem}
            onCommit={(text) => setOspf({ redistribute: text ? (wordsOf(text) as Ospf['redistribute']) : undefined })}
          />
        </Row>
        {ospf?.redistribute && (
          <Row label="Tells it as">
            <Choice
              label="Type of what OSPF takes over"
              value={String(ospf.externalType ?? 2) as '1' | '2'}
              options={[
                { value: '2', text: 'type 2: the way to here costs nothing' },
                { value: '1', text: 'type 1: with the way to here' },
              ]}
              onChange={(value) => setOspf({ externalType: value === '1' ? 1 : undefined })}
            />
          </Row>
        )}
        <Row label="Default">
          <Choice
            label="Default route told by OSPF"
            value={ospf?.defaultOriginate ?? ''}
            options={[
              { value: '', text: 'not told' },
              { value: 'if-present', text: 'told where there is one' },
              { value: 'always', text: 'always told' },
            ]}
            onChange={(value) => setOspf({ defaultOriginate: value === '' ? undefined : value })}
          />
        </Row>
      </Fold>
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

const without = (value: object): object =>
  Object.fromEntries(Object.entries(value).filter(([, setting]) => setting !== undefined));
