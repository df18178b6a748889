import {
  Box,
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  Typography,
} from '@mui/material';
import { type Requirement, namesOf, requirementWords, sentenceOf } from '@sobrin/core/spec';
import { plural } from '@sobrin/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api } from '../api/client';
import { readDrawing } from '../api/documents';
import { Choice } from '../ui/fields';
import { Opened } from '../ui/opened';
import { points } from '../ui/words';
import { copiedText } from './spec-editor';

/** Requirements of another lab of one's courses, to be taken over: one by one, by section, or all of them. */
export function OtherLabDialog({
  lab: here,
  onTake,
  onClose,
}: {
  lab: string;
  /** @param text as requirements are copied */
  onTake: (text: string) => void;
  onClose: () => void;
}) {
  const [chosenLab, setLab] = useState('');
  const labs = useQuery({ queryKey: ['courses'], queryFn: () => api('GET courses') });
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle>Take from another lab</DialogTitle>
      <Opened query={labs} what="Loading your labs">
        {(courses) => {
          const others = courses.flatMap(({ title, role, labs }) =>
            role === 'student' ? [] : labs.flatMap((lab) => (lab.id === here ? [] : [{ ...lab, course: title }])),
          );
          return (
            <>
              <Box sx={{ px: 3, pb: 1.5 }}>
                <Choice
                  label="The other lab"
                  value={chosenLab}
                  options={[
                    { value: '', text: others.length ? 'Which lab?' : 'You have no other lab.' },
                    ...others.map(({ id, title, course }) => ({ value: id, text: `${title}, ${course}` })),
                  ]}
                  onChange={setLab}
                />
              </Box>
              {chosenLab ? (
                <Requirements key={chosenLab} lab={chosenLab} onTake={onTake} onClose={onClose} />
              ) : (
                <DialogActions>
                  <Button onClick={onClose}>Cancel</Button>
                </DialogActions>
              )}
            </>
          );
        }}
      </Opened>
    </Dialog>
  );
}

function Requirements({ lab, onTake, onClose }: { lab: string; onTake: (text: string) => void; onClose: () => void }) {
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const read = useQuery({
    queryKey: ['other-lab', lab],
    queryFn: async () => {
      const view = await api('GET labs/:id', { id: lab });
      const { document } = await readDrawing(view.referenceId);
      return { ...view, reference: document };
    },
    staleTime: 0,
    gcTime: 0,
  });
  const put = (ids: readonly string[], isOn: boolean): void =>
    setChosen(new Set(isOn ? [...chosen, ...ids] : [...chosen].filter((id) => !ids.includes(id))));
  return (
    <Opened query={read} what="Loading the requirements">
      {(other) => {
        const names = namesOf(other);
        const line = (requirement: Requirement): string => sentenceOf(requirementWords(requirement, names));
        return (
          <>
            <DialogContent dividers sx={{ maxHeight: 460 }}>
              {other.spec.sections.every(({ requirements }) => !requirements.length) && (
                <Typography>This lab asks for nothing yet.</Typography>
              )}
              {other.spec.sections.map(({ id: section, title, requirements }) => {
                const ids = requirements.map(({ id }) => id);
                const many = ids.filter((id) => chosen.has(id)).length;
                return (
                  <Box component="section" key={section} aria-label={title}>
                    {ids.length > 0 && (
                      <FormControlLabel
                        control={
                          <Checkbox
                            size="small"
                            checked={many === ids.length}
                            indeterminate={many > 0 && many < ids.length}
                            onChange={(_event, isOn) => put(ids, isOn)}
                          />
                        }
                        label={<b>{title}</b>}
                      />
                    )}
                    {requirements.map((requirement) => (
                      <Box key={requirement.id} sx={{ pl: 3, display: 'flex', alignItems: 'start' }}>
                        <FormControlLabel
                          sx={{ flex: 1, alignItems: 'start', '& .MuiFormControlLabel-label': { pt: '8px' } }}
                          control={
                            <Checkbox
                              size="small"
                              checked={chosen.has(requirement.id)}
                              onChange={(_event, isOn) => put([requirement.id], isOn)}
                            />
                          }
                          label={line(requirement)}
                        />
                        <span className="mono" style={{ paddingTop: 8 }}>
                          {points(requirement.points)}
                        </span>
                      </Box>
                    ))}
                  </Box>
                );
              })}
            </DialogContent>
            <DialogActions>
              <Button onClick={onClose}>Cancel</Button>
              <Button
                variant="contained"
                disabled={chosen.size === 0}
                onClick={() => onTake(copiedText(other.spec, chosen))}
              >
                Take {plural(chosen.size, 'requirement')}
              </Button>
            </DialogActions>
          </>
        );
      }}
    </Opened>
  );
}
