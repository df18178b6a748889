import { Box, Button, Stack, Typography } from '@mui/material';
import { type SelfChecksView, type StudentLabView } from '@sobrin/contracts';
import { useState } from 'react';
import { api } from '../api/client';
import { newId } from '../api/new-id';
import { useChange } from '../api/queries';
import { Panel } from '../ui/panel';
import { Failure } from '../ui/states';
import { VerdictSign } from '../ui/verdict';
import { points, whenIn } from '../ui/words';
import { sendWork } from './send-work';

/** What the work as it is would earn, as far as the lab tells it before handing in. */
export function SelfCheckPanel({ lab, rule }: { lab: StudentLabView; rule: SelfChecksView }) {
  /** The id of the question; asking again after a lost answer asks the same. */
  const [id, setId] = useState(newId);
  const ask = useChange(async () => {
    await sendWork(lab, 'Nothing was checked.');
    const told = await api('POST my/labs/:id/self-checks', { id: lab.id }, { id, drawing: lab.documentId });
    setId(newId());
    return told;
  }, ['my-lab', lab.id]);
  const { most, used, last } = rule;
  const left = Math.max(0, most - used);
  return (
    <Panel title="Checking it yourself" aside={`${left} of ${most} left`}>
      <Box sx={{ p: 1.5 }}>
        <Typography variant="body2" color="text.secondary">
          Your work as it is now is judged, and nothing is handed in. Questions, what a person looks at and what is
          taken off are not told.
        </Typography>
        {last && (
          <Box role="status" sx={{ mt: 1.5 }}>
            <Typography variant="body2" sx={{ mb: 0.5 }}>
              As it was on {whenIn(lab.timeZone, last.at)}:
            </Typography>
            <Told told={last} />
          </Box>
        )}
        <Button
          variant="outlined"
          sx={{ mt: 1.5 }}
          disabled={ask.isPending || left === 0}
          onClick={() => ask.mutate(undefined)}
        >
          {left === 0 ? 'All self-checks are used' : `Check it now${left === 1 ? ', for the last time' : ''}`}
        </Button>
        {ask.isError && (
          <Box sx={{ mt: 1 }}>
            <Failure error={ask.error} />
          </Box>
        )}
      </Box>
    </Panel>
  );
}

function Told({ told: { sections, requirements } }: { told: NonNullable<SelfChecksView['last']> }) {
  return (
    <Stack component="ul" spacing={0.5} sx={{ listStyle: 'none', m: 0, p: 0 }}>
      {sections?.map((section, at) => (
        <Stack key={at} component="li" direction="row" spacing={2} sx={{ justifyContent: 'space-between' }}>
          <span>{section.title}</span>
          <b className="mono">
            {points(section.points)} of {points(section.of)}
          </b>
        </Stack>
      ))}
      {requirements?.map(({ sentence, verdict }, at) => (
        <Stack key={at} component="li" direction="row" spacing={1} sx={{ alignItems: 'start' }}>
          <VerdictSign verdict={verdict} />
          <span>{sentence}</span>
        </Stack>
      ))}
    </Stack>
  );
}
