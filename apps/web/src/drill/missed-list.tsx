import { Box, Typography } from '@mui/material';
import { type Drill } from '@sobrin/core/spec';
import { useLayoutEffect, useRef } from 'react';
import { Key } from '../ui/keys/key';
import { type missedByKind } from './findings';

/** What the spec misses, by kind of mistake; a plus where a proposal would notice it. */
export function MissedList({
  kinds,
  chosen,
  proposals,
  dismissed,
  onChoose,
}: {
  kinds: ReturnType<typeof missedByKind>;
  chosen: number | null;
  proposals: Drill['proposals'];
  dismissed: ReadonlySet<string>;
  onChoose: (at: number) => void;
}) {
  const count = kinds.reduce((sum, { list }) => sum + list.length, 0);
  const mended = new Set(proposals.flatMap(({ id, notices }) => (dismissed.has(id) ? [] : notices)));
  return (
    <Box
      component="section"
      aria-label="Missed"
      sx={{ flex: '1.3 1 0', minWidth: 0, display: 'flex', flexDirection: 'column' }}
    >
      <Head title={`${count} missed`} aside="by kind of mistake">
        <Key id="miss" keys="ArrowDown" />
      </Head>
      <Box sx={{ overflow: 'auto', flex: 1 }}>
        {count === 0 && (
          <Typography sx={{ p: 2 }} color="text.secondary">
            Every mistake that does harm is noticed.
          </Typography>
        )}
        {kinds.map(({ operator, title, list }) => (
          <Box key={operator} component="section" aria-label={title}>
            <Typography
              variant="body2"
              component="h3"
              sx={{
                px: 2,
                py: 0.5,
                fontWeight: 700,
                background: 'var(--ground)',
                borderBottom: '1px solid var(--line)',
              }}
            >
              {title} <span className="mono">{list.length}</span>
            </Typography>
            {list.map(({ fault, at }) => (
              <MissedLine
                key={at}
                text={fault.text}
                times={fault.times}
                works={fault.works ?? false}
                hasProposal={mended.has(at)}
                isChosen={chosen === at}
                onChoose={() => onChoose(at)}
              />
            ))}
          </Box>
        ))}
      </Box>
    </Box>
  );
}

function MissedLine({
  text,
  times,
  works,
  hasProposal,
  isChosen,
  onChoose,
}: {
  text: string;
  times: number;
  works: boolean;
  hasProposal: boolean;
  isChosen: boolean;
  onChoose: () => void;
}) {
  const ref = useRef<HTMLButtonElement>(null);
  useLayoutEffect(() => {
    if (!isChosen) return;
    ref.current?.scrollIntoView?.({ block: 'nearest' });
    if (document.activeElement?.matches('[data-miss]')) ref.current?.focus();
  }, [isChosen]);
  return (
    <Box
      component="button"
      type="button"
      ref={ref}
      aria-current={isChosen}
      data-line
      data-miss
      onClick={onChoose}
      sx={{
        all: 'unset',
        boxSizing: 'border-box',
        width: '100%',
        cursor: 'pointer',
        display: 'grid',
        gridTemplateColumns: '16px minmax(0, 1fr) auto',
        gap: 1,
        px: 1.5,
        py: 0.75,
        minHeight: 28,
        borderLeft: `4px solid ${isChosen ? 'var(--brick)' : 'transparent'}`,
        background: isChosen ? 'var(--brick-tint)' : undefined,
        borderBottom: '1px solid var(--line)',
        '&:hover': { background: isChosen ? undefined : 'var(--ground)' },
        '&:focus-visible': { outline: '2px solid var(--spruce)', outlineOffset: -2 },
      }}
    >
      <b className="mono" style={{ color: 'var(--spruce)' }} title={hasProposal ? 'a proposal would notice it' : ''}>
        {hasProposal ? '+' : ''}
      </b>
      <span style={{ overflowWrap: 'anywhere' }}>
        {text}
        {works && <span style={{ color: 'var(--ink2)' }}> It works, and is wrong.</span>}
      </span>
      <span className="mono" style={{ color: 'var(--ink2)' }}>
        {times > 1 ? `×${times}` : ''}
      </span>
    </Box>
  );
}

export function Head({ title, aside, children }: { title: string; aside: string; children?: React.ReactNode }) {
  return (
    <Box
      sx={{
        px: 2,
        minHeight: 36,
        flex: 'none',
        display: 'flex',
        gap: 1,
        alignItems: 'center',
        borderBottom: '1px solid var(--line)',
      }}
    >
      <Typography variant="h3" component="h2">
        {title}
      </Typography>
      <Typography variant="body2" color="text.secondary" sx={{ flex: 1 }} noWrap>
        {aside}
      </Typography>
      {children}
    </Box>
  );
}
