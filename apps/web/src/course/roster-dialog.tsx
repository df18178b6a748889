import {
  Alert,
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  TextField,
  Typography,
} from '@mui/material';
import { type AddedMember, type CourseRole, type RosterEntry } from '@sobrin/contracts';
import { useId, useState } from 'react';
import { api } from '../api/client';
import { give } from '../api/files';
import { useChange } from '../api/queries';
import { CopyButton } from '../ui/copy-button';
import { Failure } from '../ui/states';
import { addressOf, addressSheet, stateOf } from './address-sheet';
import { RoleField } from './member-dialog';
import { peopleOf } from './people-of';
import { readRoster } from './read-roster';

/** Adds students from lines that are typed or pasted; who is new gets an address to choose a password, told once. */
export function RosterDialog({
  open,
  course,
  withRoles = false,
  onClose,
}: {
  open: boolean;
  course: string;
  /** Whether others than students can be added. */
  withRoles?: boolean;
  onClose: () => void;
}) {
  const [text, setText] = useState('');
  const problemsId = useId();
  const [role, setRole] = useState<CourseRole>('student');
  const add = useChange(
    (students: RosterEntry[]) => api('POST courses/:id/roster', { id: course }, { students }),
    ...peopleOf(course),
  );
  const { students, problems } = readRoster(text);
  const close = (): void => {
    setText('');
    add.reset();
    onClose();
  };
  return (
    <Dialog open={open} onClose={close} maxWidth="sm" fullWidth>
      <DialogTitle>{add.data ? 'On the roster' : withRoles ? 'Add people' : 'Add students'}</DialogTitle>
      <DialogContent>
        {add.data ? (
          <Addresses added={add.data} />
        ) : (
          <>
            <Typography color="text.secondary" sx={{ mb: 1.5 }}>
              One a line: the name, and if you like after commas a sign-in name and a group. Pasting columns of a table
              works as well. Whoever has an account is invited and accepts after signing in.
            </Typography>
            {withRoles && (
              <Box sx={{ py: 1 }}>
                <RoleField role={role} onChange={setRole} />
              </Box>
            )}
            <TextField
              autoFocus
              fullWidth
              multiline
              minRows={6}
              maxRows={14}
              label={withRoles ? 'People' : 'Students'}
              placeholder={'Zofia Wrona\nTobias Ferreira, tobias.f, Group B'}
              value={text}
              onChange={(event) => setText(event.target.value)}
              error={problems.length > 0}
              slotProps={{ htmlInput: { 'aria-describedby': problems.length ? problemsId : undefined } }}
            />
            {students.length > 0 && (
              <Box component="ul" aria-label="As they will be added" sx={{ m: 0, mt: 1, p: 0, listStyle: 'none' }}>
                {students.slice(0, MOST_SHOWN).map(({ name, login, group }) => (
                  <li key={login}>
                    {name}{' '}
                    <span style={{ color: 'var(--ink2)' }}>
                      signs in as <span className="mono">{login}</span>
                      {group && `, ${group}`}
                    </span>
                  </li>
                ))}
                {students.length > MOST_SHOWN && <li>and {students.length - MOST_SHOWN} more</li>}
              </Box>
            )}
            <div id={problemsId}>
              {problems.map((problem) => (
                <Typography key={problem} variant="body2" sx={{ color: 'var(--brick)', mt: 0.5 }}>
                  {problem}
                </Typography>
              ))}
            </div>
            {add.isError && (
              <Box sx={{ mt: 1 }}>
                <Failure error={add.error} />
              </Box>
            )}
          </>
        )}
      </DialogContent>
      <DialogActions>
        {add.data ? (
          <>
            <Button onClick={() => give('sign-in-addresses.csv', 'text/csv', addressSheet(add.data))}>
              Save as CSV
            </Button>
            <Button variant="contained" onClick={close}>
              Done
            </Button>
          </>
        ) : (
          <>
            <Button onClick={close}>Cancel</Button>
            <Button
              variant="contained"
              disabled={!students.length || problems.length > 0 || add.isPending}
              onClick={() => add.mutate(role === 'student' ? students : students.map((each) => ({ ...each, role })))}
            >
              Add {students.length || ''}
            </Button>
          </>
        )}
      </DialogActions>
    </Dialog>
  );
}

/** Some of those that are read are enough to see how lines are understood. */
const MOST_SHOWN = 4;

function Addresses({ added }: { added: readonly AddedMember[] }) {
  return (
    <>
      {added.some((student) => student.link) && (
        <Alert severity="warning" variant="outlined" sx={{ mb: 1.5 }}>
          Each address is good once, for seven days, to choose a password. They are shown only now: save them, or copy
          them one by one.
        </Alert>
      )}
      {added.map((student) => (
        <Box
          key={student.id}
          sx={{
            display: 'grid',
            gridTemplateColumns: '1fr 1fr 150px',
            alignItems: 'center',
            gap: 1,
            py: '3px',
            borderTop: '1px solid var(--line)',
          }}
        >
          <span>{student.name}</span>
          <span className="mono">{student.login}</span>
          {student.link === null ? (
            <span>{stateOf(student)}</span>
          ) : (
            <Box sx={{ justifySelf: 'start', ml: '-8px' }}>
              <CopyButton text={addressOf(student.link)} name={`the address of ${student.name}`} />
            </Box>
          )}
        </Box>
      ))}
    </>
  );
}
