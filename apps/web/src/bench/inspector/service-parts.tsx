import { formatAddress, parseRange } from '@sobrin/core/address';
import { type Device, type Settings } from '@sobrin/core/topology';
import { Choice, Row } from '../../ui/fields';
import { ListPart } from '../../ui/list-part';
import { Fold } from '../../ui/sections';
import { addressProblem, checkBy, prefixProblem } from './checks';
import { useSettings } from './use-settings';

type Pool = NonNullable<Settings['dhcpPools']>[number];
type Span = NonNullable<Pool['ranges']>[number];
type DnsRecord = NonNullable<Settings['dnsRecords']>[number];

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
      <ListPart<Pool>
        title="DHCP pools"
        entryName="pool"
        entries={settings.dhcpPools ?? []}
        blank={{ network: '' }}
        onStore={(dhcpPools) => set('change the DHCP pools', { dhcpPools })}
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
            width: 'minmax(0, 1fr)',
            mono: true,
            placeholder: 'all, or from - to',
            check: spansProblem,
            read: (pool) => spansText(pool.ranges),
            write: (pool, text) => put(pool, 'ranges', spansOf(text)),
          },
        ]}
      />
      {(settings.dhcpPools ?? []).map((pool, at) => (
        <PoolRow
          key={at}
          nth={at + 1}
          pool={pool}
          onChange={(next) =>
            set('change a DHCP pool', {
              dhcpPools: settings.dhcpPools!.map((pool, index) => (index === at ? next : pool)),
            })
          }
        />
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

/** What a pool tells its hosts besides their address. */
function PoolRow({ nth, pool, onChange }: { nth: number; pool: Pool; onChange: (pool: Pool) => void }) {
  return (
    <ListPart<{ key: 'router' | 'dns' | 'exclusions'; text: string }>
      title={`Pool ${nth} tells`}
      entryName="option"
      entries={(['router', 'dns', 'exclusions'] as const).flatMap((key) => {
        const text = key === 'router' ? pool.router : key === 'dns' ? pool.dns?.join(', ') : spansText(pool.exclusions);
        return text ? [{ key, text }] : [];
      })}
      blank={{ key: 'router', text: '' }}
      onStore={(list) => {
        const of = (key: string) => list.filter((option) => option.key === key).map((option) => option.text);
        const list3 = put(
          put(pool, 'router', of('router')[0]),
          'dns',
          of('dns')
            .flatMap((text) => text.split(/[,\s]+/))
            .filter(Boolean),
        );
        onChange(put(list3, 'exclusions', of('exclusions').flatMap(spansOf)));
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
          choices: [
            { value: 'router', text: 'is the gateway' },
            { value: 'dns', text: 'answers names' },
            { value: 'exclusions', text: 'is kept back' },
          ],
          read: (option) => option.key,
          write: (option, key) => ({ ...option, key: key as 'router' }),
        },
      ]}
    />
  );
}
