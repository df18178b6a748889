import { Box, Button, IconButton, Link as MuiLink, Stack, Tooltip, Typography } from '@mui/material';
import { IconLink, IconPaperclip, IconX } from '@tabler/icons-react';
import { type LabView } from '@sobrin/contracts';
import { type Brief } from '@sobrin/core';
import { ApiError, api } from '../api/client';
import { base64Of, pick } from '../api/files';
import { newShortId } from '../api/new-id';
import { useChange } from '../api/queries';
import { TextInput } from '../ui/fields';
import { Failure, Panel, bytes } from '../ui/parts';
import { Pad } from './needs-panels';

const MAX_BYTES = 5_000_000;
const linkProblem = (text: string): string | null =>
  /^https?:\/\/\S+$/i.test(text) ? null : 'A link begins with http:// or https://.';

/** What students get beside the tasks: links, and files that travel with the lab. */
export function ResourcesPanel({
  lab,
  brief,
  onChange,
}: {
  lab: LabView;
  brief: Brief;
  onChange: (resources: NonNullable<Brief['resources']>) => void;
}) {
  const resources = brief.resources ?? [];
  const attach = useChange(async () => {
    const file = await pick('');
    if (!file) return null;
    if (file.size > MAX_BYTES) throw new ApiError(413, `${file.name} has ${bytes(file.size)}: at most 5 MB are taken.`);
    return api(
      'POST labs/:id/files',
      { id: lab.id },
      {
        name: file.name.slice(0, 200),
        type: file.type,
        base64: await base64Of(file),
      },
    );
  }, ['lab', lab.id]);
  const remove = useChange(
    (id: string) => api('DELETE labs/:id/files/:file', { id: lab.id, file: id }),
    ['lab', lab.id],
  );
  const usedIn = (id: string): boolean =>
    [brief.scenario ?? '', ...lab.tasks.map((one) => one.text)].some((text) => text.includes(`file:${id}`));
  return (
    <Panel title="Resources" aside="links and files for students">
      <Pad>
        {resources.map((one) => (
          <Box
            key={one.id}
            sx={{
              display: 'grid',
              gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1.4fr) 28px',
              gap: 0.75,
              alignItems: 'start',
              py: '2px',
            }}
          >
            <div>
              <TextInput
                label="Title of the link"
                value={one.title}
                onCommit={(title) => onChange(resources.map((each) => (each.id === one.id ? { ...one, title } : each)))}
              />
            </div>
            <div>
              <TextInput
                label={`Address of ${one.title}`}
                maxLength={2000}
                value={one.address}
                check={linkProblem}
                onCommit={(address) =>
                  linkProblem(address) === null &&
                  onChange(resources.map((each) => (each.id === one.id ? { ...one, address } : each)))
                }
              />
            </div>
            <Tooltip title="Remove">
              <IconButton
                size="small"
                aria-label={`Remove ${one.title}`}
                onClick={() => onChange(resources.filter((each) => each.id !== one.id))}
              >
                <IconX size={15} />
              </IconButton>
            </Tooltip>
          </Box>
        ))}
        {lab.files.map((one) => (
          <Stack key={one.id} direction="row" spacing={1} sx={{ alignItems: 'center', minHeight: 30 }}>
            <MuiLink
              href={`/api/labs/${lab.id}/files/${one.id}`}
              target="_blank"
              sx={{ flex: 1, minWidth: 0, overflow: 'hidden', textOverflow: 'ellipsis' }}
            >
              {one.name}
            </MuiLink>
            <Typography variant="body2" color="text.secondary">
              {usedIn(one.id) ? 'shown in the text' : bytes(one.size)}
            </Typography>
            <Tooltip title={usedIn(one.id) ? 'Take it out of the text first' : 'Remove'}>
              <span>
                <IconButton
                  size="small"
                  disabled={usedIn(one.id)}
                  aria-label={`Remove ${one.name}`}
                  onClick={() => remove.mutate(one.id)}
                >
                  <IconX size={15} />
                </IconButton>
              </span>
            </Tooltip>
          </Stack>
        ))}
        <Stack direction="row" spacing={1}>
          <Button
            startIcon={<IconLink size={15} />}
            onClick={() => onChange([...resources, { id: newShortId('l'), title: 'New link', address: 'https://' }])}
          >
            Add a link
          </Button>
          <Button
            startIcon={<IconPaperclip size={15} />}
            disabled={attach.isPending}
            onClick={() => attach.mutate(undefined)}
          >
            Add a file
          </Button>
        </Stack>
        {(attach.isError || remove.isError) && <Failure error={attach.error ?? remove.error} />}
      </Pad>
    </Panel>
  );
}
