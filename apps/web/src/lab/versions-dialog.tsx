import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  List,
  ListItem,
  ListItemText,
  Typography,
} from '@mui/material';
import { type LabView } from '@sobrin/contracts';
import { useQuery } from '@tanstack/react-query';
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
  const judge = useChange(
    (number: number) => api('PUT labs/:id/version', { id: lab.id }, { number }),
    ...judgedAnew(lab.id),
  );
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth>
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
                    secondary={`${whenIn(lab.timeZone, madeAt)}, ${by}`}
                    sx={{ pr: 12 }}
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
