import { Box, Button, IconButton, Link as MuiLink, Stack, Tooltip, Typography } from '@mui/material';
import { type Result, fail, ok, plural } from '@sobrin/core';
import { emptyTopology } from '@sobrin/core/topology';
import { IconArrowLeft, IconFileUpload, IconPaperclip, IconPencil, IconX } from '@tabler/icons-react';
import { type StudentLabView } from '@sobrin/contracts';
import { useState } from 'react';
import { Link } from 'react-router';
import { ApiError, api } from '../api/client';
import { base64Of, pick, pickFiles } from '../api/files';
import { useChange } from '../api/queries';
import { Drawing } from '../drawing/drawing';
import { AskDialog } from '../ui/ask-dialog';
import { Panel } from '../ui/panel';
import { Empty, Failure } from '../ui/states';
import { TopBar } from '../ui/top-bar';
import { bytes, whenIn } from '../ui/words';
import { PersonMenu } from '../ui/person-menu';
import { HandInPanel } from './hand-in-panel';
import { AssignmentPanel } from './assignment-panel';
import { OwnPlanPanel } from './own-plan-panel';
import { SelfCheckPanel } from './self-check-panel';
import { TasksPanel } from './tasks-panel';
import { useOwnDrawing } from './use-own-work';
import { WithLab } from './with-lab';
import { usePageTitle } from '../ui/announce';
import { BODY, PAGE } from '../ui/frame';

const LENSES = { ends: false, subnets: true, cables: false };
const MAX_BYTES = 10_000_000;

/** A lab as its student sees it: what is asked, the own drawing, answers and files, and handing in. */
export const StudentLab = () => <WithLab>{(lab) => <Page lab={lab} />}</WithLab>;

function Page({ lab }: { lab: StudentLabView }) {
  usePageTitle(lab.title);
  const { used, allowed } = lab.attempts;
  return (
    <Box sx={PAGE}>
      <TopBar
        title={lab.title}
        under={`${lab.courseTitle}${lab.dueAt ? ` · due ${whenIn(lab.timeZone, lab.dueAt)}` : ''} · ${allowed === null ? `attempt ${used + 1}` : `${used} of ${allowed} attempts used`}`}
      >
        <Button component={Link} to="/" startIcon={<IconArrowLeft size={16} />}>
          Your labs
        </Button>
        <PersonMenu />
      </TopBar>
      <Box component="main" sx={{ ...BODY, p: { xs: 1.5, sm: 2 } }}>
        <Box
          sx={{
            maxWidth: 1120,
            mx: 'auto',
            display: 'grid',
            gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'minmax(0, 1fr) minmax(0, 1fr)' },
            gap: 2,
            alignItems: 'start',
            pb: 6,
          }}
        >
          <Stack spacing={2}>
            <AssignmentPanel lab={lab} />
            <TasksPanel lab={lab} />
          </Stack>
          <Stack spacing={2}>
            <Work lab={lab} />
            <OwnPlanPanel lab={lab} />
            <Files lab={lab} />
            {lab.selfChecks && <SelfCheckPanel lab={lab} rule={lab.selfChecks} />}
            <HandInPanel lab={lab} />
          </Stack>
        </Box>
      </Box>
    </Box>
  );
}

/** What is to be taken in place of the drawing or plan, as the text of a file of ours; and what of it could not be read. */
interface Upload {
  readonly name: string;
  readonly text: string;
  readonly left: readonly string[];
  /** What it left out and was filled in. */
  readonly filled: readonly string[];
}

/**
 * Reads files of all formats that the Bench writes. Our own, which may hold a plan as well, are sent as they are, but read
 * here first: nobody is asked to replace a drawing by what cannot be taken.
 */
async function uploadOf(files: readonly File[]): Promise<Result<Upload, ApiError>> {
  const name = files.map((file) => file.name).join(', ');
  const size = files.reduce((sum, file) => sum + file.size, 0);
  if (size > MAX_BYTES)
    return fail(new ApiError(413, `${name} has ${bytes(size)}: at most 10 MB are taken. Your drawing is as it was.`));
  const [first] = files;
  const text = await first!.text();
  const isOurs = files.length === 1 && /\.json$/i.test(name) && !text.includes('"ietf-network');
  if (isOurs) {
    const { readSubmissionText } = await import('@sobrin/core/formats');
    const read = readSubmissionText(text);
    if (read.ok) return ok({ name, text, left: [], filled: [] });
    return fail(new ApiError(422, 'The file was not taken. Your drawing is as it was.', read.error));
  }
  const { readFiles } = await import('../bench/files/drawing-files');
  const found = await readFiles(files, emptyTopology());
  if (!found.ok) return fail(new ApiError(422, found.error));
  const { topology, left, filled = [] } = found.value.read;
  return ok({ name, text: JSON.stringify(topology), left, filled });
}

function Work({ lab }: { lab: StudentLabView }) {
  const work = useOwnDrawing(lab);
  const [asked, setAsked] = useState<Upload | null>(null);
  const upload = useChange(
    async ({ name, text, left, filled }: Upload) => {
      const { taken, left: untaken } = await api('POST my/labs/:id/upload', { id: lab.id }, { text });
      return [
        taken.length ? `${name} is taken: ${taken.join(', ')}.` : `${name}: nothing of it was taken.`,
        ...untaken,
        ...(left.length ? ['Not read:', ...left] : []),
        ...(filled.length ? ['Filled in:', ...filled] : []),
      ].join(' ');
    },
    ['document', lab.documentId],
    ['document', lab.planId],
    ['my-lab', lab.id],
  );
  const [refused, setRefused] = useState<ApiError | null>(null);
  const topology = work.data?.document;
  const count = topology ? Object.keys(topology.devices).length : 0;
  const choose = async (): Promise<void> => {
    const { ENDINGS } = await import('../bench/files/drawing-files');
    const files = await pickFiles(ENDINGS.join(','));
    if (!files.length) return;
    const read = await uploadOf(files);
    upload.reset();
    setRefused(read.ok ? null : read.error);
    if (read.ok && count > 0) setAsked(read.value);
    else if (read.ok) upload.mutate(read.value);
  };
  return (
    <Panel
      title="Your drawing"
      aside={topology && `${plural(count, 'device')}, ${plural(Object.keys(topology.links).length, 'link')}`}
    >
      <Box sx={{ height: 280, borderBottom: '1px solid var(--line)' }}>
        {work.data && count > 0 && (
          <Drawing topology={work.data.document} label="Your drawing" lenses={LENSES} key={work.data.revision} />
        )}
        {topology && count === 0 && (
          <Empty title="Nothing is drawn yet">Open the bench and begin, or upload a topology file.</Empty>
        )}
        {work.isError && <Failure error={work.error} onAgain={() => void work.refetch()} />}
      </Box>
      <Stack direction="row" spacing={1} sx={{ p: 1.5, alignItems: 'center' }}>
        <Button
          variant="contained"
          component={Link}
          to={`/my/labs/${lab.id}/bench`}
          startIcon={<IconPencil size={16} />}
        >
          Open the bench
        </Button>
        <Button
          variant="outlined"
          startIcon={<IconFileUpload size={16} />}
          disabled={upload.isPending || !topology}
          onClick={() => void choose()}
        >
          Upload a file
        </Button>
      </Stack>
      {lab.lookIn && (
        <Typography variant="body2" color="text.secondary" sx={{ px: 2, pb: 1.5 }}>
          Your instructors may look at your drawing before you hand it in, and comment on it. On the bench you see when
          one has it open.
        </Typography>
      )}
      {upload.data && (
        <Typography role="status" sx={{ px: 2, pb: 1.5, color: 'var(--spruce)' }}>
          {upload.data}
        </Typography>
      )}
      {upload.isError && (
        <Box sx={{ px: 1.5, pb: 1.5 }}>
          <Failure error={upload.error} />
        </Box>
      )}
      {refused !== null && (
        <Box sx={{ px: 1.5, pb: 1.5 }}>
          <Failure error={refused} />
        </Box>
      )}
      <AskDialog
        open={asked !== null}
        title="Replace your drawing?"
        yes="Replace it"
        onClose={() => setAsked(null)}
        onYes={() => asked && upload.mutate(asked)}
      >
        {asked?.name} takes the place of the {plural(count, 'device')} drawn so far; answers that it holds take the
        place of yours. To keep them, save the drawing as a file in the bench first.
      </AskDialog>
    </Panel>
  );
}

function Files({ lab }: { lab: StudentLabView }) {
  const attach = useChange(async () => {
    const file = await pick('');
    if (!file) return null;
    if (file.size > MAX_BYTES)
      throw new ApiError(413, `${file.name} has ${bytes(file.size)}: at most 10 MB are taken.`);
    return api(
      'POST my/labs/:id/attachments',
      { id: lab.id },
      {
        name: file.name.slice(0, 200),
        type: file.type,
        base64: await base64Of(file),
      },
    );
  }, ['my-lab', lab.id]);
  const detach = useChange(
    (id: string) => api('DELETE my/labs/:id/attachments/:attachment', { id: lab.id, attachment: id }),
    ['my-lab', lab.id],
  );
  return (
    <Panel title="Files beside it" aside="pictures, plans, device configurations">
      <Box sx={{ p: 1.5 }}>
        {lab.attachments.map((attachment) => (
          <Stack key={attachment.id} direction="row" spacing={1} sx={{ alignItems: 'center' }}>
            <MuiLink
              href={`/api/attachments/${attachment.id}`}
              sx={{ flex: 1, minWidth: 0, overflow: 'hidden', textOverflow: 'ellipsis' }}
            >
              {attachment.name}
            </MuiLink>
            <Typography variant="body2" color="text.secondary">
              {bytes(attachment.size)}
            </Typography>
            <Tooltip title="Remove">
              <IconButton
                size="small"
                aria-label={`Remove ${attachment.name}`}
                onClick={() => detach.mutate(attachment.id)}
              >
                <IconX size={15} />
              </IconButton>
            </Tooltip>
          </Stack>
        ))}
        <Button
          startIcon={<IconPaperclip size={16} />}
          disabled={attach.isPending}
          onClick={() => attach.mutate(undefined)}
        >
          Attach a file
        </Button>
        {(attach.isError || detach.isError) && <Failure error={attach.error ?? detach.error} />}
      </Box>
    </Panel>
  );
}
