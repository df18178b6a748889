import { Box, Button, IconButton, Link as MuiLink, Stack, Tooltip, Typography } from '@mui/material';
import { IconLink, IconPaperclip, IconX } from '@tabler/icons-react';
import { type LabView } from '@sobrin/contracts';
import { type Brief } from '@sobrin/core/plan';
import { ApiError, api } from '../api/client';
import { base64Of, pick } from '../api/files';
import { newShortId } from '../api/new-id';
import { useChange } from '../api/queries';
import { AddButton } from '../ui/add-button';
import { TextInput } from '../ui/fields';
import { Panel } from '../ui/panel';
import { Failure } from '../ui/states';
import { bytes } from '../ui/words';
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
    [brief.scenario ?? '', ...lab.tasks.map((task) => task.text)].some((text) => text.includes(`file:${id}`));
  return (
    <Panel title="Resources" aside="links and files for students">
      <Pad>
        {resources.map((resource) => (
          <Box
            key={resource.id}
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
                value={resource.title}
                onCommit={(title) =>
                  onChange(resources.map((each) => (each.id === resource.id ? { ...resource, title } : each)))
                }
              />
            </div>
            <div>
              <TextInput
                label={`Address of ${resource.title}`}
                maxLength={2000}
                value={resource.address}
                check={linkProblem}
                onCommit={(address) =>
                  linkProblem(address) === null &&
                  onChange(resources.map((each) => (each.id === resource.id ? { ...resource, address } : each)))
                }
              />
            </div>
            <Tooltip title="Remove">
              <IconButton
                size="small"
                aria-label={`Remove ${resource.title}`}
                onClick={() => onChange(resources.filter((each) => each.id !== resource.id))}
              >
                <IconX size={15} />
              </IconButton>
            </Tooltip>
          </Box>
        ))}
        {lab.files.map((file) => (
          <Stack key={file.id} direction="row" spacing={1} sx={{ alignItems: 'center', minHeight: 30 }}>
            <MuiLink
              href={`/api/labs/${lab.id}/files/${file.id}`}
              target="_blank"
              sx={{ flex: 1, minWidth: 0, overflow: 'hidden', textOverflow: 'ellipsis' }}
            >
              {file.name}
            </MuiLink>
            <Typography variant="body2" color="text.secondary">
              {usedIn(file.id) ? 'shown in the text' : bytes(file.size)}
            </Typography>
            <Tooltip title={usedIn(file.id) ? 'Take it out of the text first' : 'Remove'}>
              <span>
                <IconButton
                  size="small"
                  disabled={usedIn(file.id)}
                  aria-label={`Remove ${file.name}`}
                  onClick={() => remove.mutate(file.id)}
                >
                  <IconX size={15} />
                </IconButton>
              </span>
            </Tooltip>
          </Stack>
        ))}
        <Stack direction="row" spacing={1}>
          <AddButton
            startIcon={<IconLink size={15} />}
            of="section"
            onAdd={() => onChange([...resources, { id: newShortId('l'), title: 'New link', address: 'https://' }])}
          >
            Add a link
          </AddButton>
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
