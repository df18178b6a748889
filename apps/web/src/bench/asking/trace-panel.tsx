import { Box, Button, IconButton, Typography } from '@mui/material';
import { IconArrowNarrowLeft, IconArrowNarrowRight, IconX } from '@tabler/icons-react';
import { partName } from '@sobrin/core/engine';
import { type Topology } from '@sobrin/core/topology';
import { type ReactNode, useEffect, useLayoutEffect, useRef } from 'react';
import { fileName, give } from '../../api/files';
import { Choice } from '../../ui/fields';
import { isTyping } from '../../ui/keys/shortcuts';
import { SidePanel } from '../../ui/side-panel';
import { type TraceAnswer, type TraceStep, type TraceRequest } from '../../workers/trace-answer';
import { FrameList } from '../strip/header-list';
import { ProbeFields } from './probe-fields';

/**
 * The steps of a packet there and back; the arrow keys walk them, and the drawing shows where one stands. The step one
 * stands at is open: what goes over the wires there, down to the fields of its headers.
 */
export default function TracePanel({
  trace,
  before,
  topology,
  at,
  onStep,
  onSend,
  onClose,
  mends,
}: {
  trace: TraceAnswer;
  /** What the same question gave before. */
  before: TraceAnswer | null;
  topology: Topology;
  at: number;
  onStep: (at: number) => void;
  /** Sends it again, as it is wished now. */
  onSend: (request: TraceRequest) => void;
  onClose: () => void;
  /** What would mend it, where that is told. */
  mends?: ReactNode;
}) {
  const list = useRef<HTMLOListElement>(null);
  // Whoever asks the same two again by another protocol stands at that choice, and stays there; whoever types the next
  // question before this answer is here, or the moment it is, goes on typing.
  useLayoutEffect(() => {
    if (!isTyping(document.activeElement)) list.current?.focus();
  }, [trace.from, trace.to]);
  // Also when headers are opened: they take room of the list.
  useEffect(() => {
    const steps = list.current;
    if (!steps) return;
    const watch = new ResizeObserver(() => steps.children[at]?.scrollIntoView?.({ block: 'nearest' }));
    watch.observe(steps);
    return () => watch.disconnect();
  }, [at]);
  const same = before ? sameSteps(before, trace) : 0;
  return (
    <SidePanel label="Trace" bare onClose={onClose}>
      <Box sx={{ height: '100%', display: 'flex', flexDirection: 'column' }}>
        <Box sx={{ display: 'flex', alignItems: 'start', p: 2, pb: 1 }}>
          <Box sx={{ flex: 1, minWidth: 0 }}>
            <Typography variant="h2" sx={{ fontSize: 16 }}>
              {trace.from} → {trace.to}
            </Typography>
            <Typography variant="body2" color="text.secondary" className="mono">
              {[trace.source, trace.target].filter(Boolean).join(' → ')}
            </Typography>
            {trace.named && <Typography variant="body2">{trace.named}</Typography>}
            <Typography
              sx={{ mt: 0.5, fontWeight: 700, color: trace.answer === 'yes' ? 'var(--spruce)' : 'var(--brick)' }}
            >
              {outcomeWords(trace)}
            </Typography>
            {mends}
          </Box>
          <IconButton size="small" aria-label="Close the trace" onClick={onClose}>
            <IconX size={16} />
          </IconButton>
        </Box>
        <Box sx={{ px: 2, pb: 1 }}>
          <ProbeFields options={trace.request} onChange={(options) => onSend({ ...trace.request, ...options })} />
          <Box sx={{ mt: 1 }}>
            <Choice
              label="Neighbours"
              value={trace.request.neighbours ?? 'asked'}
              options={[
                { value: 'asked', text: 'neighbours are asked for first' },
                { value: 'known', text: 'neighbours are known already' },
              ]}
              onChange={(neighbours) => onSend({ ...trace.request, neighbours })}
            />
          </Box>
          <Box sx={{ display: 'flex', gap: 1, mt: 1 }}>
            <Button size="small" variant="outlined" onClick={() => onSend(trace.request)}>
              Send again
            </Button>
            <Button
              size="small"
              disabled={!trace.steps.some((step) => step.frames.length)}
              onClick={() =>
                give(fileName(`${trace.from} to ${trace.to}`, 'pcap'), 'application/vnd.tcpdump.pcap', trace.capture)
              }
            >
              Save as a capture
            </Button>
          </Box>
          {before && <Compared before={before} now={trace} same={same} />}
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
          }}
          sx={{
            listStyle: 'none',
            m: 0,
            p: 1,
            flex: '1 1 160px',
            minHeight: 120,
            overflowY: 'auto',
            '&:focus-visible': { outline: '2px solid var(--spruce)', outlineOffset: -2 },
          }}
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
                  {before && index >= same && (
                    <Typography variant="body2" sx={{ color: 'var(--plum)' }}>
                      other than before
                    </Typography>
                  )}
                </Box>
              </Box>
            );
          })}
        </Box>
        {trace.reason && (
          <Box sx={{ m: 2, mt: 0, p: 1.25, borderRadius: '8px', background: 'var(--brick-tint)' }}>
            <Typography variant="body2">{trace.reason}</Typography>
            {trace.remedy && (
              <Typography variant="body2" sx={{ mt: 0.5, fontWeight: 600 }}>
                {trace.remedy}
              </Typography>
            )}
          </Box>
        )}
        {(trace.steps[at]?.frames.length ?? 0) > 0 && (
          <Box
            role="region"
            aria-label="On the wire"
            tabIndex={0}
            sx={{
              px: 2,
              pt: 1,
              pb: 2,
              flex: '0 1 auto',
              maxHeight: '50%',
              overflowY: 'auto',
              borderTop: '1px solid var(--line2)',
            }}
          >
            <Typography variant="h2" sx={{ fontSize: 14 }}>
              On the wire after step {at + 1}
            </Typography>
            <FrameList
              key={at}
              frames={trace.steps[at]!.frames}
              nameOf={(link) => partName(topology, { kind: 'link', id: link })}
            />
          </Box>
        )}
      </Box>
    </SidePanel>
  );
}

function outcomeWords({ answer, outcome }: TraceAnswer): string {
  switch (outcome) {
    case 'open':
      return 'the connection is open';
    case 'refused':
      return 'reached, and refused: nothing listens at that port';
    case 'timeout':
      return 'no answer';
    case 'unreachable':
      return 'not reached, and told so';
    default:
      return answer === 'yes' ? 'reached, and the answer came back' : answer === 'no' ? 'not reached' : 'uncertain';
  }
}

/** How many steps from the first on are the same in both. */
function sameSteps(before: TraceAnswer, now: TraceAnswer): number {
  const key = ({ way, device, in: by, out, decided }: TraceStep): string => [way, device, by, out, decided].join(' ');
  const other = now.steps.findIndex((step, at) => !before.steps[at] || key(before.steps[at]) !== key(step));
  return other < 0 ? now.steps.length : other;
}

function Compared({ before, now, same }: { before: TraceAnswer; now: TraceAnswer; same: number }) {
  const isSame = same === now.steps.length && same === before.steps.length;
  const other = before.steps[same];
  return (
    <Box sx={{ mt: 1, p: 1.25, borderRadius: '8px', background: 'var(--plum-tint)' }} role="status">
      <Typography variant="body2">
        <b>Before:</b> {outcomeWords(before)}.{' '}
        {isSame ? 'Every step is the same now.' : `The first ${same} of ${now.steps.length} steps are the same.`}
      </Typography>
      {!isSame && other && (
        <Typography variant="body2">
          Step {same + 1} was {other.name}: {other.decided}
        </Typography>
      )}
    </Box>
  );
}
