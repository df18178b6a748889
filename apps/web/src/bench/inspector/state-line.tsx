import { Box } from '@mui/material';
import { speedWords } from '../../ui/speed-words';
import { type LinkFact } from '../../workers/facts';

const WORDS = { up: 'Passes traffic', down: 'Down', crossed: 'Wrong cable or no match' } as const;

/** The state of a link as a chip, a word and the reason as a sentence. */
export function StateLine({ fact }: { fact: LinkFact | undefined }) {
  if (!fact) return null;
  const tone =
    fact.state === 'crossed' ? 'brick' : fact.warning ? 'ochre-text' : fact.state === 'up' ? 'spruce' : 'ink2';
  return (
    <Box role="status" sx={{ borderLeft: `3px solid var(--${tone})`, pl: 1, mb: 1, color: 'var(--ink2)' }}>
      <b>
        {WORDS[fact.state]}
        {fact.speedMbps ? `, ${speedWords(fact.speedMbps)}` : ''}
      </b>
      {fact.text && <div>{fact.text}</div>}
    </Box>
  );
}
