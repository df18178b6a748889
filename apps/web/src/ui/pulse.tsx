import { Box, Button, Popover, Typography } from '@mui/material';
import { plural } from '@sobrin/core';
import { IconAlertTriangle, IconCircleCheck } from '@tabler/icons-react';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { announce } from './announce';
import { IF_NARROW } from './frame';

/** As much of a line as there is room for. */
const CUT = { flex: 1, minWidth: 0, whiteSpace: 'nowrap', overflow: 'hidden', textOverflow: 'ellipsis' } as const;

/** The one-line live count of problems at the bottom edge; a click lists them, each jumps to its place. */
export function Pulse<P extends { text: string }>({
  problems,
  following,
  fine,
  isKnown = true,
  aside,
  onJump,
  onNext,
  repairOf,
  onRepair,
}: {
  problems: readonly P[];
  /** What only follows from each of them, in the same order; absent where nothing does. */
  following?: readonly (readonly P[])[];
  /** What is told where there are none. */
  fine: string;
  /** Whether anybody has looked yet. */
  isKnown?: boolean;
  aside?: ReactNode;
  onJump: (problem: P) => void;
  onNext: () => void;
  /** What mends a problem for certain, in words; null where a person has to decide. */
  repairOf?: (problem: P) => string | null;
  onRepair?: (problem: P) => void;
}) {
  const more = following?.reduce((sum, list) => sum + list.length, 0) ?? 0;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const count = isKnown ? problems.length : null;
  const told = useRef(count);
  useEffect(() => {
    if (count !== null && told.current !== null && count !== told.current)
      announce(count ? `Problems now ${count}` : 'No problem is left');
    told.current = count;
  }, [count]);
  return (
    <Box
      component="footer"
      aria-label="Problems"
      sx={{
        minHeight: 28,
        flex: 'none',
        px: 2,
        display: 'flex',
        alignItems: 'center',
        gap: 1.5,
        background: 'var(--sunk)',
        borderTop: '1px solid var(--line)',
        fontSize: 12,
        color: 'var(--ink2)',
        overflow: 'hidden',
      }}
    >
      {!isKnown ? (
        <span>Looking for problems …</span>
      ) : problems.length === 0 ? (
        <>
          <IconCircleCheck size={15} color="var(--spruce)" aria-hidden />
          <b style={{ color: 'var(--ink)', whiteSpace: 'nowrap' }}>No problems</b>
          <Box component="span" sx={CUT}>
            {fine}
          </Box>
        </>
      ) : (
        <>
          <Button
            size="small"
            aria-haspopup="dialog"
            aria-expanded={anchor !== null}
            onClick={(event) => setAnchor(event.currentTarget)}
            startIcon={<IconAlertTriangle size={15} color="var(--brick)" />}
            sx={{ minHeight: 24, py: 0, px: 0.5, color: 'var(--ink)', fontSize: 12 }}
          >
            {plural(problems.length, 'problem')}
            {more > 0 && `, ${more} that follow`}
          </Button>
          <Box component="span" sx={CUT}>
            {problems
              .slice(0, 3)
              .map((problem) => problem.text)
              .join('  ·  ')}
          </Box>
          <Button size="small" onClick={onNext} sx={{ minHeight: 24, py: 0, fontSize: 12, color: 'var(--ink2)' }}>
            <kbd>F8</kbd>&nbsp;next problem
          </Button>
        </>
      )}
      <Box sx={{ [IF_NARROW]: { display: 'none' } }}>{aside}</Box>
      <Popover
        open={anchor !== null && problems.length > 0}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        slotProps={{ paper: { role: 'dialog', 'aria-label': 'Problems' } }}
        anchorOrigin={{ vertical: 'top', horizontal: 'left' }}
        transformOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      >
        <Box
          component="ol"
          sx={{ m: 0, p: 1, pl: 4, maxHeight: 320, overflow: 'auto', width: 'min(560px, calc(100vw - 48px))' }}
        >
          {problems.map((problem, at) => (
            <li key={at}>
              <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
                <Button
                  onClick={() => {
                    setAnchor(null);
                    onJump(problem);
                  }}
                  sx={{
                    justifyContent: 'start',
                    textAlign: 'left',
                    color: 'var(--ink)',
                    fontWeight: 400,
                    whiteSpace: 'normal',
                    py: 0.25,
                    width: '100%',
                  }}
                >
                  <Typography>{problem.text}</Typography>
                </Button>
                <RepairButton
                  text={anchor ? (repairOf?.(problem) ?? null) : null}
                  onClick={() => {
                    onRepair?.(problem);
                    // With the last problem mended there is nothing left to list.
                    if (problems.length === 1) setAnchor(null);
                  }}
                />
              </Box>
              {following?.[at] && following[at].length > 0 && (
                <Box component="ul" aria-label="What follows from it" sx={{ m: 0, pl: 2.5, listStyle: 'none' }}>
                  {following[at].map((problem, nth) => (
                    <li key={nth}>
                      <Button
                        size="small"
                        onClick={() => {
                          setAnchor(null);
                          onJump(problem);
                        }}
                        sx={{
                          justifyContent: 'start',
                          textAlign: 'left',
                          color: 'var(--ink2)',
                          fontWeight: 400,
                          whiteSpace: 'normal',
                          py: 0.25,
                          width: '100%',
                          borderLeft: '2px solid var(--line2)',
                          borderRadius: 0,
                        }}
                      >
                        {problem.text}
                      </Button>
                    </li>
                  ))}
                </Box>
              )}
            </li>
          ))}
        </Box>
      </Popover>
    </Box>
  );
}

const RepairButton = ({ text, onClick }: { text: string | null; onClick: () => void }) =>
  text !== null && (
    <Button size="small" variant="outlined" onClick={onClick} sx={{ flex: 'none', minHeight: 26, py: 0 }}>
      {text}
    </Button>
  );
