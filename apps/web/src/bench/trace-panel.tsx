import { Box, IconButton, Typography } from '@mui/material';
import { IconArrowNarrowLeft, IconArrowNarrowRight, IconX } from '@tabler/icons-react';
import { useEffect, useRef } from 'react';
import { type Mark, type Marks } from '../drawing/marks';
import { SidePanel } from '../ui/side-panel';
import { type ToldTrace } from '../workers/told-trace';

/** The steps of a packet there and back; the arrow keys walk them, and the drawing shows where one stands. */
export function TracePanel({
  trace,
  at,
  onStep,
  onClose,
}: {
  trace: ToldTrace;
  at: number;
  onStep: (at: number) => void;
  onClose: () => void;
}) {
  const list = useRef<HTMLOListElement>(null);
  useEffect(() => list.current?.focus(), [trace]);
  useEffect(() => void list.current?.children[at]?.scrollIntoView?.({ block: 'nearest' }), [at]);
  const outcome =
    trace.answer === 'yes' ? 'reached, and the answer came back' : trace.answer === 'no' ? 'not reached' : 'uncertain';
  return (
    <SidePanel label="Trace" bare>
      <Box sx={{ display: 'flex', alignItems: 'start', p: 2, pb: 1 }}>
        <Box sx={{ flex: 1, minWidth: 0 }}>
          <Typography variant="h2" sx={{ fontSize: 16 }}>
            {trace.from} → {trace.to}
          </Typography>
          <Typography variant="body2" color="text.secondary" className="mono">
            {[trace.source, trace.target].filter(Boolean).join(' → ')}
          </Typography>
          <Typography
            sx={{ mt: 0.5, fontWeight: 700, color: trace.answer === 'yes' ? 'var(--spruce)' : 'var(--brick)' }}
          >
            {outcome}
          </Typography>
        </Box>
        <IconButton size="small" aria-label="Close the trace" onClick={onClose}>
          <IconX size={16} />
        </IconButton>
      </Box>
      <Box
        component="ol"
        ref={list}
        tabIndex={0}
        role="listbox"
        aria-label="Steps of the packet"
        aria-activedescendant={trace.steps.length ? `trace-step-${at}` : undefined}
        onKeyDown={(event) => {
          const by = { ArrowDown: 1, ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1 }[event.key];
          if (by) {
            event.preventDefault();
            onStep(Math.min(trace.steps.length - 1, Math.max(0, at + by)));
          }
          if (event.key === 'Escape') onClose();
        }}
        sx={{ listStyle: 'none', m: 0, p: 1, pt: 0 }}
      >
        {trace.steps.map((step, index) => {
          const Arrow = step.way === 'request' ? IconArrowNarrowRight : IconArrowNarrowLeft;
          return (
            <Box
              component="li"
              key={index}
              id={`trace-step-${index}`}
              role="option"
              aria-selected={index === at}
              onClick={() => onStep(index)}
              sx={{
                display: 'flex',
                gap: 1,
                p: 1,
                borderRadius: '8px',
                cursor: 'pointer',
                background: index === at ? 'var(--ochre-tint)' : undefined,
              }}
            >
              <span className="mono" style={{ width: 18, textAlign: 'right', color: 'var(--ink3)' }}>
                {index + 1}
              </span>
              <Arrow size={16} style={{ flex: 'none', marginTop: 1 }} aria-label={step.way} />
              <Box sx={{ minWidth: 0 }}>
                <b>{step.name}</b>{' '}
                <span className="mono" style={{ color: 'var(--ink2)' }}>
                  {[step.in && `in ${step.in}`, step.out && `out ${step.out}`].filter(Boolean).join(', ')}
                </span>
                <Typography variant="body2">{step.decided}</Typography>
              </Box>
            </Box>
          );
        })}
      </Box>
      {trace.reason && (
        <Box sx={{ m: 2, mt: 0, p: 1.25, borderRadius: '8px', background: 'var(--brick-tint)' }}>
          <Typography variant="body2">{trace.reason}</Typography>
        </Box>
      )}
    </SidePanel>
  );
}

/** What a trace marks on the drawing: its whole way, and the place where it ends. */
export function marksOfTrace(trace: ToldTrace, at: number): Marks {
  const mark: Mark = trace.answer === 'yes' ? 'met' : 'unsure';
  const devices = new Map<string, Mark>(trace.steps.slice(0, at + 1).map((one) => [one.device, mark]));
  const links = new Map<string, Mark>(
    trace.steps.slice(0, at + 1).flatMap((one) => one.links.map((link) => [link, mark] as const)),
  );
  if (trace.answer !== 'yes' && at === trace.steps.length - 1 && trace.steps[at])
    devices.set(trace.steps[at].device, 'lost');
  return { devices, links };
}
