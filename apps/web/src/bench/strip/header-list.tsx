import { Box } from '@mui/material';
import { IconChevronDown, IconChevronRight } from '@tabler/icons-react';
import { useState } from 'react';
import { type TraceFrame } from '../../workers/trace-answer';

/** Frames in the order of time, each with the link it is on; one that is chosen opens to its headers. */
export function FrameList({ frames, nameOf }: { frames: readonly TraceFrame[]; nameOf: (link: string) => string }) {
  const [open, setOpen] = useState<number | null>(null);
  return (
    <Box component="ul" aria-label="Frames" sx={{ listStyle: 'none', m: 0, mt: 0.5, p: 0 }}>
      {frames.map((frame, at) => {
        const Sign = at === open ? IconChevronDown : IconChevronRight;
        return (
          <li key={at}>
            <Box
              component="button"
              type="button"
              aria-expanded={at === open}
              onClick={() => setOpen(at === open ? null : at)}
              sx={{
                all: 'unset',
                boxSizing: 'border-box',
                width: '100%',
                display: 'grid',
                gridTemplateColumns: '16px 1fr',
                gap: '2px 6px',
                py: '3px',
                cursor: 'pointer',
                borderTop: '1px solid var(--line)',
                '&:focus-visible': { outline: '2px solid var(--spruce)', outlineOffset: '-1px' },
              }}
            >
              <Sign size={14} style={{ marginTop: 3 }} aria-hidden />
              <span>
                {frame.what}
                <span style={{ display: 'block', color: 'var(--ink2)', fontSize: 12 }}>{nameOf(frame.link)}</span>
              </span>
            </Box>
            {at === open && <Headers frame={frame} />}
          </li>
        );
      })}
    </Box>
  );
}

const Headers = ({ frame }: { frame: TraceFrame }) => (
  <Box sx={{ pl: '22px', pb: 1 }}>
    {frame.headers.map(({ name, source, fields }, at) => (
      <Box component="table" key={at} sx={{ width: '100%', borderCollapse: 'collapse', mb: 1, fontSize: 12 }}>
        <caption style={{ textAlign: 'left', fontWeight: 700 }}>
          {name} <span style={{ fontWeight: 400, color: 'var(--ink2)' }}>{source}</span>
        </caption>
        <tbody>
          {fields.map((field) => (
            <tr key={field.name}>
              <Box
                component="th"
                scope="row"
                sx={{
                  width: '44%',
                  textAlign: 'left',
                  fontWeight: 400,
                  color: 'var(--ink2)',
                  verticalAlign: 'top',
                  p: '1px 6px 1px 0',
                }}
              >
                {field.name}
              </Box>
              <Box component="td" className="mono" sx={{ overflowWrap: 'anywhere', p: '1px 0' }}>
                {field.text}
              </Box>
            </tr>
          ))}
        </tbody>
      </Box>
    ))}
  </Box>
);
