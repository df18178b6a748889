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
import { type AddedStudent } from '@sobrin/contracts';
import { useState } from 'react';
import { api } from '../api/client';
import { give } from '../api/files';
import { useChange } from '../api/queries';
import { CopyButton } from '../ui/copy-button';
import { Failure } from '../ui/states';
import { readRoster } from './read-roster';

/** Adds students from lines that are typed or pasted; who is new gets an address to choose a password, told once. */
export function RosterDialog({
  open,
  course,
  lab,
  onClose,
}: {
  open: boolean;
  course: string;
  lab: string;
  onClose: () => void;
}) {
  const [text, setText] = useState('');
  const add = useChange(
    (students: { name: string; login: string }[]) => api('POST courses/:id/roster', { id: course }, { students }),
    ['class', lab],
    ['lab', lab],
    ['courses'],
    ['results', lab],
  );
  const { students, problems } = readRoster(text);
  const close = (): void => {
    setText('');
    add.reset();
    onClose();
  };
  return (
    <Dialog open={open} onClose={close} maxWidth="sm" fullWidth>
      <DialogTitle>{add.data ? 'On the roster' : 'Add students'}</DialogTitle>
      <DialogContent>
        {add.data ? (
          <Addresses added={add.data} />
        ) : (
          <>
            <Typography color="text.secondary" sx={{ mb: 1.5 }}>
              One student a line: the name, and if you like a comma and a sign-in name. Pasting two columns of a table
              works as well.
            </Typography>
            <TextField
              autoFocus
              fullWidth
              multiline
              minRows={6}
              maxRows={14}
              label="Students"
              placeholder={'Zofia Wrona\nTobias Ferreira, tobias.f'}
              value={text}
              onChange={(event) => setText(event.target.value)}
            />
            {problems.map((problem) => (
              <Typography key={problem} variant="body2" sx={{ color: 'var(--brick)', mt: 0.5 }}>
                {problem}
              </Typography>
            ))}
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
            <Button
              onClick={() =>
                give(
                  'sign-in-addresses.csv',
                  'text/csv',
                  [
                    'Name,Sign-in name,Address to choose a password',
                    ...add.data.map(
                      ({ name, login, link }) =>
                        `"${name.replaceAll('"', '""')}",${login},${link === null ? 'has an account' : addressOf(link)}`,
                    ),
                  ].join('\r\n'),
                )
              }
            >
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
              onClick={() => add.mutate(students)}
            >
              Add {students.length || ''}
            </Button>
          </>
        )}
      </DialogActions>
    </Dialog>
  );
}

/** The whole address of a path that the server gave. */
export const addressOf = (link: string): string => window.location.origin + link;

function Addresses({ added }: { added: readonly AddedStudent[] }) {
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
            <span>has an account</span>
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
