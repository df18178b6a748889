import { changeInterface } from '@sobrin/core/editing';
import { type Device, type Interface, entriesById, filled } from '@sobrin/core/topology';
import { Choice, Row, TextInput } from '../../ui/fields';
import { useBench } from '../use-bench';
import { addressProblem, eachOf, interfaceAddressProblem, numberFrom, wordsOf } from './checks';
import { OSPF, OspfFields } from './ospf-part';
import { ListPart } from '../../ui/list-part';

type Changes = Parameters<typeof changeInterface>[4];

/** Stores an interface with some properties changed; what is empty is not kept. `keep` keeps one that has nothing set. */
export function useInterface(
  id: string,
  key: string,
  interfaceConfig: Interface,
  keep = false,
): (title: string, change: Changes) => void {
  const run = useBench((state) => state.do);
  const topology = useBench((state) => state.document);
  return (title, change) => void run(title, changeInterface(topology, id, key, interfaceConfig, change, keep));
}

/** How an interface gets its addresses, and what a router does on it. */
export function InterfaceFields({
  id,
  device,
  name,
  interfaceConfig: interfaceConfig,
  keep = false,
  offers = [],
  routes,
}: {
  id: string;
  device: Device;
  /** Key of the interface. */
  name: string;
  interfaceConfig: Interface;
  keep?: boolean;
  /** IPv6 addresses that the plan has for the device. */
  offers?: readonly string[];
  /** Whether the device forwards packets: then there is more to set. */
  routes: boolean;
}) {
  const set = useInterface(id, name, interfaceConfig, keep);
  const { v4 = {}, v6 = {} } = interfaceConfig;
  const filters = entriesById(device.settings?.filters);
  return (
    <>
      <Row label="IPv4">
        <Choice
          label={`IPv4 of ${name}`}
          value={v4.dhcp ? 'dhcp' : 'typed'}
          options={[
            { value: 'typed', text: 'address as typed' },
            { value: 'dhcp', text: 'automatic (DHCP)' },
          ]}
          onChange={(value) =>
            set('change addressing', {
              v4: value === 'dhcp' ? { dhcp: true } : filled({ addresses: v4.addresses ?? [] }),
            })
          }
        />
      </Row>
      <Row label="IPv6">
        <TextInput
          label={`IPv6 address of ${name}`}
          mono
          placeholder="address/prefix"
          value={v6.addresses?.[0] ?? ''}
          check={interfaceAddressProblem}
          suggestions={offers}
          maxLength={64}
          onCommit={(text) =>
            set('set an address', {
              v6: filled({
                ...v6,
                addresses: text ? [text, ...(v6.addresses ?? []).slice(1)] : (v6.addresses ?? []).slice(1),
              }),
            })
          }
        />
      </Row>
      <Row label="IPv6 hosts">
        {routes ? (
          <Choice
            label={`Router advertisements on ${name}`}
            value={v6.ra?.send === false ? 'off' : v6.ra?.managed ? 'managed' : v6.ra?.other ? 'other' : 'on'}
            options={[
              { value: 'on', text: 'by SLAAC' },
              { value: 'other', text: 'by SLAAC, DNS by DHCPv6' },
              { value: 'managed', text: 'by DHCPv6' },
              { value: 'off', text: 'no advertisements' },
            ]}
            onChange={(value) =>
              set('change router advertisements', {
                v6: filled({
                  ...v6,
                  ra: filled({
                    ...v6.ra,
                    send: value === 'off' ? false : undefined,
                    managed: value === 'managed' ? true : undefined,
                    other: value === 'other' ? true : undefined,
                  }),
                }),
              })
            }
          />
        ) : (
          <Choice
            label={`Automatic IPv6 of ${name}`}
            value={v6.dhcp && v6.dhcp !== 'none' ? v6.dhcp : v6.slaac ? 'slaac' : 'off'}
            options={[
              { value: 'off', text: 'address as typed' },
              { value: 'slaac', text: 'by SLAAC' },
              { value: 'stateless', text: 'by SLAAC, DNS by DHCPv6' },
              { value: 'stateful', text: 'by DHCPv6' },
            ]}
            onChange={(value) =>
              set('change addressing', {
                v6: filled({
                  ...v6,
                  slaac: value === 'slaac' || value === 'stateless' ? true : undefined,
                  dhcp: value === 'stateless' || value === 'stateful' ? value : undefined,
                }),
              })
            }
          />
        )}
      </Row>
      {routes && (
        <>
          <Row label="DHCP relay">
            <TextInput
              label={`DHCP relay of ${name}`}
              mono
              placeholder="server"
              value={interfaceConfig.relays?.[0] ?? ''}
              check={addressProblem}
              onCommit={(text) =>
                set('set a relay', { relays: text ? [text, ...(interfaceConfig.relays ?? []).slice(1)] : [] })
              }
            />
          </Row>
          <Row label="NAT side">
            <Choice
              label={`NAT side of ${name}`}
              value={interfaceConfig.natSide ?? ''}
              options={[
                { value: '', text: 'none' },
                { value: 'inside', text: 'inside' },
                { value: 'outside', text: 'outside' },
              ]}
              onChange={(value) => set('set the NAT side', { natSide: value || undefined })}
            />
          </Row>
          {(['filterIn4', 'filterOut4', 'filterIn6', 'filterOut6'] as const)
            .filter(
              (key) =>
                interfaceConfig[key] !== undefined ||
                filters.some(([, filter]) => String(filter.family) === key.slice(-1)),
            )
            .map((key) => (
              <Row key={key} label={`${key.includes('In') ? 'Filter in' : 'Filter out'} v${key.slice(-1)}`}>
                <Choice
                  label={`IPv${key.slice(-1)} filter for what ${key.includes('In') ? 'comes in by' : 'leaves by'} ${name}`}
                  value={interfaceConfig[key] ?? ''}
                  options={[
                    { value: '', text: 'none' },
                    ...filters
                      .filter(([, filter]) => String(filter.family) === key.slice(-1))
                      .map(([value]) => ({ value, text: value })),
                  ]}
                  onChange={(value) => set('set a filter', { [key]: value || undefined })}
                />
              </Row>
            ))}
          {OSPF.map((version) => (
            <OspfFields
              key={version.key}
              version={version}
              interfaceName={name}
              ospf={interfaceConfig[version.key]}
              isOn={device.settings?.[version.key] !== undefined}
              onChange={(ospf) => set(`change ${version.name}`, { [version.key]: ospf })}
            />
          ))}
          <Row label="MTU">
            <TextInput
              label={`MTU of ${name}`}
              mono
              strict
              placeholder="1500"
              value={interfaceConfig.mtu === undefined ? '' : String(interfaceConfig.mtu)}
              check={mtuProblem}
              onCommit={(text) => set('set the MTU', { mtu: text ? Number(text) : undefined })}
            />
          </Row>
          <VirtualRouters
            name={name}
            routers={interfaceConfig.vrrp ?? []}
            onChange={(vrrp) => set('change virtual routers', { vrrp })}
          />
        </>
      )}
    </>
  );
}

/** From what IPv4 asks of every link (RFC 791 3.2) to the longest that its packets can be. */
const mtuProblem = numberFrom(68, 65535, 'An MTU');

type VirtualRouter = NonNullable<Interface['vrrp']>[number];
/** A line of the list, whose number may not be typed yet. */
type Draft = Omit<VirtualRouter, 'group'> & { group: number | null };

/** Addresses that several routers answer for, one at a time (VRRP, RFC 9568). */
function VirtualRouters({
  name,
  routers,
  onChange,
}: {
  /** Key of the interface. */
  name: string;
  routers: readonly VirtualRouter[];
  onChange: (routers: VirtualRouter[]) => void;
}) {
  return (
    <ListPart<Draft>
      title={`Virtual routers on ${name}`}
      entryName="virtual router"
      entries={routers}
      blank={{ group: null, addresses: [] }}
      onStore={(list) =>
        onChange(list.flatMap(({ group, ...router }) => (group === null ? [] : [{ group, ...router }])))
      }
      columns={[
        {
          label: 'number',
          width: '52px',
          placeholder: 'no.',
          mono: true,
          strict: true,
          check: numberFrom(1, 255, 'A virtual router'),
          read: ({ group }) => (group === null ? '' : String(group)),
          write: (router, text) => ({ ...router, group: text ? Number(text) : null }),
        },
        {
          label: 'addresses',
          width: 'minmax(0, 1fr)',
          mono: true,
          check: eachOf(addressProblem),
          read: ({ addresses }) => addresses.join(', '),
          write: (router, text) => ({ ...router, addresses: wordsOf(text) }),
        },
        {
          label: 'priority',
          width: '52px',
          mono: true,
          strict: true,
          placeholder: '100',
          check: numberFrom(1, 254, 'A priority'),
          read: ({ priority }) => (priority === undefined ? '' : String(priority)),
          write: ({ priority: _old, ...router }, text) => ({ ...router, ...(text && { priority: Number(text) }) }),
        },
      ]}
    />
  );
}
