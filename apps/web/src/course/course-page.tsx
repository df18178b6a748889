import {
  Autocomplete,
  Box,
  Button,
  IconButton,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Tooltip,
} from '@mui/material';
import { IconKey, IconPencil, IconUserPlus, IconX } from '@tabler/icons-react';
import { type ChangeCourseRequest, type CourseSummary, type Member } from '@sobrin/contracts';
import { plural } from '@sobrin/core';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { api } from '../api/client';
import { useChange, useCourses, useMe, useMembers } from '../api/queries';
import { Row, TextInput } from '../ui/fields';
import { Mark } from '../ui/mark';
import { Opened } from '../ui/opened';
import { Panel } from '../ui/panel';
import { PersonMenu } from '../ui/person-menu';
import { Empty, Failure } from '../ui/states';
import { TopBar } from '../ui/top-bar';
import { LinkDialog } from './link-dialog';
import { MemberDialog } from './member-dialog';
import { RosterDialog } from './roster-dialog';
import { useTakingOff } from './use-taking-off';
import { usePageTitle } from '../ui/announce';
import { BODY, PAGE } from '../ui/frame';

/** The people of a course, and what it is called. */
export function CoursePage() {
  const { courseId } = useParams();
  const courses = useCourses();
  const members = useMembers(courseId!);
  return (
    <Opened query={courses} what="Loading the course">
      {(all) => {
        const course = all.find(({ id }) => id === courseId);
        if (!course || course.role === 'student')
          return <Empty title="There is no such course">It is gone, or you are not one of those who teach it.</Empty>;
        return (
          <Opened query={members} what="Loading the people">
            {(people) => <CourseDesk course={course} people={people} />}
          </Opened>
        );
      }}
    </Opened>
  );
}

function CourseDesk({ course, people }: { course: CourseSummary; people: readonly Member[] }) {
  usePageTitle('People', course.title);
  const teaches = course.role === 'instructor';
  const [adding, setAdding] = useState(false);
  return (
    <Box sx={PAGE}>
      <TopBar
        title={course.title}
        under="people of the course"
        before={
          <Link to="/" aria-label="All courses">
            <Mark size={26} />
          </Link>
        }
      >
        {teaches && (
          <Button variant="contained" startIcon={<IconUserPlus size={16} />} onClick={() => setAdding(true)}>
            Add people
          </Button>
        )}
        <PersonMenu />
      </TopBar>
      <Box component="main" sx={{ ...BODY, p: { xs: 1.5, sm: 3 } }}>
        <Stack spacing={3} sx={{ maxWidth: 980, mx: 'auto' }}>
          {teaches && <CourseTerms course={course} />}
          <People course={course} people={people} teaches={teaches} />
        </Stack>
      </Box>
      <RosterDialog open={adding} course={course.id} withRoles onClose={() => setAdding(false)} />
    </Box>
  );
}

/** What a course is called, and on whose clocks its labs are due. */
function CourseTerms({ course }: { course: CourseSummary }) {
  const change = useChange(
    (next: ChangeCourseRequest) => api('PATCH courses/:id', { id: course.id }, next),
    ['courses'],
    ['lab'],
  );
  return (
    <Panel title="Course">
      <Box sx={{ p: 2, display: 'grid', gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: '1fr 1fr' }, columnGap: 3 }}>
        <Row label="Title">
          <TextInput
            label="Title of the course"
            value={course.title}
            maxLength={120}
            onCommit={(title) => title.trim() && change.mutate({ title: title.trim() })}
          />
        </Row>
        <Row label="Term">
          <TextInput
            label="Term"
            value={course.term}
            maxLength={80}
            onCommit={(term) => change.mutate({ term: term.trim() })}
          />
        </Row>
        <Row label="Time zone">
          <Autocomplete
            size="small"
            disableClearable
            options={ZONES.includes(course.timeZone) ? ZONES : [course.timeZone, ...ZONES]}
            value={course.timeZone}
            onChange={(_event, timeZone) => change.mutate({ timeZone })}
            renderInput={(field) => (
              <TextField
                {...field}
                slotProps={{
                  ...field.slotProps,
                  htmlInput: { ...field.slotProps.htmlInput, 'aria-label': 'Time zone' },
                }}
                helperText="Due dates are entered and shown on its clocks"
              />
            )}
          />
        </Row>
        {change.isError && <Failure error={change.error} />}
      </Box>
    </Panel>
  );
}
const ZONES = ['UTC', ...Intl.supportedValuesOf('timeZone').filter((zone) => zone !== 'UTC')];

function People({ course, people, teaches }: { course: CourseSummary; people: readonly Member[]; teaches: boolean }) {
  const me = useMe().data;
  const [changing, setChanging] = useState<Member | null>(null);
  const [linking, setLinking] = useState<Member | null>(null);
  const takingOff = useTakingOff(course.id);
  const hasGroups = people.some(({ group }) => group);
  const titles = ['Name', 'Sign-in name', 'In the course', ...(hasGroups ? ['Group'] : []), ...(teaches ? [''] : [])];
  return (
    <Panel title="People" aside={plural(people.length, 'person', 'people')}>
      {takingOff.error !== null && (
        <Box sx={{ p: 2 }}>
          <Failure error={takingOff.error} />
        </Box>
      )}
      <Table
        aria-label="People of the course"
        sx={{ '& td': { py: '2px' }, '& tr:last-child td': { borderBottom: 0 }, '& tr > *:first-of-type': { pl: 2 } }}
      >
        <TableHead>
          <TableRow>
            {titles.map((title) => (
              <TableCell key={title}>{title}</TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {people.map((member) => (
            <TableRow key={member.id}>
              <TableCell sx={{ fontWeight: 650 }}>
                {member.name}
                {member.id === me?.id && ' (you)'}
              </TableCell>
              <TableCell className="mono">{member.login}</TableCell>
              <TableCell>{member.isInvited ? `${member.role}, invited` : member.role}</TableCell>
              {hasGroups && <TableCell>{member.group}</TableCell>}
              {teaches && (
                <TableCell align="right" sx={{ width: 110, whiteSpace: 'nowrap' }}>
                  <RowTool title="Change" of={member} icon={IconPencil} onClick={setChanging} />
                  <RowTool title="A new password for" of={member} icon={IconKey} onClick={setLinking} />
                  <RowTool title="Take off the roster:" of={member} icon={IconX} onClick={takingOff.ask} />
                </TableCell>
              )}
            </TableRow>
          ))}
        </TableBody>
      </Table>
      {changing && <MemberDialog course={course.id} member={changing} onClose={() => setChanging(null)} />}
      {linking && <LinkDialog course={course.id} student={linking} onClose={() => setLinking(null)} />}
      {takingOff.dialog}
    </Panel>
  );
}

function RowTool({
  title,
  of,
  icon: Icon,
  onClick,
}: {
  title: string;
  of: Member;
  icon: typeof IconX;
  onClick: (member: Member) => void;
}) {
  return (
    <Tooltip title={`${title} ${of.name}`}>
      <IconButton size="small" aria-label={`${title} ${of.name}`} onClick={() => onClick(of)}>
        <Icon size={15} />
      </IconButton>
    </Tooltip>
  );
}
