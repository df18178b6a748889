import { Box, Typography } from '@mui/material';
import { type DeviceTables } from '@sobrin/core/engine';

type Row = Readonly<Record<string, unknown>>;
/** What each table is called, its columns in words, what is told under a cell, and who has it. */
type Column = readonly [head: string, text: (row: Row) => unknown, under?: (row: Row) => unknown];
interface Table {
  key: keyof DeviceTables;
  name: string;
  columns: readonly Column[];
}
const TABLES: readonly Table[] = [
  {
    key: 'interfaces',
    name: 'Interfaces',
    columns: [
      ['Name', (row) => row.name],
      ['State', (row) => (row.up ? 'up' : `down: ${String(row.reason)}`)],
      [
        'Addresses',
        (row) =>
          [
            ...(row.addresses as string[]),
            row.linkLocal,
            row.automatic && `${words(row.automatic)} (no server answers)`,
          ]
            .filter(Boolean)
            .join(' ') || null,
      ],
      ['MAC', (row) => row.mac],
      ['Lease from', (row) => (row.lease as { server: string } | null)?.server],
    ],
  },
  {
    key: 'routes',
    name: 'Routes',
    columns: [
      ['Prefix', (row) => row.prefix],
      [
        'Way, and why',
        (row) => (row.interface ? `${words(row.via ?? 'on the wire')} out ${words(row.interface)}` : 'nowhere'),
        (row) => row.why,
      ],
    ],
  },
  {
    key: 'neighbours',
    name: 'Neighbours by cable',
    columns: [
      ['Port', (row) => row.port],
      ['Device', (row) => row.device],
      ['Its port', (row) => row.remotePort],
    ],
  },
  {
    key: 'macTable',
    name: 'MAC addresses',
    columns: [
      ['VLAN', (row) => row.vlan],
      ['MAC', (row) => row.mac],
      ['Port', (row) => row.port],
      ['Device', (row) => row.device],
    ],
  },
  ...(['arp', 'nd'] as const).map((key) => ({
    key,
    name: key === 'arp' ? 'ARP' : 'IPv6 neighbours',
    columns: [
      ['Address', (row: Row) => row.address],
      ['MAC', (row: Row) => row.mac],
      ['On', (row: Row) => row.interface],
      ['Device', (row: Row) => row.device],
    ] as Column[],
  })),
  {
    key: 'leases',
    name: 'Leases it gave',
    columns: [
      ['Address', (row) => row.address],
      ['Device', (row) => row.device],
      ['On', (row) => row.interface],
    ],
  },
  {
    key: 'translations',
    name: 'Translations',
    columns: [
      ['Kind', (row) => row.kind],
      ['Inside', (row) => row.inside],
      ['Outside', (row) => row.outside],
    ],
  },
  {
    key: 'registration',
    name: 'Telephone',
    columns: [
      ['Extension', (row) => row.extension],
      ['Call server', (row) => row.server],
      ['State', (row) => row.text],
    ],
  },
  {
    key: 'calls',
    name: 'Calls to others',
    columns: [
      ['Extension', (row) => row.extension],
      ['What comes of it', (row) => row.text],
    ],
  },
  {
    key: 'vrrp',
    name: 'Virtual routers',
    columns: [
      ['On', (row) => row.interface],
      ['Group', (row) => row.group],
      ['Addresses', (row) => (row.addresses as string[]).join(' ')],
      ['Priority', (row) => row.priority],
      ['State', (row) => (row.active ? 'active' : 'standing by')],
    ],
  },
  {
    key: 'spanningTree',
    name: 'Spanning tree',
    columns: [
      ['VLANs', (row) => (Array.isArray(row.vlans) ? row.vlans.join(' ') : 'all')],
      ['Root', (row) => row.root],
      ['Cost', (row) => row.rootCost],
      [
        'Ports',
        (row) => (row.ports as { port: string; role: string }[]).map((port) => `${port.port} ${port.role}`).join(', '),
      ],
    ],
  },
  ...(['', '6'] as const).flatMap((version): Table[] => [
    {
      key: `ospf${version}Neighbours`,
      name: `OSPF${version && 'v3'} neighbours`,
      columns: [
        ['Device', (row) => row.device],
        ['Address', (row) => row.address],
        ['On', (row) => row.interface],
        ['Area', (row) => row.area],
      ],
    },
    {
      key: `ospf${version}Database`,
      name: `OSPF${version && 'v3'} database`,
      columns: [
        ['Area', (row) => row.area],
        ['Routers', (row) => (row.routers as string[]).join(' ')],
        ['Pairs', (row) => row.adjacencies],
      ],
    },
  ]),
];

const words = (value: unknown): string =>
  typeof value === 'string' || typeof value === 'number' ? String(value) : '–';

/** What a line says, but for MAC addresses, which no two devices share. */
const lineOf = (row: Row, columns: readonly Column[]): string =>
  columns.flatMap(([head, text]) => (head === 'MAC' ? [] : words(text(row)))).join('\n');

/**
 * What a device knows, table by table; those that hold nothing are left out.
 * @param against the tables of another device: lines that it has not are marked
 */
export function DeviceTablesView({ tables, against }: { tables: DeviceTables; against?: DeviceTables | null }) {
  const shown = TABLES.filter(({ key }) => (tables[key] as readonly Row[]).length);
  return (
    <>
      {shown.length === 0 && <Typography>It knows nothing yet: it has no interface and no link that is up.</Typography>}
      {shown.map(({ key, name, columns }) => {
        const rows = tables[key] as readonly Row[];
        const others = new Set((against?.[key] as readonly Row[] | undefined)?.map((row) => lineOf(row, columns)));
        const used = columns.filter(([, text]) => rows.some((row) => text(row) ?? false));
        return (
          <Box key={key} sx={{ mb: 2, overflowX: 'auto' }}>
            <Box component="table" sx={{ borderCollapse: 'collapse', fontSize: 12.5, minWidth: '100%' }}>
              <caption style={{ textAlign: 'left', fontWeight: 700, paddingBottom: 2 }}>
                {name} <span style={{ fontWeight: 400, color: 'var(--ink2)' }}>{rows.length}</span>
              </caption>
              <thead>
                <tr>
                  {used.map(([head]) => (
                    <Box
                      component="th"
                      scope="col"
                      key={head}
                      sx={{
                        textAlign: 'left',
                        fontWeight: 400,
                        color: 'var(--ink2)',
                        p: '2px 10px 2px 0',
                        borderBottom: '1px solid var(--line2)',
                      }}
                    >
                      {head}
                    </Box>
                  ))}
                  {against && <th aria-label="Where" />}
                </tr>
              </thead>
              <tbody>
                {rows.map((row, at) => (
                  <Box
                    component="tr"
                    key={at}
                    sx={against && !others.has(lineOf(row, columns)) ? { background: 'var(--ochre-tint)' } : {}}
                  >
                    {used.map(([head, text, under]) => (
                      <Box
                        component="td"
                        key={head}
                        className={head === 'State' ? '' : 'mono'}
                        sx={{ p: '2px 10px 2px 0', borderBottom: '1px solid var(--line)', verticalAlign: 'top' }}
                      >
                        {words(text(row))}
                        {under && (
                          <Typography color="text.secondary" sx={{ fontSize: 'inherit' }}>
                            {words(under(row))}
                          </Typography>
                        )}
                      </Box>
                    ))}
                    {against && (
                      <td style={{ whiteSpace: 'nowrap' }}>{others.has(lineOf(row, columns)) ? '' : 'only here'}</td>
                    )}
                  </Box>
                ))}
              </tbody>
            </Box>
          </Box>
        );
      })}
    </>
  );
}
