import { parseVlan } from '@sobrin/core/bench';
import { radioKeyProblem } from '@sobrin/core/engine';
import { type Device, type PortConfig, type Settings } from '@sobrin/core/topology';
import { Choice, Row, TextInput } from '../../ui/fields';
import { ListPart } from '../../ui/list-part';
import { checkBy } from './checks';
import { useSettings } from './use-settings';

type Ssid = NonNullable<Settings['ssids']>[number];
type Radio = NonNullable<PortConfig['radio']>;
const SECURITIES = [
  { value: 'open', text: 'open' },
  { value: 'wpa2', text: 'WPA2' },
  { value: 'wpa3', text: 'WPA3' },
] as const;

/** The networks an access point sends out. */
export function WirelessPart({ id, device }: { id: string; device: Device }) {
  const { settings, set } = useSettings(id, device);
  return (
    <ListPart<Ssid>
      title="Wireless networks"
      entryName="network"
      entries={settings.ssids ?? []}
      blank={{ ssid: '', security: 'wpa2' }}
      onStore={(ssids) => set('change the wireless networks', { ssids })}
      columns={[
        {
          label: 'name',
          width: 'minmax(0, 1fr)',
          read: (network) => network.ssid,
          write: (network, ssid) => ({ ...network, ssid }),
        },
        {
          label: 'security',
          width: '66px',
          choices: SECURITIES,
          read: (network) => network.security,
          write: (network, security) => ({ ...network, security: security as Ssid['security'] }),
        },
        {
          label: 'key',
          width: 'minmax(0, 0.8fr)',
          mono: true,
          read: (network) => network.key ?? '',
          check: (key, network) => radioKeyProblem(network.security, key),
          write: ({ key: _key, ...network }, key) => ({ ...network, ...(key && { key }) }),
        },
        {
          label: 'VLAN',
          width: '46px',
          mono: true,
          strict: true,
          check: checkBy(parseVlan),
          read: (network) => (network.vlan === undefined ? '' : String(network.vlan)),
          write: ({ vlan: _vlan, ...network }, vlan) => ({ ...network, ...(vlan && { vlan: Number(vlan) }) }),
        },
      ]}
    />
  );
}

/** The network that a radio of a host joins, with its security and key. */
export function RadioFields({
  port,
  radio,
  onChange,
}: {
  port: string;
  radio: Radio | undefined;
  onChange: (radio: Radio | undefined) => void;
}) {
  const now: Radio = radio ?? { ssid: '', security: 'wpa2' };
  const put = (change: Partial<Radio>): void => {
    const next = { ...now, ...change };
    onChange(
      next.ssid || next.key
        ? (Object.fromEntries(Object.entries(next).filter(([key, setting]) => key !== 'key' || setting)) as Radio)
        : undefined,
    );
  };
  return (
    <>
      <Row label="Network">
        <TextInput label={`Network of ${port}`} value={now.ssid} onCommit={(ssid) => put({ ssid })} />
      </Row>
      <Row label="Security">
        <Choice
          label={`Security of ${port}`}
          value={now.security}
          options={SECURITIES}
          onChange={(security) => put({ security })}
        />
      </Row>
      <Row label="Key">
        <TextInput
          label={`Key of ${port}`}
          mono
          value={now.key ?? ''}
          check={(key) => radioKeyProblem(now.security, key)}
          onCommit={(key) => put({ key })}
        />
      </Row>
    </>
  );
}
