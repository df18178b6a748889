import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField, Typography } from '@mui/material';
import {
  ALL_GROUPS,
  FAMILIES,
  FAMILY_TITLES,
  REF_WORDS,
  RULE_KINDS,
  searchWords,
  sentenceOf,
  wordsOf,
  type Rule,
} from '@sobrin/core/spec';
import { useState } from 'react';
import { IF_SMALL } from '../ui/frame';

const NAMES = {
  ref: (ref: string): string => REF_WORDS[ref] ?? ref,
  site: (id: string): string => (id === 'anywhere' ? 'anywhere' : id),
  group: (id: string): string => (id === ALL_GROUPS ? 'every group' : id),
  task: (): string => 'a task',
  secret: (full: string): string => full,
};

/** The kinds of requirements, each by the sentence it begins with. */
export function KindDialog({
  open,
  title,
  onClose,
  onChoose,
}: {
  open: boolean;
  title: string;
  onClose: () => void;
  onChoose: (kind: string) => void;
}) {
  const [search, setSearch] = useState('');
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  const found = RULE_KINDS.map((kind) => ({ kind, sentence: sentenceOf(wordsOf(kind.fresh as Rule, NAMES)) })).filter(
    ({ kind, sentence }) => {
      const text = `${kind.title} ${kind.family} ${sentence} ${searchWords(kind.kind)}`.toLowerCase();
      return words.every((word) => text.includes(word));
    },
  );
  return (
    <Dialog open={open} onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle sx={{ pb: 1 }}>{title}</DialogTitle>
      <DialogContent sx={{ height: 480 }}>
        <TextField
          autoFocus
          fullWidth
          type="search"
          label="Search"
          value={search}
          onChange={(event) => setSearch(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Enter' && found[0]) {
              event.preventDefault();
              onChoose(found[0].kind.kind);
            }
          }}
          sx={{ mt: 1, mb: 1 }}
        />
        {found.length === 0 && (
          <Typography color="text.secondary" sx={{ p: 2 }}>
            Nothing fits “{search}”. Try a word of the sentence, for instance gateway or fibre.
          </Typography>
        )}
        {FAMILIES.map((family) => {
          const list = found.filter(({ kind }) => kind.family === family);
          return (
            list.length > 0 && (
              <Box key={family} component="section" aria-label={FAMILY_TITLES[family]}>
                <Typography variant="body2" color="text.secondary" sx={{ px: 1, pt: 1 }}>
                  {FAMILY_TITLES[family]}
                </Typography>
                {list.map(({ kind, sentence }) => (
                  <Button
                    key={kind.kind}
                    fullWidth
                    onClick={() => onChoose(kind.kind)}
                    sx={{
                      justifyContent: 'start',
                      textAlign: 'left',
                      color: 'var(--ink)',
                      fontWeight: 400,
                      whiteSpace: 'normal',
                      display: 'grid',
                      gridTemplateColumns: '210px 1fr',
                      columnGap: 2,
                      [IF_SMALL]: { gridTemplateColumns: 'minmax(0, 1fr)' },
                    }}
                  >
                    <b>{kind.title}</b>
                    <span style={{ color: 'var(--ink2)' }}>{sentence}</span>
                  </Button>
                ))}
              </Box>
            )
          );
        })}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
      </DialogActions>
    </Dialog>
  );
}
