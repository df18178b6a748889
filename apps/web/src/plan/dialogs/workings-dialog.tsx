import {
  Alert,
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Stack,
  Typography,
} from '@mui/material';
import { IconPrinter } from '@tabler/icons-react';
import { parseAddress, parseInterfaceAddress, practiceSheet, workings } from '@sobrin/core/address';
import { useMemo, useState } from 'react';
import { practicePaper } from '../../print/papers';
import { printPaper } from '../../print/pdf';
import { Row, TextInput } from '../../ui/fields';
import { MathWords } from '../../ui/math-words';
import { BitLines } from '../inspector/bit-lines';

/** The steps from an address to its block, in binary and in words; and a sheet to practise them. */
export default function WorkingsDialog({
  start,
  title,
  onClose,
}: {
  start: string;
  title: string;
  onClose: () => void;
}) {
  const [text, setText] = useState(start || '10.84.3.7/26');
  const read = parseInterfaceAddress(text.trim());
  const alone = parseAddress(text.trim());
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle sx={{ pb: 1 }}>Workings</DialogTitle>
      <DialogContent sx={{ height: 560 }}>
        <Box sx={{ maxWidth: 420 }}>
          <Row label="Address">
            <TextInput
              label="Address with prefix length or mask"
              mono
              autoFocus
              maxLength={64}
              value={text}
              onDraft={setText}
              onCommit={setText}
            />
          </Row>
        </Box>
        {read.ok ? (
          <Box component="ol" sx={{ listStyle: 'none', m: 0, p: 0, mt: 1 }}>
            {workings(read.value.address, read.value.length).map((step, at) => (
              <Box
                component="li"
                key={step.title}
                sx={{
                  display: 'grid',
                  gridTemplateColumns: '24px minmax(0, 1fr)',
                  py: 1,
                  borderTop: '1px solid var(--line)',
                }}
              >
                <b className="mono">{at + 1}</b>
                <div>
                  <Typography variant="h3">{step.title}</Typography>
                  <Typography sx={{ my: 0.25 }}>
                    <MathWords text={step.words} />
                  </Typography>
                  {step.bits.length > 0 && <BitLines lines={step.bits} />}
                </div>
              </Box>
            ))}
          </Box>
        ) : (
          <Alert severity="info" variant="outlined" sx={{ mt: 1 }}>
            {alone.ok
              ? `Write a prefix length or a mask behind it, for instance ${text.trim()}/${alone.value.family === 4 ? 26 : 64}.`
              : read.error.text}
          </Alert>
        )}
        <PracticePart title={title} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}

function PracticePart({ title }: { title: string }) {
  const [count, setCount] = useState('12');
  const [seed, setSeed] = useState('1');
  const [answers, setAnswers] = useState(false);
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const questions = useMemo(() => practiceSheet(Number(seed) || 0, Math.max(1, Number(count) || 1)), [seed, count]);
  const print = async (): Promise<void> => {
    setBusy(true);
    const unwritten = await printPaper(practicePaper(title, Number(seed) || 0, questions), `practice-${seed}.pdf`);
    setTrouble(unwritten);
    setBusy(false);
  };
  return (
    <Box component="section" aria-label="Practice sheet" sx={{ borderTop: '1px solid var(--line2)', mt: 2, pt: 1.5 }}>
      <Typography variant="h2">Practice sheet</Typography>
      <Stack direction="row" spacing={2} sx={{ alignItems: 'center', my: 1 }}>
        <Box sx={{ width: 150 }}>
          <Row label="Questions">
            <TextInput
              label="Number of questions"
              mono
              value={count}
              onDraft={setCount}
              onCommit={setCount}
              strict
              check={(text) => (/^\d{1,3}$/.test(text) && Number(text) >= 1 && Number(text) <= 200 ? null : '1 to 200')}
            />
          </Row>
        </Box>
        <Box sx={{ width: 150 }}>
          <Row label="Seed">
            <TextInput
              label="Seed"
              mono
              value={seed}
              onDraft={setSeed}
              onCommit={setSeed}
              strict
              check={(text) => (/^\d{1,9}$/.test(text) ? null : 'a number')}
            />
          </Row>
        </Box>
        <Button size="small" aria-pressed={answers} onClick={() => setAnswers(!answers)}>
          {answers ? 'Hide the answers' : 'Show the answers'}
        </Button>
        <Button
          size="small"
          variant="outlined"
          disabled={busy}
          startIcon={<IconPrinter size={15} />}
          onClick={() => void print()}
        >
          Print as PDF
        </Button>
      </Stack>
      {trouble && (
        <Alert severity="warning" sx={{ mt: 1 }}>
          {trouble}
        </Alert>
      )}
      <Typography variant="body2" color="text.secondary">
        The same seed gives the same sheet on every machine. The answers are on the last page.
      </Typography>
      <Box component="ol" sx={{ pl: 3.5, my: 1, '& li': { py: '3px' } }}>
        {questions.map((question, at) => (
          <li key={at}>
            {question.question}
            {answers && (
              <div style={{ color: 'var(--spruce)' }} className="mono">
                {question.answer}
              </div>
            )}
          </li>
        ))}
      </Box>
    </Box>
  );
}
