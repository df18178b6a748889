import { Box, Typography } from '@mui/material';
import { plural } from '@sobrin/core';
import { type Brief, type SiteNeeds, type SwitchChoice, siteNeeds, totalNeeds } from '@sobrin/core/plan';
import { useState } from 'react';
import { Panel } from '../ui/panel';
import { Empty } from '../ui/states';
import { MathWords } from '../ui/math-words';
import { SizesChart } from './sizes-chart';

const switchWords = ({ switches, left }: SwitchChoice): string =>
  switches.length
    ? `${switches.map((model) => `${model.count} × ${model.name}`).join(' + ')}, ${plural(left, 'port')} left`
    : 'none';

/** What follows from the numbers, worked out and explained: sizes, ports, switches, VLANs, access points, uplinks. */
export function FollowsPanel({ brief }: { brief: Brief }) {
  const sites = siteNeeds(brief);
  const [open, setOpen] = useState<string | null>(null);
  if (!sites.length)
    return (
      <Panel title="What follows">
        <Empty title="No groups yet">
          Write who needs addresses, and how many later: sizes, ports, switches and VLANs are worked out here.
        </Empty>
      </Panel>
    );
  const total = totalNeeds(sites);
  return (
    <Panel title="What follows" aside="worked out from the numbers">
      <Box
        sx={{
          display: 'flex',
          justifyContent: 'space-between',
          px: 2,
          py: 1.25,
          borderBottom: '1px solid var(--line)',
        }}
      >
        {(
          [
            [total.addresses, 'addresses later'],
            [total.ports, 'switch ports'],
            [total.switches, 'switches'],
            [total.vlans, 'VLANs'],
            [total.accessPoints, 'access points'],
          ] as const
        ).map(([value, words]) => (
          <Box key={words} sx={{ textAlign: 'center' }}>
            <Box className="mono" sx={{ fontSize: 19, fontWeight: 700 }}>
              {value}
            </Box>
            <Typography variant="body2" color="text.secondary">
              {words}
            </Typography>
          </Box>
        ))}
      </Box>
      <Box sx={{ px: 2, py: 1.25, borderBottom: '1px solid var(--line)' }}>
        <SizesChart needs={sites.flatMap((site) => site.subnets)} />
      </Box>
      {sites.map((site) => (
        <Site key={site.site ?? ''} needs={site} open={open} onOpen={(key) => setOpen(open === key ? null : key)} />
      ))}
    </Panel>
  );
}

function Site({ needs, open, onOpen }: { needs: SiteNeeds; open: string | null; onOpen: (key: string) => void }) {
  const { ports, accessPoints, uplink, vlans } = needs;
  return (
    <Box component="section" aria-label={needs.site ?? 'Without a site'} sx={{ borderBottom: '1px solid var(--line)' }}>
      <Box sx={{ px: 2, lineHeight: '26px', fontSize: 12, fontWeight: 700, background: 'var(--sunk)' }}>
        {needs.site ?? 'Without a site'}
      </Box>
      <Box
        component="table"
        sx={{
          width: '100%',
          borderCollapse: 'collapse',
          '& td, & th': { textAlign: 'right', px: 0.75, py: '3px' },
          '& th': { fontSize: 12, fontWeight: 650, color: 'var(--ink2)' },
          '& td:first-of-type, & th:first-of-type': { textAlign: 'left', pl: 2 },
        }}
      >
        <thead>
          <tr>
            <th>Subnet</th>
            <th>Now</th>
            <th>Later</th>
            <th>Size</th>
            <th style={{ paddingRight: 16 }}>Room left</th>
          </tr>
        </thead>
        <tbody>
          {needs.subnets.map((subnet) => (
            <Box component="tr" key={subnet.key} sx={{ '&:hover': { background: 'var(--canvas)' } }}>
              <td>
                <Box
                  component="button"
                  type="button"
                  aria-expanded={open === subnet.key}
                  onClick={() => onOpen(subnet.key)}
                  title="Show how it is worked out"
                  sx={{
                    all: 'unset',
                    cursor: 'pointer',
                    textDecoration: 'underline dotted',
                    textUnderlineOffset: 3,
                    '&:focus-visible': { outline: '2px solid var(--spruce)' },
                  }}
                >
                  {subnet.name}
                </Box>
                {open === subnet.key && (
                  <Typography variant="body2" color="text.secondary" sx={{ pt: '2px', maxWidth: 320 }}>
                    <MathWords text={`${subnet.later.words}. Ports: ${subnet.ports.words}.`} />
                  </Typography>
                )}
              </td>
              <td className="mono">{subnet.now.value}</td>
              <td className="mono">{subnet.later.value}</td>
              <td className="mono">/{subnet.length}</td>
              <td className="mono" style={{ paddingRight: 16 }}>
                {subnet.room} of {subnet.usable}
              </td>
            </Box>
          ))}
        </tbody>
      </Box>
      <Box
        component="dl"
        sx={{
          display: 'grid',
          gridTemplateColumns: '92px minmax(0, 1fr)',
          rowGap: '2px',
          m: 0,
          px: 2,
          pb: 1,
          pt: 0.5,
          '& dt': { color: 'var(--ink2)' },
          '& dd': { m: 0 },
        }}
      >
        <dt>Ports now</dt>
        <dd>
          <b className="mono">{ports.now}</b> · {switchWords(needs.switchesNow)}
        </dd>
        <dt>Ports later</dt>
        <dd>
          <b className="mono">{ports.later}</b> · {switchWords(needs.switchesLater)}
        </dd>
        <dt>VLANs</dt>
        <dd>
          <b className="mono">{vlans.value}</b> · {vlans.words}
        </dd>
        {accessPoints.later > 0 && (
          <>
            <dt>Access points</dt>
            <dd>
              <b className="mono">{accessPoints.now}</b> now, <b className="mono">{accessPoints.later}</b> later ·{' '}
              {accessPoints.words}
            </dd>
          </>
        )}
        <dt>Uplink</dt>
        <dd>
          <b className="mono">{uplink.link}</b> · {uplink.words}
        </dd>
      </Box>
    </Box>
  );
}
