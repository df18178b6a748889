import { Box, Button, Stack } from '@mui/material';
import { IconPencil, IconPhotoPlus } from '@tabler/icons-react';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api } from '../api/client';
import { readAnew } from '../api/queries';
import { base64Of, pick } from '../api/files';
import { TextInput } from '../ui/fields';
import { MarkdownText } from '../ui/markdown';
import { Failure } from '../ui/states';

/** A text with Markdown: shown as it will be read, opened to be written. */
export function MarkdownField({
  label,
  value,
  labId,
  placeholder,
  isNew = false,
  onCommit,
}: {
  label: string;
  value: string;
  labId: string;
  placeholder: string;
  /** It was just added: it begins opened. */
  isNew?: boolean;
  onCommit: (text: string) => void;
}) {
  const client = useQueryClient();
  const [editing, setEditing] = useState(value === '' || isNew);
  const [error, setError] = useState<unknown>(null);
  const addPicture = async (): Promise<void> => {
    const file = await pick('image/png,image/jpeg,image/gif,image/webp');
    if (!file) return;
    try {
      const added = await api(
        'POST labs/:id/files',
        { id: labId },
        {
          name: file.name.slice(0, 200),
          type: file.type,
          base64: await base64Of(file),
        },
      );
      setError(null);
      onCommit(`${value}${value && '\n\n'}![${file.name}](file:${added.id})\n`);
      await readAnew(client, ['lab', labId]);
    } catch (failure) {
      setError(failure);
    }
  };
  return (
    <div>
      {editing ? (
        <TextInput
          label={label}
          multiline
          maxLength={20_000}
          value={value}
          placeholder={placeholder}
          onCommit={(text) => {
            onCommit(text);
            setEditing(text === '');
          }}
          onLeave={() => setEditing(value === '')}
          autoFocus={value !== ''}
        />
      ) : (
        <Box onDoubleClick={() => setEditing(true)}>
          <MarkdownText text={value} labId={labId} />
        </Box>
      )}
      <Stack direction="row" spacing={1} sx={{ mt: 0.5 }}>
        {!editing && (
          <Button
            size="small"
            startIcon={<IconPencil size={14} />}
            onClick={() => setEditing(true)}
            aria-label={`Edit: ${label}`}
          >
            Edit
          </Button>
        )}
        <Button
          size="small"
          startIcon={<IconPhotoPlus size={14} />}
          onClick={() => void addPicture()}
          aria-label={`Add a picture: ${label}`}
        >
          Picture
        </Button>
      </Stack>
      {error !== null && <Failure error={error} />}
    </div>
  );
}
