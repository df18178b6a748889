import {
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  FormGroup,
  Typography,
} from '@mui/material';
import { type LabView } from '@sobrin/contracts';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api } from '../api/client';
import { useChange } from '../api/queries';
import { Opened } from '../ui/opened';
import { Failure } from '../ui/states';

/** Who may change a lab beside its owner. */
export function EditorsDialog({ lab, onClose }: { lab: LabView; onClose: () => void }) {
  const editors = useQuery({
    queryKey: ['editors', lab.id],
    queryFn: () => api('GET labs/:id/editors', { id: lab.id }),
    staleTime: 0,
    gcTime: 0,
  });
  const [chosen, setChosen] = useState<readonly string[] | null>(null);
  const save = useChange(
    (accounts: string[]) => api('PUT labs/:id/editors', { id: lab.id }, { accounts }),
    ['editors', lab.id],
    ['lab', lab.id],
  );
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth>
      <DialogTitle>Who may change the lab</DialogTitle>
      <DialogContent>
        <Opened query={editors} what="Loading the people">
          {({ owner, editors: named, others }) => {
            const now = chosen ?? named.map(({ id }) => id);
            return (
              <>
                <Typography>It lies in the library of {owner.name}.</Typography>
                {named.length + others.length === 0 && (
                  <Typography color="text.secondary">Nobody else teaches the course.</Typography>
                )}
                <FormGroup>
                  {[...named, ...others].map(({ id, name }) => (
                    <FormControlLabel
                      key={id}
                      label={name}
                      disabled={!lab.isOwner}
                      control={
                        <Checkbox
                          checked={now.includes(id)}
                          onChange={(_event, checked) =>
                            setChosen(checked ? [...now, id] : now.filter((other) => other !== id))
                          }
                        />
                      }
                    />
                  ))}
                </FormGroup>
              </>
            );
          }}
        </Opened>
        {save.isError && <Failure error={save.error} />}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>{lab.isOwner ? 'Cancel' : 'Close'}</Button>
        {lab.isOwner && (
          <Button
            variant="contained"
            disabled={chosen === null || save.isPending}
            onClick={() => chosen && save.mutate([...chosen], { onSuccess: onClose })}
          >
            Save
          </Button>
        )}
      </DialogActions>
    </Dialog>
  );
}
