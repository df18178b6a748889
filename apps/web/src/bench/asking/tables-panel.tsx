import { Box, IconButton, Typography } from '@mui/material';
import { IconX } from '@tabler/icons-react';
import { type DeviceTables } from '@sobrin/core/engine';
import { useEffect, useState } from 'react';
import { SidePanel } from '../../ui/side-panel';

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

/** What a device knows, table by table; those that hold nothing are left out. */
export default function TablesPanel({
  ask,
  onClose,
}: {
  ask: () => Promise<DeviceTables | null>;
  onClose: () => void;
}) {
  const [tables, setTables] = useState<DeviceTables | null>(null);
  useEffect(() => {
    let isWanted = true;
    void ask().then((found) => isWanted && setTables(found));
    return () => void (isWanted = false);
  }, [ask]);
  if (!tables) return null;
  const shown = TABLES.filter(({ key }) => (tables[key] as readonly Row[]).length);
  return (
    <SidePanel label="Tables" wide onClose={onClose}>
      <Box sx={{ display: 'flex', alignItems: 'center', mb: 1 }}>
        <Typography variant="h2" sx={{ flex: 1, fontSize: 16 }}>
          Tables of {tables.device}
        </Typography>
        <IconButton size="small" aria-label="Close the tables" onClick={onClose} autoFocus>
          <IconX size={16} />
        </IconButton>
      </Box>
      <Typography variant="body2" color="text.secondary" sx={{ mb: 1.5 }}>
        As they are when everybody has talked to everybody.
      </Typography>
      {shown.length === 0 && <Typography>It knows nothing yet: it has no interface and no link that is up.</Typography>}
      {shown.map(({ key, name, columns }) => {
        const rows = tables[key] as readonly Row[];
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
                </tr>
              </thead>
              <tbody>
                {rows.map((row, at) => (
                  <tr key={at}>
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
                  </tr>
                ))}
              </tbody>
            </Box>
          </Box>
        );
      })}
    </SidePanel>
  );
}
