import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Stack,
  TextField,
  Typography,
} from '@mui/material';
import { plural } from '@sobrin/core';
import { IconFileImport, IconPlus } from '@tabler/icons-react';
import { type CourseSummary, type LabSummary } from '@sobrin/contracts';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { api } from '../api/client';
import { pickText } from '../api/files';
import { useChange, useCourses, useMe } from '../api/queries';
import { Mark } from '../ui/mark';
import { Panel } from '../ui/panel';
import { Empty, Failure, Waiting } from '../ui/states';
import { TopBar } from '../ui/top-bar';
import { points, when } from '../ui/words';
import { PersonMenu } from '../ui/person-menu';

export function Home() {
  const me = useMe().data!;
  const courses = useCourses();
  const isInstructor = me.role === 'instructor';
  const create = useChange((title: string) => api('POST courses', {}, { title }), ['courses']);
  const [asking, setAsking] = useState(false);
  return (
    <Box sx={{ height: '100%', display: 'flex', flexDirection: 'column' }}>
      <TopBar
        title={
          <Stack direction="row" spacing={1} sx={{ alignItems: 'center' }}>
            <Mark size={26} />
            <span>{isInstructor ? 'Your courses' : 'Your labs'}</span>
          </Stack>
        }
      >
        {isInstructor && (
          <Button variant="outlined" startIcon={<IconPlus size={16} />} onClick={() => setAsking(true)}>
            Add a course
          </Button>
        )}
        <PersonMenu />
      </TopBar>
      <Box component="main" sx={{ flex: 1, overflow: 'auto', p: 3 }}>
        <Stack spacing={3} sx={{ maxWidth: 980, mx: 'auto' }}>
          {courses.isPending && <Waiting what="Loading courses" />}
          {courses.isError && <Failure error={courses.error} onAgain={() => void courses.refetch()} />}
          {create.isError && <Failure error={create.error} />}
          {courses.data?.length === 0 && (
            <Panel title="Nothing here yet">
              <Empty title={isInstructor ? 'Begin with a course' : 'You are on no roster yet'}>
                {isInstructor
                  ? 'A course has a roster of students and the labs they do.'
                  : 'Ask your instructor to put your sign-in name on the roster.'}
              </Empty>
            </Panel>
          )}
          {courses.data?.map((course) => (
            <Course key={course.id} course={course} isInstructor={isInstructor} />
          ))}
        </Stack>
      </Box>
      <AskTitle
        open={asking}
        title="A new course"
        label="Title of the course"
        onClose={() => setAsking(false)}
        onGive={(title) => create.mutate(title)}
      />
    </Box>
  );
}

function Course({ course, isInstructor }: { course: CourseSummary; isInstructor: boolean }) {
  const navigate = useNavigate();
  const [asking, setAsking] = useState(false);
  const create = useChange((title: string) => api('POST courses/:id/labs', { id: course.id }, { title }), ['courses']);
  const bring = useChange(async () => {
    const file = await pickText('.json,application/json');
    return file && api('POST courses/:id/labs/import', { id: course.id }, { text: file.text });
  }, ['courses']);
  const open = (lab: { id: string } | null): void => void (lab && navigate(`/labs/${lab.id}/brief`));
  return (
    <Panel
      title={course.title}
      aside={isInstructor ? `${course.term} · ${plural(course.students, 'student')}` : course.term}
    >
      {course.labs.length === 0 && (
        <Empty title="No lab yet">
          {isInstructor
            ? 'Add one, or bring a lab file from elsewhere.'
            : 'Labs appear here when your instructor has made them.'}
        </Empty>
      )}
      <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0 }}>
        {course.labs.map((lab) => (
          <LabRow key={lab.id} lab={lab} students={course.students} isInstructor={isInstructor} />
        ))}
      </Box>
      {(create.isError || bring.isError) && (
        <Box sx={{ p: 2 }}>
          <Failure error={create.error ?? bring.error} />
        </Box>
      )}
      {isInstructor && (
        <Stack direction="row" spacing={1} sx={{ p: 1.5 }}>
          <Button startIcon={<IconPlus size={16} />} onClick={() => setAsking(true)}>
            Add a lab
          </Button>
          <Button startIcon={<IconFileImport size={16} />} onClick={() => bring.mutate(undefined, { onSuccess: open })}>
            Bring a lab file
          </Button>
        </Stack>
      )}
      <AskTitle
        open={asking}
        title={`A new lab in ${course.title}`}
        label="Title of the lab"
        onClose={() => setAsking(false)}
        onGive={(title) => create.mutate(title, { onSuccess: open })}
      />
    </Panel>
  );
}

function LabRow({ lab, students, isInstructor }: { lab: LabSummary; students: number; isInstructor: boolean }) {
  return (
    <Box component="li" sx={{ borderBottom: '1px solid var(--line)', '&:last-of-type': { borderBottom: 0 } }}>
      <Box
        component={Link}
        to={isInstructor ? `/labs/${lab.id}/bench` : `/my/labs/${lab.id}`}
        sx={{
          display: 'flex',
          gap: 2,
          px: 2,
          py: 1.5,
          alignItems: 'center',
          color: 'inherit',
          textDecoration: 'none',
          '&:hover': { background: 'var(--spruce-tint)' },
        }}
      >
        <Box sx={{ flex: 1, minWidth: 0 }}>
          <Typography sx={{ fontWeight: 650 }}>{lab.title}</Typography>
          <Typography variant="body2" color="text.secondary">
            {isInstructor && !lab.isReleased && 'not released yet, '}
            {lab.dueAt ? `due ${when(lab.dueAt)}` : 'no due date'}
          </Typography>
        </Box>
        {isInstructor ? <Progress lab={lab} students={students} /> : <Own lab={lab} />}
      </Box>
    </Box>
  );
}

function Progress({ lab, students }: { lab: LabSummary; students: number }) {
  const share = (n: number): string => `${students ? (100 * n) / students : 0}%`;
  return (
    <Box sx={{ width: 260 }}>
      <Box
        aria-hidden
        sx={{
          height: 8,
          borderRadius: 4,
          background: 'var(--sunk)',
          border: '1px solid var(--line2)',
          position: 'relative',
          overflow: 'hidden',
        }}
      >
        <Box sx={{ position: 'absolute', inset: 0, width: share(lab.handedIn), background: 'var(--line2)' }} />
        <Box sx={{ position: 'absolute', inset: 0, width: share(lab.checked), background: 'var(--spruce)' }} />
      </Box>
      <Typography variant="body2" color="text.secondary" sx={{ mt: 0.5 }}>
        {lab.handedIn} of {students} handed in, {lab.checked} checked
      </Typography>
    </Box>
  );
}

function Own({ lab }: { lab: LabSummary }) {
  const { attempts, points: won, of } = lab.mine!;
  if (!attempts) return <Typography color="text.secondary">not handed in</Typography>;
  return won === null || of === null ? (
    <Typography>handed in, attempt {attempts}</Typography>
  ) : (
    <Typography className="mono" sx={{ fontWeight: 700 }}>
      {points(won)} / {points(of)}
    </Typography>
  );
}

function AskTitle({
  open,
  title,
  label,
  onClose,
  onGive,
}: {
  open: boolean;
  title: string;
  label: string;
  onClose: () => void;
  onGive: (title: string) => void;
}) {
  const [text, setText] = useState('');
  const done = (): void => {
    onGive(text.trim());
    setText('');
    onClose();
  };
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="xs">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (text.trim()) done();
        }}
      >
        <DialogTitle>{title}</DialogTitle>
        <DialogContent>
          <TextField
            autoFocus
            fullWidth
            label={label}
            value={text}
            onChange={(event) => setText(event.target.value)}
            sx={{ mt: 1 }}
            slotProps={{ htmlInput: { maxLength: 120 } }}
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={!text.trim()}>
            Add
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
