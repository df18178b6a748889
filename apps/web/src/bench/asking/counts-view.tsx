import { Box, Typography } from '@mui/material';
import { plural } from '@sobrin/core';
import { type Counts, MEDIUM_NAMES, partName } from '@sobrin/core/engine';
import { type Medium, type Topology } from '@sobrin/core/topology';
import { type ReactNode, useEffect, useState } from 'react';
import { Waiting } from '../../ui/states';
import { type Ask } from '../../workers/engine-requests';
import { CLASSES } from '../device-classes';

/** What there is in the drawing, and what it hangs on. */
export function CountsView({ topology, ask }: { topology: Topology; ask: Ask }) {
  const [counts, setCounts] = useState<Counts | null>(null);
  useEffect(() => {
    let isWanted = true;
    void ask('counts', null).then((counted) => isWanted && setCounts(counted));
    return () => void (isWanted = false);
  }, [ask]);
  if (!counts) return <Waiting what="Counting" />;
  const { devices, links, shapes, longestPath, singlePoints } = counts;
  return (
    <Box
      role="region"
      aria-label="Counts"
      tabIndex={0}
      sx={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(300px, 1fr))', gap: 3, overflow: 'auto' }}
    >
      <Part title={`${plural(devices, 'device')} by kind`}>
        <Rows of={Object.entries(counts.byKind).map(([kind, n]) => [kind.replaceAll('-', ' '), n])} />
      </Part>
      <Part title="By class">
        <Rows
          of={CLASSES.flatMap(([deviceClass, text]): [string, number][] =>
            counts.byClass[deviceClass] ? [[text.toLowerCase(), counts.byClass[deviceClass]]] : [],
          )}
        />
      </Part>
      <Part title="Intermediary devices, as one counts them">
        <Rows of={counts.intermediaries.map(({ text, n }) => [text, n])} />
      </Part>
      <Part title="By site and class">
        <Rows
          of={Object.entries(counts.bySite).flatMap(([site, n]): [string, number][] => [
            [site, n],
            ...CLASSES.flatMap(([deviceClass, text]): [string, number][] => {
              const there = counts.bySiteAndClass[site]?.[deviceClass];
              return there ? [[`${site}: ${text.toLowerCase()}`, there]] : [];
            }),
          ])}
        />
      </Part>
      <Part title={`${plural(links, 'link')} by medium, ${plural(counts.media, 'kind')}`}>
        <Rows of={Object.entries(counts.byMedium).map(([medium, n]) => [MEDIUM_NAMES[medium as Medium], n])} />
      </Part>
      <Part title="Local networks, as one counts them">
        <Rows of={counts.localNetworks.map((network) => [network.text, network.n])} />
      </Part>
      <Part title="Wide-area links, as one counts them">
        <Rows of={counts.wideLinks.map((link) => [link.text, link.n])} />
      </Part>
      <Part title="Shapes of what hangs together">
        {shapes.map((shape) => (
          <Typography key={shape.devices.join()} variant="body2" sx={{ mb: 0.5 }}>
            <b>{shape.shape}</b>: {some(shape.devices)}
          </Typography>
        ))}
        {shapes.length === 0 && <Nothing>There is no network device yet.</Nothing>}
      </Part>
      <Part title="Longest way between two devices">
        {longestPath.length ? (
          <Typography variant="body2">
            {plural(longestPath.length - 1, 'link')}: {longestPath.join(' – ')}
          </Typography>
        ) : (
          <Nothing>No link is up.</Nothing>
        )}
      </Part>
      <Part title="Everything hangs on">
        {singlePoints.devices.length + singlePoints.links.length === 0 ? (
          <Nothing>No single device or link.</Nothing>
        ) : (
          <>
            <Typography variant="body2" sx={{ mb: 0.5 }}>
              <b>{plural(singlePoints.devices.length, 'device')}</b>: {some(singlePoints.devices) || 'none'}
            </Typography>
            <Typography variant="body2">
              <b>{plural(singlePoints.links.length, 'link')}</b>:{' '}
              {some(singlePoints.links.map((id) => partName(topology, { kind: 'link', id }))) || 'none'}
            </Typography>
          </>
        )}
      </Part>
    </Box>
  );
}

const MOST = 12;
const some = (names: readonly string[]): string =>
  names.slice(0, MOST).join(', ') + (names.length > MOST ? ` and ${names.length - MOST} more` : '');

const Part = ({ title, children }: { title: string; children: ReactNode }) => (
  <Box component="section">
    <Typography variant="h2" sx={{ fontSize: 14, mb: 0.5 }}>
      {title}
    </Typography>
    {children}
  </Box>
);
const Nothing = ({ children }: { children: ReactNode }) => (
  <Typography variant="body2" color="text.secondary">
    {children}
  </Typography>
);
const Rows = ({ of }: { of: readonly (readonly [string, number])[] }) => (
  <Box component="table" sx={{ borderCollapse: 'collapse', width: '100%', fontSize: 13 }}>
    <tbody>
      {of.map(([text, n]) => (
        <tr key={text}>
          <Box
            component="th"
            scope="row"
            sx={{ textAlign: 'left', fontWeight: 400, py: '2px', borderBottom: '1px solid var(--line)' }}
          >
            {text}
          </Box>
          <Box component="td" className="mono" sx={{ textAlign: 'right', borderBottom: '1px solid var(--line)' }}>
            {n}
          </Box>
        </tr>
      ))}
    </tbody>
  </Box>
);
