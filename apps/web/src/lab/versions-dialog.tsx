import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Box,
  List,
  ListItem,
  ListItemText,
  Typography,
} from '@mui/material';
import { type LabView } from '@sobrin/contracts';
import { type SpecDifference } from '@sobrin/core/spec';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api } from '../api/client';
import { useChange } from '../api/queries';
import { Opened } from '../ui/opened';
import { Failure } from '../ui/states';
import { whenIn } from '../ui/words';
import { judgedAnew } from './version-strip';

/** The versions of a lab, and which of them judges the class. */
export function LabVersionsDialog({ lab, onClose }: { lab: LabView; onClose: () => void }) {
  const versions = useQuery({
    queryKey: ['versions', lab.id],
    queryFn: () => api('GET labs/:id/versions', { id: lab.id }),
    staleTime: 0,
  });
  const [opened, setOpened] = useState<number | null>(null);
  const judge = useChange(
    (number: number) => api('PUT labs/:id/version', { id: lab.id }, { number }),
    ...judgedAnew(lab.id),
  );
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>Versions of the lab</DialogTitle>
      <DialogContent>
        <Opened query={versions} what="Loading the versions">
          {(list) => (
            <List disablePadding aria-label="Versions of the lab">
              {list.map(({ number, madeAt, by, judges }) => (
                <ListItem
                  key={number}
                  disableGutters
                  divider
                  sx={{ '& > .MuiListItemSecondaryAction-root': { top: 28 } }}
                  secondaryAction={
                    judges ? (
                      <Typography color="text.secondary">judges the class</Typography>
                    ) : (
                      <Button
                        size="small"
                        variant="outlined"
                        disabled={judge.isPending}
                        aria-label={`Judge by version ${number}`}
                        onClick={() => judge.mutate(number)}
                      >
                        Judge by it
                      </Button>
                    )
                  }
                >
                  <ListItemText
                    primary={`Version ${number}`}
                    secondary={
                      <>
                        {whenIn(lab.timeZone, madeAt)}, {by}
                        <Button
                          size="small"
                          aria-expanded={opened === number}
                          aria-label={`What is otherwise since version ${number}`}
                          onClick={() => setOpened(opened === number ? null : number)}
                          sx={{ minHeight: 24, py: 0, ml: 0.5 }}
                        >
                          What is otherwise now
                        </Button>
                        {opened === number && <Differences lab={lab.id} number={number} />}
                      </>
                    }
                    slotProps={{ secondary: { component: 'div' } }}
                    sx={{ pr: opened === number ? 0 : 12 }}
                  />
                </ListItem>
              ))}
            </List>
          )}
        </Opened>
        {judge.isError && <Failure error={judge.error} />}
        <Typography color="text.secondary" sx={{ mt: 1.5 }}>
          Results stay with the version they were made by. Those of another one are marked until they are checked again.
        </Typography>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Done</Button>
      </DialogActions>
    </Dialog>
  );
}

const SIGNS: Readonly<Record<SpecDifference['what'], string>> = {
  added: 'new',
  removed: 'gone',
  changed: 'otherwise',
  other: 'otherwise',
};

/** In what the lab as it is now judges otherwise than a version of it. */
function Differences({ lab, number }: { lab: string; number: number }) {
  const found = useQuery({
    queryKey: ['versions', lab, number],
    queryFn: () => api('GET labs/:id/versions/:number/differences', { id: lab, number: String(number) }),
    staleTime: 0,
    gcTime: 0,
  });
  return (
    <Opened query={found} what="Comparing">
      {(list) =>
        list.length === 0 ? (
          <Typography sx={{ py: 0.5 }}>The lab judges as this version does.</Typography>
        ) : (
          <Box component="ul" aria-label={`Differences from version ${number}`} sx={{ listStyle: 'none', m: 0, p: 0 }}>
            {list.map(({ what, text, changes }, at) => (
              <Box component="li" key={at} sx={{ py: 0.5, borderTop: '1px solid var(--line)', color: 'var(--ink)' }}>
                <b>{SIGNS[what]}:</b> {text}
                {changes.map((change) => (
                  <Typography key={change} variant="body2" color="text.secondary">
                    {change}
                  </Typography>
                ))}
              </Box>
            ))}
          </Box>
        )
      }
    </Opened>
  );
}
