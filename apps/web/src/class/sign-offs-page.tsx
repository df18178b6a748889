import { Box, Button, Typography } from '@mui/material';
import { type LabView, type SignOffsView } from '@sobrin/contracts';
import { IconArrowLeft, IconCheck } from '@tabler/icons-react';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api } from '../api/client';
import { readAnew, useSignOffs } from '../api/queries';
import { useShownLab } from '../lab/lab-shell';
import { announce, usePageTitle } from '../ui/announce';
import { Choice, TextInput } from '../ui/fields';
import { BODY } from '../ui/frame';
import { Opened } from '../ui/opened';
import { Empty, Failure } from '../ui/states';
import { TopBar } from '../ui/top-bar';
import { when } from '../ui/words';

type Row = SignOffsView['rows'][number];
type Cell = Row['cells'][number];

/** What a person confirms having seen, student by student: made for a telephone that is carried from desk to desk. */
export function SignOffsPage() {
  const lab = useShownLab();
  usePageTitle('Sign-offs', lab.title);
  const found = useSignOffs(lab.id);
  return (
    <>
      <TopBar title={lab.title} under={`${lab.courseTitle} · sign-offs`}>
        <Button
          variant="outlined"
          component={Link}
          to={`/labs/${lab.id}/class`}
          startIcon={<IconArrowLeft size={16} />}
        >
          Class
        </Button>
      </TopBar>
      <Box sx={{ ...BODY, p: { xs: 1, sm: 2 } }}>
        <Opened query={found} what="Loading the sign-offs">
          {(view) =>
            view.signOffs.length ? (
              <SignOffs lab={lab} view={view} />
            ) : (
              <Empty title="Nothing is to be signed off">
                The version that judges asks for nothing that a person has seen. Add “A person has seen that…” to the
                spec, and make it final.
              </Empty>
            )
          }
        </Opened>
      </Box>
    </>
  );
}

function SignOffs({ lab, view }: { lab: LabView; view: SignOffsView }) {
  const [chosen, setChosen] = useState(view.signOffs[0]!.id);
  const [search, setSearch] = useState('');
  const asked = view.signOffs.find(({ id }) => id === chosen) ?? view.signOffs[0]!;
  const client = useQueryClient();
  const sign = useMutation({
    mutationFn: async ({ row, cell }: { row: Row; cell: Cell }) => {
      const id = row.submissionId!;
      if (cell.decision !== null)
        return api('DELETE submissions/:id/decisions/:decision', { id, decision: cell.decision });
      if (!row.isChecked) await api('POST submissions/:id/check', { id });
      return api(
        'POST submissions/:id/decisions',
        { id },
        {
          requirement: asked.id,
          item: null,
          isMet: null,
          points: asked.of,
          reason: 'Seen.',
        },
      );
    },
    onSuccess: async (_view, { row, cell }) => {
      announce(`${row.name}: ${cell.decision === null ? 'seen' : 'taken back'}.`);
      await readAnew(client, ['class', lab.id], ['results', lab.id], ['submission', row.submissionId!]);
    },
  });
  const rows = view.rows.filter(({ name }) => name.toLowerCase().includes(search.trim().toLowerCase()));
  const seen = view.rows.filter((row) => cellOf(row, asked.id)?.state === 'seen').length;
  return (
    <Box sx={{ maxWidth: 560, mx: 'auto' }}>
      {view.signOffs.length > 1 ? (
        <Choice
          label="What was seen"
          value={asked.id}
          options={view.signOffs.map(({ id, sentence }) => ({ value: id, text: `${id} ${sentence}` }))}
          onChange={setChosen}
        />
      ) : (
        <Typography variant="h2">
          {asked.id} {asked.sentence}
        </Typography>
      )}
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', my: 1 }}>
        <TextInput label="Find a student" value="" placeholder="a name" onCommit={setSearch} onDraft={setSearch} />
        <Typography color="text.secondary" role="status" sx={{ whiteSpace: 'nowrap' }}>
          {seen} of {view.rows.length} seen
        </Typography>
      </Box>
      {sign.error && (
        <Box sx={{ mb: 1 }}>
          <Failure error={sign.error} />
        </Box>
      )}
      <Box
        component="ul"
        aria-label={asked.sentence}
        sx={{
          listStyle: 'none',
          m: 0,
          p: 0,
          border: '1px solid var(--line)',
          borderRadius: '12px',
          background: 'var(--surface)',
          overflow: 'hidden',
        }}
      >
        {rows.map((row) => (
          <Line
            key={row.studentId}
            row={row}
            cell={cellOf(row, asked.id)}
            mayChange={lab.teaches}
            // One after the other; the button keeps the focus meanwhile.
            onSign={(cell) => sign.isPending || sign.mutate({ row, cell })}
          />
        ))}
        {rows.length === 0 && (
          <Box component="li" sx={{ p: 2, color: 'var(--ink2)' }}>
            Nobody is called so.
          </Box>
        )}
      </Box>
    </Box>
  );
}

const cellOf = ({ cells }: Row, id: string): Cell | undefined => cells.find((cell) => cell.id === id);

function Line({
  row: { name, group, submissionId },
  cell,
  mayChange,
  onSign,
}: {
  row: Row;
  cell: Cell | undefined;
  mayChange: boolean;
  onSign: (cell: Cell) => void;
}) {
  const isSeen = cell?.state === 'seen';
  return (
    <Box
      component="li"
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 1,
        px: 1.5,
        py: 0.75,
        '& + &': { borderTop: '1px solid var(--line)' },
      }}
    >
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <b style={{ overflowWrap: 'anywhere' }}>{name}</b>
        <Typography variant="body2" color="text.secondary">
          {[
            group,
            cell?.at && `${isSeen ? 'seen' : 'decided otherwise'} ${when(cell.at)}, ${initials(cell.by ?? '')}`,
            submissionId === null && 'nothing handed in yet',
          ]
            .filter(Boolean)
            .join(' · ')}
        </Typography>
      </Box>
      {submissionId !== null && cell && (
        <Button
          variant={isSeen ? 'contained' : 'outlined'}
          disabled={!mayChange}
          aria-pressed={isSeen}
          aria-label={`${name}: ${isSeen ? 'seen, take it back' : cell.decision !== null ? 'decided otherwise, take it back' : 'seen'}`}
          startIcon={isSeen ? <IconCheck size={18} /> : undefined}
          onClick={() => onSign(cell)}
          sx={{ minHeight: 44, minWidth: 104 }}
        >
          {cell.state === 'otherwise' ? 'Take back' : 'Seen'}
        </Button>
      )}
    </Box>
  );
}

const initials = (name: string): string =>
  name
    .split(/\s+/)
    .map((word) => word.charAt(0))
    .join('');
