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
import { IconBooks, IconFileImport, IconListCheck, IconPlus } from '@tabler/icons-react';
import { type CourseSummary, type LabSummary } from '@sobrin/contracts';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { api } from '../api/client';
import { pickText } from '../api/files';
import { useChange, useCourses, useMe } from '../api/queries';
import { Mark } from '../ui/mark';
import { markWords } from '../ui/mark-words';
import { MenuTool } from '../ui/menu-tool';
import { Panel } from '../ui/panel';
import { usePreferences } from '../ui/preferences';
import { Empty, Failure, Waiting } from '../ui/states';
import { TopBar } from '../ui/top-bar';
import { PersonMenu } from '../ui/person-menu';
import { ownZone, whenIn } from '../ui/words';
import { Invitations } from './invitations';
import { LibraryDialog } from './library-dialog';
import { useRemoval } from './use-removal';
import { usePageTitle } from '../ui/announce';
import { BODY, IF_SMALL, PAGE } from '../ui/frame';

export function Home() {
  usePageTitle('Courses and labs');
  // Nobody while somebody signs out.
  const mayCreateCourses = useMe().data?.mayCreateCourses ?? false;
  const courses = useCourses();
  const isStaff = mayCreateCourses || (courses.data?.some(({ role }) => role !== 'student') ?? false);
  const create = useChange((title: string) => api('POST courses', {}, { title, timeZone: ownZone() }), ['courses']);
  const [asking, setAsking] = useState(false);
  const removal = useRemoval();
  const order = useChange((given: { ids: string[] }) => api('PUT courses', {}, given), ['courses']);
  return (
    <Box sx={PAGE}>
      <TopBar
        title={
          <Stack direction="row" spacing={1} sx={{ alignItems: 'center' }}>
            <Mark size={26} />
            <span>{isStaff ? 'Your courses' : 'Your labs'}</span>
          </Stack>
        }
      >
        {isStaff && (
          <Button component={Link} to="/jobs" startIcon={<IconListCheck size={16} />}>
            Jobs
          </Button>
        )}
        {mayCreateCourses && (
          <Button variant="outlined" startIcon={<IconPlus size={16} />} onClick={() => setAsking(true)}>
            Add a course
          </Button>
        )}
        <PersonMenu />
      </TopBar>
      <Box component="main" sx={{ ...BODY, p: { xs: 1.5, sm: 3 } }}>
        <Stack spacing={3} sx={{ maxWidth: 980, mx: 'auto' }}>
          <Invitations />
          {courses.isPending && <Waiting what="Loading courses" />}
          {courses.isError && <Failure error={courses.error} onAgain={() => void courses.refetch()} />}
          {create.isError && <Failure error={create.error} />}
          {courses.data?.length === 0 && (
            <Panel title="Nothing here yet">
              <Empty title={mayCreateCourses ? 'Begin with a course' : 'You are on no roster yet'}>
                {mayCreateCourses
                  ? 'A course has a roster of students and the labs they do.'
                  : 'Ask your instructor to put your sign-in name on the roster.'}
              </Empty>
            </Panel>
          )}
          {removal.error && <Failure error={removal.error} />}
          {order.isError && <Failure error={order.error} />}
          {courses.data?.map((course, at, all) => (
            <Course
              key={course.id}
              course={course}
              onRemove={(lab) => removal.ask({ course, lab })}
              moves={movesOf(
                all.map(({ id }) => id),
                at,
                (ids) => order.mutate({ ids }),
              )}
            />
          ))}
          {removal.dialog}
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

interface Moves {
  up: (() => void) | undefined;
  down: (() => void) | undefined;
}

/** What puts one of several a place up or down. */
function movesOf(ids: readonly string[], at: number, put: (ids: string[]) => void): Moves {
  const exchange = (other: number) => (): void => {
    const next = [...ids];
    [next[at], next[other]] = [next[other]!, next[at]!];
    put(next);
  };
  return { up: at > 0 ? exchange(at - 1) : undefined, down: at < ids.length - 1 ? exchange(at + 1) : undefined };
}
const moveEntries = ({ up, down }: Moves) => [
  { text: 'Move up', off: !up, run: () => up?.() },
  { text: 'Move down', off: !down, run: () => down?.() },
];

function Course({
  course,
  onRemove,
  moves,
}: {
  course: CourseSummary;
  /** Asks whether a lab, or the course, is to go. */
  onRemove: (lab: LabSummary | null) => void;
  moves: Moves;
}) {
  const navigate = useNavigate();
  const isStaff = course.role !== 'student';
  const teaches = course.role === 'instructor';
  const [choosing, setChoosing] = useState(false);
  const [asking, setAsking] = useState(false);
  const create = useChange((title: string) => api('POST courses/:id/labs', { id: course.id }, { title }), ['courses']);
  const bring = useChange(async () => {
    const file = await pickText('.json,application/json');
    return file && api('POST courses/:id/labs/import', { id: course.id }, { text: file.text });
  }, ['courses']);
  const order = useChange(
    (given: { ids: string[] }) => api('PUT courses/:id/labs', { id: course.id }, given),
    ['courses'],
  );
  const open = (lab: { id: string } | null): void => void (lab && navigate(`/labs/${lab.id}/brief`));
  return (
    <Panel
      title={course.title}
      aside={
        isStaff ? (
          <>
            {course.term && `${course.term} · `}
            <Link to={`/courses/${course.id}`} style={{ color: 'inherit' }}>
              People
            </Link>
            {` · ${plural(course.students, 'student')}`}
            <MenuTool
              name={`More about ${course.title}`}
              entries={[
                ...moveEntries(moves),
                ...(teaches ? [{ text: 'Delete the course …', run: () => onRemove(null) }] : []),
              ]}
            />
          </>
        ) : (
          course.term
        )
      }
    >
      {course.labs.length === 0 && (
        <Empty title="No lab yet">
          {teaches
            ? 'Add one, or bring a lab file from elsewhere.'
            : 'Labs appear here when your instructor has made them.'}
        </Empty>
      )}
      <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0 }}>
        {course.labs.map((lab, at) => (
          <LabRow
            key={lab.id}
            lab={lab}
            course={course}
            entries={
              teaches
                ? [
                    ...moveEntries(
                      movesOf(
                        course.labs.map(({ id }) => id),
                        at,
                        (ids) => order.mutate({ ids }),
                      ),
                    ),
                    { text: 'Take out of the course …', run: () => onRemove(lab) },
                  ]
                : null
            }
          />
        ))}
      </Box>
      {(create.isError || bring.isError || order.isError) && (
        <Box sx={{ p: 2 }}>
          <Failure error={create.error ?? bring.error ?? order.error} />
        </Box>
      )}
      {teaches && (
        <Stack direction="row" spacing={1} sx={{ p: 1.5 }}>
          <Button startIcon={<IconPlus size={16} />} onClick={() => setAsking(true)}>
            Add a lab
          </Button>
          <Button startIcon={<IconFileImport size={16} />} onClick={() => bring.mutate(undefined, { onSuccess: open })}>
            Bring a lab file
          </Button>
          <Button startIcon={<IconBooks size={16} />} onClick={() => setChoosing(true)}>
            From your library
          </Button>
        </Stack>
      )}
      {choosing && <LibraryDialog course={course} onClose={() => setChoosing(false)} onGiven={open} />}
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

/** Where a lab opens for somebody who is that in its course. */
const STATION = { instructor: '/bench', assistant: '/class' } as const;

function LabRow({
  lab,
  course: { role, students, timeZone },
  entries,
}: {
  lab: LabSummary;
  course: CourseSummary;
  /** What else can be done with it; null for nothing. */
  entries: { text: string; off?: boolean; run: () => void }[] | null;
}) {
  return (
    <Box
      component="li"
      sx={{
        borderBottom: '1px solid var(--line)',
        '&:last-of-type': { borderBottom: 0 },
        display: 'flex',
        alignItems: 'center',
        pr: entries ? 1 : 0,
      }}
    >
      <Box
        component={Link}
        to={role === 'student' ? `/my/labs/${lab.id}` : `/labs/${lab.id}${STATION[role]}`}
        sx={{
          flex: 1,
          minWidth: 0,
          display: 'flex',
          gap: 2,
          px: 2,
          py: 1.5,
          alignItems: 'center',
          [IF_SMALL]: { flexWrap: 'wrap', columnGap: 1.5, rowGap: 0.75 },
          color: 'inherit',
          textDecoration: 'none',
          '&:hover': { background: 'var(--spruce-tint)' },
        }}
      >
        <SmallPicture of={lab.picture} />
        <Box sx={{ flex: '1 1 120px', minWidth: 0 }}>
          <Typography sx={{ fontWeight: 650 }}>{lab.title}</Typography>
          <Typography variant="body2" color="text.secondary">
            {!lab.isReleased && 'not released yet, '}
            {lab.dueAt ? `due ${whenIn(timeZone, lab.dueAt)}` : 'no due date'}
          </Typography>
        </Box>
        {role === 'student' ? <Own lab={lab} /> : <Progress lab={lab} students={students} />}
      </Box>
      {entries && <MenuTool name={`More about ${lab.title}`} entries={entries} />}
    </Box>
  );
}

/** What is drawn for a lab, as small as to be recognised; the title says what it is. */
function SmallPicture({ of }: { of: LabSummary['picture'] }) {
  const scheme = usePreferences((state) => state.scheme);
  return (
    <Box
      aria-hidden
      sx={{
        width: 120,
        height: 64,
        flex: 'none',
        [IF_SMALL]: { width: 72, height: 44 },
        borderRadius: '6px',
        border: '1px solid var(--line)',
        background: 'var(--ground)',
        overflow: 'hidden',
        display: 'grid',
        placeItems: 'center',
      }}
    >
      {of && (
        <img
          src={`/api/documents/${of.document}/picture.png?revision=${of.revision}&width=240&scheme=${scheme}`}
          alt=""
          loading="lazy"
          style={{ width: '100%', height: '100%', objectFit: 'contain' }}
        />
      )}
    </Box>
  );
}

function Progress({ lab, students }: { lab: LabSummary; students: number }) {
  const share = (n: number): string => `${students ? (100 * n) / students : 0}%`;
  return (
    <Box sx={{ width: 260, [IF_SMALL]: { width: '100%' } }}>
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
  const { attempts, points: won, of, penalty } = lab.mine!;
  if (!attempts) return <Typography color="text.secondary">not handed in</Typography>;
  return won === null || of === null ? (
    <Typography>handed in, attempt {attempts}</Typography>
  ) : (
    <Typography className="mono" sx={{ fontWeight: 700 }}>
      {markWords({ points: won, of, penalty })}
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
