import { type Device, type Interface, type Settings, filled } from '@sobrin/core/topology';
import { Choice, Row, TextInput } from '../../ui/fields';
import { ListPart } from '../../ui/list-part';
import { Fold } from '../../ui/sections';
import { addressProblem, numberFrom, prefixProblem, wordsOf } from './checks';
import { useSettings } from './use-settings';

type Ospf = NonNullable<Settings['ospf']>;
type OspfNetwork = NonNullable<Ospf['networks']>[number];
type InterfaceOspf = NonNullable<Interface['ospf']>;

/** The two versions, one for each family, and where their settings are. */
export const OSPF = [
  { key: 'ospf', name: 'OSPF' },
  { key: 'ospf6', name: 'OSPFv3' },
] as const;
type OspfVersion = (typeof OSPF)[number];

const areaProblem = numberFrom(0, 0xffffffff, 'An area, 0 for the backbone,');
const costProblem = numberFrom(1, 65535, 'A cost');
const priorityProblem = numberFrom(0, 255, 'A priority');

const sourcesProblem = (text: string): string | null =>
  wordsOf(text.toLowerCase()).every((word) => ['connected', 'static', 'rip'].includes(word))
    ? null
    : 'OSPF takes over what is connected, static or learnt by rip: write these words with commas.';

/** OSPF for one family: its id, its networks, what it takes over and what it tells. */
export function OspfPart({ id, device, version: { key, name } }: { id: string; device: Device; version: OspfVersion }) {
  const { settings, set } = useSettings(id, device);
  const ospf = settings[key];
  const setOspf = (change: { [K in keyof Ospf]?: Ospf[K] | undefined }): void =>
    set(`change ${name}`, { [key]: filled({ ...ospf, ...change }) });
  return (
    <Fold title={name} aside={ospf ? 'on' : 'off'} startOpen={ospf !== undefined}>
      <Row label="Router id">
        <TextInput
          label={`${name} router id`}
          mono
          placeholder="highest address"
          value={ospf?.routerId ?? ''}
          check={addressProblem}
          onCommit={(text) => setOspf({ routerId: text || undefined })}
        />
      </Row>
      <ListPart<OspfNetwork>
        title={`Networks of ${name}`}
        entryName="network"
        entries={ospf?.networks ?? []}
        blank={{ prefix: '', area: 0 }}
        onStore={(networks) => setOspf({ networks })}
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
          label={`What ${name} takes over`}
          placeholder="nothing"
          strict
          value={(ospf?.redistribute ?? []).join(', ')}
          check={sourcesProblem}
          onCommit={(text) => setOspf({ redistribute: wordsOf(text.toLowerCase()) as Ospf['redistribute'] })}
        />
      </Row>
      {ospf?.redistribute && (
        <Row label="Tells it as">
          <Choice
            label={`Type of what ${name} takes over`}
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
          label={`Default route told by ${name}`}
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
  );
}

/** What OSPF does on one interface. */
export function OspfFields({
  version: { name },
  interfaceName,
  ospf = {},
  isOn,
  onChange,
}: {
  version: OspfVersion;
  /** Key of the interface. */
  interfaceName: string;
  ospf: InterfaceOspf | undefined;
  /** Whether the router speaks it: what is set here while it does not is shown all the same. */
  isOn: boolean;
  onChange: (ospf: InterfaceOspf | undefined) => void;
}) {
  const put = (change: { [K in keyof InterfaceOspf]?: InterfaceOspf[K] | undefined }): void =>
    onChange(filled({ ...ospf, ...change }));
  const number = (
    label: string,
    key: 'area' | 'cost' | 'priority',
    placeholder: string,
    check: (text: string) => string | null,
  ) => (
    <Row label={`${name === 'OSPF' ? 'OSPF' : 'v3'} ${label}`}>
      <TextInput
        label={`${name} ${label} of ${interfaceName}`}
        mono
        strict
        placeholder={placeholder}
        value={ospf[key] === undefined ? '' : String(ospf[key])}
        check={check}
        onCommit={(text) => put({ [key]: text ? Number(text) : undefined })}
      />
    </Row>
  );
  if (!isOn && !Object.keys(ospf).length) return null;
  return (
    <>
      {number('area', 'area', 'by its networks', areaProblem)}
      {number('cost', 'cost', 'by speed', costProblem)}
      {number('priority', 'priority', '1', priorityProblem)}
      <Row label={name === 'OSPF' ? 'OSPF talks' : 'v3 talks'}>
        <Choice
          label={`${name} on ${interfaceName}`}
          value={ospf.passive ? 'passive' : 'active'}
          options={[
            { value: 'active', text: 'to neighbours' },
            { value: 'passive', text: 'to nobody (passive)' },
          ]}
          onChange={(value) => put({ passive: value === 'passive' ? true : undefined })}
        />
      </Row>
    </>
  );
}
