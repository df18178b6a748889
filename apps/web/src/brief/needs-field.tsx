import { Box, Checkbox, FormControlLabel, Popover } from '@mui/material';
import { NEEDS } from '@sobrin/core/plan';
import { useState } from 'react';
import { TextInput } from '../ui/fields';

const KNOWN: readonly string[] = NEEDS;

/** What a group needs, as a line of words that opens to a list; needs of one's own can be written below it. */
export function NeedsField({
  label,
  needs,
  onChange,
}: {
  label: string;
  needs: readonly string[];
  onChange: (needs: string[]) => void;
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const own = needs.filter((need) => !KNOWN.includes(need));
  return (
    <>
      <Box
        component="button"
        type="button"
        aria-haspopup="dialog"
        aria-label={`${label}: ${needs.join(', ') || 'choose'}`}
        title={needs.join(', ')}
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{
          font: 'inherit',
          width: '100%',
          height: 28,
          textAlign: 'left',
          px: 1,
          color: needs.length ? 'var(--ink)' : 'var(--ink3)',
          background: 'var(--surface)',
          border: '1px solid var(--line2)',
          borderRadius: '6px',
          overflow: 'hidden',
          textOverflow: 'ellipsis',
          whiteSpace: 'nowrap',
          cursor: 'pointer',
          '&:hover': { borderColor: 'var(--line2)' },
        }}
      >
        {needs.join(', ') || 'choose'}
      </Box>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      >
        <Box role="group" aria-label={label} sx={{ p: 1.5, width: 240 }}>
          {KNOWN.map((need) => (
            <FormControlLabel
              key={need}
              sx={{ display: 'flex' }}
              control={
                <Checkbox
                  size="small"
                  checked={needs.includes(need)}
                  onChange={(_event, on) =>
                    onChange([...KNOWN.filter((known) => (known === need ? on : needs.includes(known))), ...own])
                  }
                />
              }
              label={need}
            />
          ))}
          <TextInput
            label="Other needs"
            placeholder="others, with commas between"
            value={own.join(', ')}
            onCommit={(text) =>
              onChange([
                ...needs.filter((need) => KNOWN.includes(need)),
                ...text
                  .split(',')
                  .map((part) => part.trim().slice(0, 80))
                  .filter(Boolean),
              ])
            }
          />
        </Box>
      </Popover>
    </>
  );
}
