import { Alert, Box, Button, Stack, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type CausesView } from '@sobrin/contracts';
import { Link } from 'react-router';
import { api } from '../api/client';
import { useShownLab } from '../lab/lab-shell';
import { Failure } from '../ui/states';
import { points } from '../ui/words';

/** While causes are looked for, how they grow is asked again so often. */
const LOOK_MS = 1500;
const MOST = 5;

/** Which mistakes the class has in common, those of most students first; each leads to them. */
export function CommonCauses() {
  const { id, teaches } = useShownLab();
  const client = useQueryClient();
  const key = ['causes', id];
  const query = useQuery({
    queryKey: key,
    queryFn: () => api('GET labs/:id/causes', { id }),
    staleTime: 0,
    refetchInterval: ({ state }) => (state.data && state.data.waiting + state.data.running ? LOOK_MS : false),
  });
  const ask = useMutation({
    mutationFn: () => api('POST labs/:id/causes', { id }),
    onSuccess: (found) => client.setQueryData(key, found),
  });
  if (query.isError) return <Failure error={query.error} onAgain={() => void query.refetch()} />;
  if (!query.data) return null;
  const { causes, looked, open, waiting, running, failed } = query.data;
  const left = waiting + running;
  return (
    <Box component="section" aria-label="Causes in common" sx={{ mt: 3 }}>
      <Stack direction="row" sx={{ justifyContent: 'space-between', alignItems: 'baseline', mb: 0.5 }}>
        <Typography variant="h2">Causes in common</Typography>
        <Typography variant="body2" color="text.secondary" role="status">
          {left ? `looking for them, ${left} to go` : `of ${looked} checked`}
        </Typography>
      </Stack>
      {ask.isError && <Failure error={ask.error} />}
      {failed.length > 0 && (
        <Alert severity="error" variant="outlined" sx={{ my: 1 }}>
          {failed.map(({ submissionId, name, sentence }) => (
            <div key={submissionId}>
              Nothing is known of <b>{name}</b>. {sentence}
            </div>
          ))}
        </Alert>
      )}
      {!left && open > 0 && teaches && (
        <Button variant="outlined" size="small" disabled={ask.isPending} onClick={() => ask.mutate()} sx={{ my: 0.5 }}>
          Look for them in {looked ? `${open} more` : `all ${open}`}
        </Button>
      )}
      {causes.slice(0, MOST).map((cause) => (
        <CauseLine key={cause.sort} cause={cause} lab={id} />
      ))}
      {causes.length > MOST && (
        <Typography variant="body2" color="text.secondary">
          and {causes.length - MOST} more
        </Typography>
      )}
    </Box>
  );
}

function CauseLine({ cause: { text, students, took }, lab }: { cause: CausesView['causes'][number]; lab: string }) {
  return (
    <Box sx={{ py: 1, borderTop: '1px solid var(--line)' }}>
      <Box sx={{ display: 'grid', gridTemplateColumns: '28px minmax(0, 1fr) 52px', gap: 1 }}>
        <b className="mono">{students.length} ×</b>
        <span style={{ overflowWrap: 'anywhere' }}>{text}</span>
        <span className="mono" style={{ textAlign: 'right' }}>
          −{points(took)}
        </span>
      </Box>
      <Box sx={{ pl: '36px', display: 'flex', flexWrap: 'wrap' }}>
        {students.map(({ submissionId, name, letter }) => (
          <Button
            key={submissionId}
            size="small"
            component={Link}
            to={`/labs/${lab}/class/${submissionId}#${letter}`}
            sx={{ minHeight: 24, py: 0, px: 0.5, ml: -0.5, mr: 1 }}
          >
            {name}
          </Button>
        ))}
      </Box>
    </Box>
  );
}
