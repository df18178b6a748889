import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  MenuItem,
  Stack,
  TextField,
  Typography,
} from '@mui/material';
import { type ChangeMemberRequest, type CourseRole, type Member } from '@sobrin/contracts';
import { useState } from 'react';
import { api } from '../api/client';
import { useChange } from '../api/queries';
import { Failure } from '../ui/states';
import { peopleOf } from './people-of';

const ROLE_WORDS: Readonly<Record<CourseRole, string>> = {
  instructor: 'instructor: teaches the course',
  assistant: 'assistant: sees everything, changes no lab and no mark',
  student: 'student',
};

/** What somebody is, or is to be, in a course. */
export function RoleField({ role, onChange }: { role: CourseRole; onChange: (role: CourseRole) => void }) {
  return (
    <TextField
      select
      fullWidth
      label="In the course"
      value={role}
      onChange={(event) => onChange(event.target.value as CourseRole)}
    >
      {Object.entries(ROLE_WORDS).map(([each, words]) => (
        <MenuItem key={each} value={each}>
          {words}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** Corrects what a course says of one of its people. */
export function MemberDialog({ course, member, onClose }: { course: string; member: Member; onClose: () => void }) {
  const [draft, setDraft] = useState(member);
  const change = useChange(
    (next: ChangeMemberRequest) => api('PATCH courses/:id/roster/:student', { id: course, student: member.id }, next),
    ...peopleOf(course),
  );
  const changed: ChangeMemberRequest = {
    ...(draft.name.trim() !== member.name && { name: draft.name.trim() }),
    ...(draft.login.trim() !== member.login && { login: draft.login.trim().toLowerCase() }),
    ...(draft.group.trim() !== member.group && { group: draft.group.trim() }),
    ...(draft.role !== member.role && { role: draft.role }),
  };
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate(changed, { onSuccess: onClose });
        }}
      >
        <DialogTitle>{member.name}</DialogTitle>
        <DialogContent>
          <Stack spacing={2} sx={{ pt: 1 }}>
            <TextField
              autoFocus
              label="Name in this course"
              value={draft.name}
              onChange={(event) => setDraft({ ...draft, name: event.target.value })}
              slotProps={{ htmlInput: { maxLength: 80 } }}
            />
            <RoleField role={draft.role} onChange={(role) => setDraft({ ...draft, role })} />
            <TextField
              label="Group"
              placeholder="none"
              value={draft.group}
              onChange={(event) => setDraft({ ...draft, group: event.target.value })}
              slotProps={{ htmlInput: { maxLength: 40 } }}
            />
            <TextField
              label="Sign-in name"
              value={draft.login}
              onChange={(event) => setDraft({ ...draft, login: event.target.value })}
              slotProps={{ htmlInput: { maxLength: 40, className: 'mono' } }}
            />
            <Typography variant="body2" color="text.secondary">
              The sign-in name can be changed here only while {member.name} is in no course of somebody else.
            </Typography>
            {change.isError && <Failure error={change.error} />}
          </Stack>
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            type="submit"
            variant="contained"
            disabled={!Object.keys(changed).length || !draft.name.trim() || change.isPending}
          >
            Change
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
