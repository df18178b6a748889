import {
  Alert,
  Box,
  Button,
  IconButton,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  Tooltip,
  Typography,
} from '@mui/material';
import { IconEye, IconEyeCheck, IconKey, IconPlayerPlay, IconStack2, IconUserPlus, IconX } from '@tabler/icons-react';
import { type ClassRow, type LabView } from '@sobrin/contracts';
import { useState } from 'react';
import { Link as RouterLink, useNavigate } from 'react-router';
import { useClassRows, useSignOffs } from '../api/queries';
import { LinkDialog } from '../course/link-dialog';
import { RosterDialog } from '../course/roster-dialog';
import { useTakingOff } from '../course/use-taking-off';
import { useShownLab } from '../lab/lab-shell';
import { VersionStrip } from '../lab/version-strip';
import { LabVersionsDialog } from '../lab/versions-dialog';
import { Empty, Failure, Waiting } from '../ui/states';
import { TopBar } from '../ui/top-bar';
import { markWords } from '../ui/mark-words';
import { whenIn } from '../ui/words';
import { useCheckAll } from './use-check-all';
import { usePageTitle } from '../ui/announce';
import { BODY } from '../ui/frame';

/** The roster with everybody's attempt that counts, and where checks are started. */
export function ClassPage() {
  const lab = useShownLab();
  usePageTitle('Class', lab.title);
  const rows = useClassRows(lab.id);
  const [adding, setAdding] = useState(false);
  const [choosing, setChoosing] = useState(false);
  const [linking, setLinking] = useState<ClassRow | null>(null);
  const checking = useCheckAll(lab.id);
  const hasSignOffs = (useSignOffs(lab.id).data?.signOffs.length ?? 0) > 0;
  const takingOff = useTakingOff(lab.courseId);
  const open = rows.data?.reduce((sum, { toCheck }) => sum + toCheck, 0) ?? 0;
  const hasGroups = rows.data?.some(({ group }) => group) ?? false;
  const titles = ['Student', ...(hasGroups ? ['Group'] : []), 'Attempt', 'Handed in', 'Points', 'State', ''];
  const handedIn = rows.data?.filter((row) => row.submissionId !== null).length ?? 0;
  return (
    <>
      <TopBar title={lab.title} under={`${lab.courseTitle} · class`}>
        {rows.data && (
          <Typography color="text.secondary">
            {handedIn} of {rows.data.length} handed in{open > 0 && `, ${open} to check`}
          </Typography>
        )}
        {lab.version && (
          <Button variant="text" startIcon={<IconStack2 size={16} />} onClick={() => setChoosing(true)}>
            Version {lab.version.number}
          </Button>
        )}
        {hasSignOffs && (
          <Button
            variant="text"
            component={RouterLink}
            to={`/labs/${lab.id}/class/sign-offs`}
            startIcon={<IconEyeCheck size={16} />}
          >
            Sign-offs
          </Button>
        )}
        {lab.teaches && (
          <Button variant="outlined" startIcon={<IconUserPlus size={16} />} onClick={() => setAdding(true)}>
            Add students
          </Button>
        )}
        {!lab.teaches ? null : checking.progress ? (
          <Button variant="outlined" onClick={checking.cancel}>
            Checking {checking.progress.done} of {checking.progress.all}: stop
          </Button>
        ) : (
          <Button
            variant="contained"
            startIcon={<IconPlayerPlay size={16} />}
            disabled={open === 0 || checking.isStarting}
            onClick={checking.start}
          >
            {open ? `Check ${open}` : handedIn ? 'All checked' : 'Nothing to check'}
          </Button>
        )}
      </TopBar>
      <VersionStrip lab={lab} />
      <Box sx={{ ...BODY, p: { xs: 1, sm: 2 } }}>
        <Box sx={{ maxWidth: 1080, mx: 'auto' }}>
          {rows.isPending && <Waiting what="Loading the class" />}
          {rows.isError && <Failure error={rows.error} onAgain={() => void rows.refetch()} />}
          {(checking.error ?? takingOff.error) !== null && (
            <Box sx={{ mb: 2 }}>
              <Failure error={checking.error ?? takingOff.error} />
            </Box>
          )}
          {checking.failed.length > 0 && (
            <Alert severity="error" variant="outlined" sx={{ mb: 2 }}>
              {checking.failed.map(({ submissionId, name, sentence }) => (
                <div key={submissionId}>
                  <b>{name}</b> could not be checked. {sentence}
                </div>
              ))}
            </Alert>
          )}
          {rows.data?.length === 0 && (
            <Empty
              title="Nobody is on the roster yet"
              action={
                lab.teaches && (
                  <Button variant="contained" onClick={() => setAdding(true)}>
                    Add students
                  </Button>
                )
              }
            >
              Type or paste names. Everybody who is new gets an address to choose a password.
            </Empty>
          )}
          {rows.data && rows.data.length > 0 && (
            <Box
              sx={{
                border: '1px solid var(--line)',
                borderRadius: '12px',
                overflow: 'auto',
                background: 'var(--surface)',
              }}
            >
              <Table aria-label="Roster" sx={{ '& td': { py: '2px' } }}>
                <TableHead>
                  <TableRow>
                    {titles.map((title) => (
                      <TableCell key={title} align={title === 'Points' ? 'right' : 'left'}>
                        {title}
                      </TableCell>
                    ))}
                  </TableRow>
                </TableHead>
                <TableBody>
                  {rows.data.map((row) => (
                    <StudentRow
                      key={row.studentId}
                      row={row}
                      lab={lab}
                      hasGroups={hasGroups}
                      onLink={() => setLinking(row)}
                      onRemove={() => takingOff.ask({ id: row.studentId, name: row.name })}
                    />
                  ))}
                </TableBody>
              </Table>
            </Box>
          )}
        </Box>
      </Box>
      <RosterDialog open={adding} course={lab.courseId} onClose={() => setAdding(false)} />
      {choosing && <LabVersionsDialog lab={lab} onClose={() => setChoosing(false)} />}
      {linking && (
        <LinkDialog
          course={lab.courseId}
          student={{ id: linking.studentId, name: linking.name }}
          onClose={() => setLinking(null)}
        />
      )}
      {takingOff.dialog}
    </>
  );
}

function StudentRow({
  row,
  lab,
  hasGroups,
  onLink,
  onRemove,
}: {
  row: ClassRow;
  lab: LabView;
  hasGroups: boolean;
  onLink: () => void;
  onRemove: () => void;
}) {
  const navigate = useNavigate();
  const target = row.submissionId && `/labs/${lab.id}/class/${row.submissionId}`;
  return (
    <TableRow
      hover={target !== null}
      sx={{ cursor: target ? 'pointer' : undefined, '&:last-child td': { borderBottom: 0 } }}
      onClick={() => target && void navigate(target)}
    >
      <TableCell sx={{ fontWeight: 650 }}>
        {target ? (
          <RouterLink to={target} style={{ color: 'inherit' }} onClick={(event) => event.stopPropagation()}>
            {row.name}
          </RouterLink>
        ) : (
          row.name
        )}
      </TableCell>
      {hasGroups && <TableCell>{row.group}</TableCell>}
      <TableCell>
        <span className="mono">{row.attempts || '–'}</span>
        {row.counts !== null && row.counts !== row.attempts && `, ${row.counts} counts`}
      </TableCell>
      <TableCell>
        {row.handedInAt ? `${whenIn(lab.timeZone, row.handedInAt)}${row.late ? ', late' : ''}` : 'not yet'}
      </TableCell>
      <TableCell align="right" className="mono" sx={{ fontWeight: 650 }}>
        {row.points === null || row.of === null
          ? ''
          : markWords({ points: row.points, of: row.of, penalty: row.penalty })}
      </TableCell>
      <TableCell>{stateWords(row)}</TableCell>
      <TableCell align="right" sx={{ width: lab.policy.lookIn ? 104 : 76, whiteSpace: 'nowrap' }}>
        {lab.policy.lookIn && row.hasBegun && (
          <Tooltip title="The drawing as it is now">
            <IconButton
              size="small"
              component={RouterLink}
              to={`/labs/${lab.id}/class/drawings/${row.studentId}`}
              aria-label={`The drawing of ${row.name} as it is now`}
              onClick={(event) => event.stopPropagation()}
            >
              <IconEye size={15} />
            </IconButton>
          </Tooltip>
        )}
        {lab.teaches && (
          <>
            <Tooltip title="A new password">
              <IconButton
                size="small"
                aria-label={`A new password for ${row.name}`}
                onClick={(event) => {
                  event.stopPropagation();
                  onLink();
                }}
              >
                <IconKey size={15} />
              </IconButton>
            </Tooltip>
            <Tooltip title="Take off the roster">
              <IconButton
                size="small"
                aria-label={`Take ${row.name} off the roster`}
                onClick={(event) => {
                  event.stopPropagation();
                  onRemove();
                }}
              >
                <IconX size={15} />
              </IconButton>
            </Tooltip>
          </>
        )}
      </TableCell>
    </TableRow>
  );
}

function stateWords(row: ClassRow): string {
  if (!row.submissionId) return row.isInvited ? 'invited, has not accepted yet' : '';
  if (row.points === null) return 'to check';
  if (row.stale) return 'checked by another version';
  if (row.unconfirmed) return 'checked by an older Sobrin, not confirmed yet';
  return row.unjudged ? `checked, ${row.unjudged} not certain` : 'checked';
}
