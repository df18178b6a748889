import { Button, Dialog, DialogActions, DialogContent, DialogTitle, List, ListItem, ListItemText } from '@mui/material';
import { type CourseSummary, type LibraryLab } from '@sobrin/contracts';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api } from '../api/client';
import { useChange } from '../api/queries';
import { AskDialog } from '../ui/ask-dialog';
import { Opened } from '../ui/opened';
import { Empty, Failure } from '../ui/states';

/** Gives a course a lab that is there already: the lab itself, which changes in all its courses at once, or a copy. */
export function LibraryDialog({
  course,
  onClose,
  onGiven,
}: {
  course: CourseSummary;
  onClose: () => void;
  onGiven: (lab: { id: string }) => void;
}) {
  const library = useQuery({ queryKey: ['library'], queryFn: () => api('GET library'), staleTime: 0 });
  const hand = useChange(
    (given: { lab: string; copy: boolean }) => api('POST courses/:id/assignments', { id: course.id }, given),
    ['courses'],
  );
  const discard = useChange((id: string) => api('DELETE library/:id', { id }), ['library']);
  const [asked, setAsked] = useState<LibraryLab | null>(null);
  const give = (lab: LibraryLab, copy: boolean): void => hand.mutate({ lab: lab.id, copy }, { onSuccess: onGiven });
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>Labs of your library for {course.title}</DialogTitle>
      <DialogContent>
        {(hand.isError || discard.isError) && <Failure error={hand.error ?? discard.error} />}
        <Opened query={library} what="Loading the library">
          {(labs) =>
            labs.length === 0 ? (
              <Empty title="Nothing in it yet">What you make, and what your courses got, is found here.</Empty>
            ) : (
              <List dense disablePadding>
                {labs.map((lab) => (
                  <ListItem
                    key={lab.id}
                    divider
                    disableGutters
                    secondaryAction={
                      <>
                        {lab.isOwner && lab.courses.length === 0 && (
                          <Button
                            color="error"
                            disabled={discard.isPending}
                            onClick={() => setAsked(lab)}
                            aria-label={`Delete ${lab.title}`}
                          >
                            Delete
                          </Button>
                        )}
                        <Button
                          disabled={lab.courses.includes(course.title) || hand.isPending}
                          onClick={() => give(lab, false)}
                          aria-label={`Give the lab ${lab.title}`}
                        >
                          Give the lab
                        </Button>
                        <Button
                          disabled={hand.isPending}
                          onClick={() => give(lab, true)}
                          aria-label={`Give a copy of ${lab.title}`}
                        >
                          Give a copy
                        </Button>
                      </>
                    }
                  >
                    <ListItemText
                      primary={lab.title}
                      secondary={`${lab.mayEdit ? '' : `of ${lab.owner}, `}${lab.courses.length ? `in ${lab.courses.join(', ')}` : 'in no course of yours'}`}
                      sx={{ pr: lab.isOwner && lab.courses.length === 0 ? 34 : 26 }}
                    />
                  </ListItem>
                ))}
              </List>
            )
          }
        </Opened>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
      <AskDialog
        isLoss
        open={asked !== null}
        title={`Delete ${asked?.title ?? ''}?`}
        yes="Delete the lab"
        onClose={() => setAsked(null)}
        onYes={() => asked && discard.mutate(asked.id)}
      >
        Its brief, plan, reference, spec and all their versions are gone for good. To keep them, give the lab to a
        course and save it as a file first.
      </AskDialog>
    </Dialog>
  );
}
