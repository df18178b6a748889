import { Box, Stack, Typography } from '@mui/material';
import { IconChevronDown, IconChevronRight } from '@tabler/icons-react';
import { type ReactNode, useId, useState } from 'react';

/** What an inspector is about. */
export function Heading({ title, under, children }: { title: string; under?: ReactNode; children?: ReactNode }) {
  return (
    <Stack direction="row" spacing={1.5} sx={{ alignItems: 'center', mb: 1.5 }}>
      {children}
      <Box sx={{ minWidth: 0 }}>
        <Typography variant="h2" sx={{ fontSize: 16 }} noWrap>
          {title}
        </Typography>
        {under && (
          <Typography variant="body2" color="text.secondary">
            {under}
          </Typography>
        )}
      </Box>
    </Stack>
  );
}

export function Part({ title, aside, children }: { title: string; aside?: ReactNode; children: ReactNode }) {
  return (
    <Box component="section" aria-label={title} sx={{ borderTop: '1px solid var(--line)', mt: 1.5, pt: 1.25 }}>
      <Stack direction="row" sx={{ justifyContent: 'space-between', alignItems: 'baseline', mb: 0.5 }}>
        <Typography variant="h3">{title}</Typography>
        <Typography variant="body2" color="text.secondary" component="span">
          {aside}
        </Typography>
      </Stack>
      {children}
    </Box>
  );
}

/** A part of an inspector that opens: closed it says in a word what is in it. */
export function Fold({
  title,
  aside,
  startOpen = false,
  children,
}: {
  title: string;
  aside?: ReactNode;
  startOpen?: boolean;
  children: ReactNode;
}) {
  const [open, setOpen] = useState(startOpen);
  const id = useId();
  const Arrow = open ? IconChevronDown : IconChevronRight;
  return (
    <Box component="section" aria-label={title} sx={{ borderTop: '1px solid var(--line)', mt: 1, pt: 0.5 }}>
      <Box
        component="button"
        type="button"
        aria-expanded={open}
        aria-controls={id}
        onClick={() => setOpen(!open)}
        sx={{
          all: 'unset',
          display: 'flex',
          alignItems: 'center',
          gap: 0.5,
          width: '100%',
          minHeight: 28,
          cursor: 'pointer',
          '&:focus-visible': { outline: '2px solid var(--spruce)', borderRadius: '4px' },
        }}
      >
        <Arrow size={14} aria-hidden />
        <Typography variant="h3" component="span" sx={{ flex: 1 }}>
          {title}
        </Typography>
        <Typography variant="body2" color="text.secondary" component="span">
          {aside}
        </Typography>
      </Box>
      {open && (
        <Box id={id} sx={{ pt: 0.5, pb: 0.5 }}>
          {children}
        </Box>
      )}
    </Box>
  );
}
