import { formatAddress, parseRange } from '@sobrin/core/address';
import { macOf } from '@sobrin/core/engine';
import { type Device, type Settings, type Topology, portsOf } from '@sobrin/core/topology';
import { Choice, Row } from '../../ui/fields';
import { ListPart } from '../../ui/list-part';
import { Fold } from '../../ui/sections';
import { addressProblem, checkBy, macProblem, prefixProblem, wordsOf } from './checks';
import { useBench } from '../use-bench';
import { useSettings } from './use-settings';

type Pool = NonNullable<Settings['dhcpPools']>[number];
type Span = NonNullable<Pool['ranges']>[number];
type Reservation = NonNullable<Pool['reservations']>[number];
type DnsRecord = NonNullable<Settings['dnsRecords']>[number];

/** What a pool tells, in words that follow the value. */
const TELLINGS = { router: 'is the gateway', dns: 'answers names', exclusions: 'is kept back' } as const;
type Telling = keyof typeof TELLINGS;
const ALL_TELLINGS = Object.keys(TELLINGS) as Telling[];
/** In IPv6 the gateway is told by routers, not by servers (RFC 4861 6.3.4). */
const FAMILIES = [
  { key: 'dhcpPools', name: 'DHCP', tells: ALL_TELLINGS },
  { key: 'dhcp6Pools', name: 'DHCPv6', tells: ['dns', 'exclusions'] as Telling[] },
] as const;

/** "10.84.1.20-40, 10.84.1.50-59" */
const spansOf = (text: string): Span[] =>
  text
    .split(',')
    .map((part) => part.trim())
    .filter(Boolean)
    .map((part) => {
      const read = parseRange(part);
      return read.ok
        ? { from: formatAddress(read.value.from), to: formatAddress(read.value.to) }
        : { from: part, to: part };
    });
const spansText = (spans: readonly Span[] | undefined): string =>
  (spans ?? []).map(({ from, to }) => (from === to ? from : `${from} - ${to}`)).join(', ');
const spansProblem = (text: string): string | null => {
  for (const part of text.split(',')) {
    const wrong = part.includes('-') ? checkBy(parseRange)(part.trim()) : addressProblem(part.trim());
    if (wrong) return wrong;
  }
  return null;
};
/** An object with one property set, or without it where the value is empty. */
function put<T extends object, K extends keyof T>(entry: T, key: K, value: T[K] | undefined): T {
  const { [key]: _old, ...rest } = entry;
  const isEmpty = value === undefined || (Array.isArray(value) && value.length === 0);
  return (isEmpty ? rest : { ...rest, [key]: value }) as T;
}

/** What a server offers, by the names the engine knows. */
const SERVICES = [
  ['web', 'Web pages', 80],
  ['dns', 'Names (DNS)', 53],
  ['mail', 'Mail', 25],
  ['files', 'Files', 21],
  ['time', 'Time', 123],
  ['calls', 'Telephone calls', 5060],
] as const;

/** DHCP pools, names and services of a router or server. */
export function ServiceParts({ id, device }: { id: string; device: Device }) {
  const { settings, set } = useSettings(id, device);
  const running = SERVICES.filter(([key]) => settings.services?.[key]?.enabled);
  return (
    <>
      {FAMILIES.map((family) => (
        <Pools key={family.key} id={id} device={device} family={family} />
      ))}
      <ListPart<DnsRecord>
        title="Names"
        entryName="name"
        entries={settings.dnsRecords ?? []}
        blank={{ name: '', type: 'A', value: '' }}
        onStore={(dnsRecords) => set('change the names', { dnsRecords })}
        columns={[
          {
            label: 'name',
            width: 'minmax(0, 1fr)',
            read: (record) => record.name,
            write: (record, name) => ({ ...record, name }),
          },
          {
            label: 'type',
            width: '66px',
            choices: (['A', 'AAAA', 'CNAME', 'MX', 'PTR'] as const).map((value) => ({ value, text: value })),
            read: (record) => record.type,
            write: (record, type) => ({ ...record, type: type as DnsRecord['type'] }),
          },
          {
            label: 'value',
            width: 'minmax(0, 1fr)',
            mono: true,
            read: (record) => record.value,
            write: (record, value) => ({ ...record, value }),
          },
        ]}
      />
      <Fold title="Services" aside={running.length ? running.map(([key]) => key).join(', ') : 'none'}>
        {SERVICES.map(([key, text]) => (
          <Row key={key} label={text}>
            <Choice
              label={text}
              value={settings.services?.[key]?.enabled ? 'on' : 'off'}
              options={[
                { value: 'off', text: 'off' },
                { value: 'on', text: 'on' },
              ]}
              onChange={(value) => {
                const { [key]: _old, ...others } = settings.services ?? {};
                set('switch a service', {
                  services: value === 'on' ? { ...others, [key]: { enabled: true } } : others,
                });
              }}
            />
          </Row>
        ))}
      </Fold>
    </>
  );
}

/** The MAC address of the first port of the device that is called so; null where none is. */
function macNamed(topology: Topology, name: string): string | null {
  for (const [id, device] of Object.entries(topology.devices)) {
    if (device.name !== name || device.members) continue;
    const [port] = portsOf(topology, device);
    return port ? (device.ports?.[port.key]?.mac ?? macOf(id, port.key)) : null;
  }
  return null;
}

/** Pools of one family, each with what it tells and whom it keeps addresses for. */
function Pools({
  id,
  device,
  family: { key, name, tells },
}: {
  id: string;
  device: Device;
  family: (typeof FAMILIES)[number];
}) {
  const { settings, set } = useSettings(id, device);
  const pools = settings[key] ?? [];
  return (
    <>
      <ListPart<Pool>
        title={`${name} pools`}
        entryName={name === 'DHCP' ? 'pool' : 'v6 pool'}
        entries={pools}
        blank={{ network: '' }}
        onStore={(list) => set(`change the ${name} pools`, { [key]: list })}
        columns={[
          {
            label: 'subnet',
            width: 'minmax(0, 1fr)',
            mono: true,
            check: prefixProblem,
            read: (pool) => pool.network,
            write: (pool, network) => ({ ...pool, network }),
          },
          {
            label: 'gives out',
            below: true,
            width: 'minmax(0, 1fr)',
            mono: true,
            placeholder: 'all, or from - to',
            check: spansProblem,
            read: (pool) => spansText(pool.ranges),
            write: (pool, text) => put(pool, 'ranges', spansOf(text)),
          },
        ]}
      />
      {pools.map((pool, at) => (
        <PoolRow
          key={at}
          name={`${name === 'DHCP' ? 'Pool' : 'V6 pool'} ${at + 1}`}
          pool={pool}
          tells={tells}
          onChange={(next) =>
            set(`change a ${name} pool`, { [key]: pools.map((pool, index) => (index === at ? next : pool)) })
          }
        />
      ))}
    </>
  );
}

/** What a pool tells its hosts besides their address. */
function PoolRow({
  name,
  pool,
  tells,
  onChange,
}: {
  name: string;
  pool: Pool;
  tells: readonly Telling[];
  onChange: (pool: Pool) => void;
}) {
  const topology = useBench((state) => state.document);
  return (
    <>
      <ListPart<{ key: Telling; text: string }>
        title={`${name} tells`}
        entryName="option"
        entries={tells.flatMap((key) => {
          const text =
            key === 'router' ? pool.router : key === 'dns' ? pool.dns?.join(', ') : spansText(pool.exclusions);
          return text ? [{ key, text }] : [];
        })}
        blank={{ key: tells[0]!, text: '' }}
        onStore={(list) => {
          const of = (key: string) => list.filter((option) => option.key === key).map((option) => option.text);
          const names = of('dns').flatMap(wordsOf);
          const told = put(put(pool, 'dns', names), 'exclusions', of('exclusions').flatMap(spansOf));
          // What this family does not tell stays as a file may have it.
          onChange(tells.includes('router') ? put(told, 'router', of('router')[0]) : told);
        }}
        columns={[
          {
            label: 'value',
            width: 'minmax(0, 1fr)',
            mono: true,
            check: spansProblem,
            read: (option) => option.text,
            write: (option, text) => ({ ...option, text }),
          },
          {
            label: 'what',
            width: '112px',
            choices: tells.map((value) => ({ value, text: TELLINGS[value] })),
            read: (option) => option.key,
            write: (option, key) => ({ ...option, key: key as Telling }),
          },
        ]}
      />
      <ListPart<Reservation>
        title={`${name} keeps`}
        entryName="reservation"
        entries={pool.reservations ?? []}
        blank={{ mac: '', address: '' }}
        onStore={(list) => onChange(put(pool, 'reservations', list))}
        columns={[
          {
            label: 'MAC address',
            width: 'minmax(0, 1.2fr)',
            mono: true,
            placeholder: 'MAC or device',
            check: (text) => (macNamed(topology, text) === null ? macProblem(text) : null),
            read: ({ mac }) => mac,
            write: (reservation, text) => ({ ...reservation, mac: macNamed(topology, text) ?? text }),
          },
          {
            label: 'address',
            width: 'minmax(0, 1fr)',
            mono: true,
            check: addressProblem,
            read: ({ address }) => address,
            write: (reservation, address) => ({ ...reservation, address }),
          },
        ]}
      />
    </>
  );
}
