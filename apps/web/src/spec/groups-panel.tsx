import { Autocomplete, Box, Button, IconButton, TextField, Tooltip, Typography } from '@mui/material';
import { IconTrash } from '@tabler/icons-react';
import { byName } from '@sobrin/core';
import { type Spec } from '@sobrin/core/spec';
import { type Topology } from '@sobrin/core/topology';
import { useState } from 'react';
import { SidePanel } from '../ui/side-panel';
import { AddButton } from '../ui/add-button';
import { TextInput } from '../ui/fields';
import { freshGroupId, setGroup, usersOfGroup } from './spec-editor';

/** Groups the sentences speak of: a title as it reads in a sentence, and the devices of the reference in it. */
export function GroupsPanel({
  spec,
  reference,
  onChange,
}: {
  spec: Spec;
  reference: Topology;
  onChange: (spec: Spec) => void;
}) {
  const [open, setOpen] = useState<string | null>(null);
  return (
    <SidePanel label="Groups">
      <Typography variant="h2">Groups</Typography>
      <Typography variant="body2" color="text.secondary" sx={{ mb: 1 }}>
        What the sentences can speak of besides single devices.
      </Typography>
      {Object.entries(spec.groups).map(([id, group]) => (
        <Box key={id} sx={{ borderTop: '1px solid var(--line)', py: 0.5 }}>
          <Button
            fullWidth
            aria-expanded={open === id}
            onClick={() => setOpen(open === id ? null : id)}
            sx={{ justifyContent: 'space-between', color: 'var(--ink)', px: 0.5, minHeight: 28, fontWeight: 500 }}
          >
            <span style={{ overflow: 'hidden', textOverflow: 'ellipsis' }}>{group.title}</span>
            <span className="mono" style={{ color: 'var(--ink3)' }}>
              {group.roles.length}
            </span>
          </Button>
          {open === id && <GroupForm id={id} spec={spec} reference={reference} onChange={onChange} />}
        </Box>
      ))}
      <AddButton
        sx={{ mt: 1 }}
        onAdd={() => {
          const id = freshGroupId(spec);
          setOpen(id);
          onChange(setGroup(spec, id, { title: 'a new group', roles: [] }));
        }}
      >
        Add a group
      </AddButton>
    </SidePanel>
  );
}

function GroupForm({
  id,
  spec,
  reference,
  onChange,
}: {
  id: string;
  spec: Spec;
  reference: Topology;
  onChange: (spec: Spec) => void;
}) {
  const group = spec.groups[id]!;
  const users = usersOfGroup(spec, id);
  return (
    <Box sx={{ pb: 1 }}>
      <TextInput
        label="Name of the group"
        value={group.title}
        maxLength={80}
        onCommit={(title) => title && onChange(setGroup(spec, id, { ...group, title }))}
      />
      <Autocomplete
        multiple
        disableCloseOnSelect
        options={Object.keys(reference.devices).sort((one, other) =>
          byName(reference.devices[one]!.name, reference.devices[other]!.name),
        )}
        value={group.roles}
        getOptionLabel={(role) => reference.devices[role]?.name ?? role}
        onChange={(_event, roles) => onChange(setGroup(spec, id, { ...group, roles }))}
        renderInput={(params) => <TextField {...params} size="small" label="Devices" />}
        slotProps={{ chip: { size: 'small' } }}
        sx={{ mt: 1 }}
      />
      <Tooltip title={users.length ? `Used by ${users.join(', ')}` : 'Remove this group'}>
        <span>
          <IconButton
            size="small"
            aria-label={`Remove the group ${group.title}`}
            disabled={users.length > 0}
            onClick={() => onChange(setGroup(spec, id, null))}
            sx={{ mt: 0.5 }}
          >
            <IconTrash size={16} />
          </IconButton>
        </span>
      </Tooltip>
      {users.length > 0 && (
        <Typography component="span" variant="body2" color="text.secondary">
          in {users.join(', ')}
        </Typography>
      )}
    </Box>
  );
}
