import { Box, Typography } from '@mui/material';
import { IconArrowBackUp, IconChevronRight } from '@tabler/icons-react';
import { Fragment } from 'react';
import { Key } from '../ui/keys/key';
import { type PacketWay } from './use-way';

/** The devices a packet came by, one beside the other, and what was decided where one stands. */
export function WayStrip({ way: { trace, at, goTo } }: { way: PacketWay }) {
  const here = trace.steps[at];
  /** Why it ends at this step, where it does. */
  const ends = here && at === trace.steps.length - 1 ? trace.reason : null;
  return (
    <Box
      component="section"
      aria-label="Way of the packet"
      sx={{ flex: 'none', px: 2, py: 0.75, borderTop: '1px solid var(--line)', background: 'var(--surface)' }}
    >
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
        <Typography variant="body2" color="text.secondary" sx={{ flex: 'none', whiteSpace: 'nowrap' }}>
          <Key id="way" keys="T" /> way
        </Typography>
        <Box
          component="ol"
          sx={{ listStyle: 'none', m: 0, p: 0, display: 'flex', alignItems: 'center', overflowX: 'auto', minWidth: 0 }}
        >
          {trace.steps.map((step, index) => (
            <Fragment key={index}>
              {index > 0 && (
                <Box component="li" aria-hidden sx={{ display: 'flex', color: 'var(--ink3)' }}>
                  {step.way === trace.steps[index - 1]!.way ? (
                    <IconChevronRight size={14} />
                  ) : (
                    <IconArrowBackUp size={16} />
                  )}
                </Box>
              )}
              <Box component="li" sx={{ flex: 'none' }}>
                <Box
                  component="button"
                  type="button"
                  aria-current={index === at ? 'step' : undefined}
                  aria-label={`Step ${index + 1}: ${step.name}${step.way === 'reply' ? ', on the way back' : ''}`}
                  ref={(button: HTMLButtonElement | null) => {
                    if (index === at) button?.scrollIntoView?.({ block: 'nearest', inline: 'nearest' });
                  }}
                  onClick={() => goTo(index)}
                  sx={{
                    all: 'unset',
                    cursor: 'pointer',
                    px: 0.75,
                    minHeight: 24,
                    lineHeight: '24px',
                    borderRadius: '6px',
                    whiteSpace: 'nowrap',
                    background: index === at ? 'var(--ochre-tint)' : undefined,
                    fontWeight: index === at ? 700 : undefined,
                    '&:focus-visible': { outline: '2px solid var(--spruce)', outlineOffset: -2 },
                  }}
                >
                  <span className="mono" style={{ color: 'var(--ink2)', fontSize: 12 }}>
                    {index + 1}
                  </span>{' '}
                  {step.name}
                </Box>
              </Box>
            </Fragment>
          ))}
        </Box>
      </Box>
      <Typography variant="body2" role="status" sx={{ mt: 0.25 }}>
        {here ? (
          <>
            <b>{here.name}</b>{' '}
            <span className="mono" style={{ color: 'var(--ink2)' }}>
              {[here.in && `in ${here.in}`, here.out && `out ${here.out}`].filter(Boolean).join(', ')}
            </span>{' '}
            {ends === here.decided ? null : here.decided}
          </>
        ) : (
          trace.reason
        )}
        {ends !== null && (
          <Box component="span" sx={{ color: 'var(--brick)', fontWeight: 700 }}>
            {' '}
            Here it ends: {ends}
          </Box>
        )}
      </Typography>
    </Box>
  );
}
