import { Box, Button, LinearProgress, Typography } from '@mui/material';
import { byName } from '@sobrin/core';
import { type Failure, type Switchable, failingParts } from '@sobrin/core/engine';
import { type Topology } from '@sobrin/core/topology';
import { useEffect, useMemo, useState } from 'react';
import { type Ask } from '../../workers/engine-requests';

/** Devices and links, one after the other off; those that cut most off come first. */
export function FailuresView({
  topology,
  ask,
  onSee,
}: {
  topology: Topology;
  ask: Ask;
  onSee: (part: Switchable) => void;
}) {
  const parts = useMemo(() => failingParts(topology), [topology]);
  const [found, setFound] = useState<readonly Failure[]>([]);
  useEffect(() => {
    let isWanted = true;
    const all: Failure[] = [];
    const goOn = async (): Promise<void> => {
      for (const part of parts) {
        const failure = await ask('failure', part);
        if (!isWanted) return;
        all.push(failure);
        setFound([...all]);
      }
    };
    void goOn();
    return () => void (isWanted = false);
  }, [ask, parts]);
  const worst = useMemo(
    () =>
      found.filter((failure) => failure.lost).sort((a, b) => b.lost / b.of - a.lost / a.of || byName(a.name, b.name)),
    [found],
  );
  const done = found.length === parts.length;
  return (
    <>
      <Typography sx={{ mb: 1 }} role="status">
        {done
          ? parts.length === 0
            ? 'There is nothing yet that could fail.'
            : `${worst.length} of ${parts.length} devices and links cut somebody off when they fail alone.`
          : `${found.length} of ${parts.length} tried.`}
      </Typography>
      {!done && <LinearProgress variant="determinate" value={(100 * found.length) / parts.length} sx={{ mb: 1 }} />}
      <Box
        sx={{ flex: 1, minHeight: 0, overflow: 'auto' }}
        tabIndex={0}
        role="region"
        aria-label="What failures cut off"
      >
        <Box
          component="table"
          sx={{
            width: '100%',
            borderCollapse: 'collapse',
            '& th, & td': {
              textAlign: 'left',
              p: '4px 12px 4px 0',
              borderBottom: '1px solid var(--line)',
              verticalAlign: 'top',
            },
          }}
        >
          <thead>
            <tr>
              <th scope="col">Fails alone</th>
              <th scope="col">Pairs lost</th>
              <th scope="col">Who loses somebody</th>
              <th scope="col">
                <span style={{ position: 'absolute', clip: 'rect(0 0 0 0)' }}>Look</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {worst.map(({ part, name, lost, of, cutOff }) => (
              <tr key={JSON.stringify(part)}>
                <td>
                  <b>{name}</b> <span style={{ color: 'var(--ink2)' }}>{part.kind}</span>
                </td>
                <td className="mono">
                  {lost} of {of}
                  <Box sx={{ height: 4, width: 120, background: 'var(--sunk)' }}>
                    <Box sx={{ height: 4, width: `${(100 * lost) / of}%`, background: 'var(--brick)' }} />
                  </Box>
                </td>
                <td>
                  {cutOff.slice(0, 8).join(', ')}
                  {cutOff.length > 8 && ` and ${cutOff.length - 8} more`}
                </td>
                <td>
                  <Button size="small" onClick={() => onSee(part)}>
                    See in the grid
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </Box>
      </Box>
    </>
  );
}
