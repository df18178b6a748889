import { Autocomplete, Box, Button, IconButton, TextField, Tooltip, Typography } from '@mui/material';
import { IconTrash } from '@tabler/icons-react';
import { byName, plural } from '@sobrin/core';
import { type Doubt, type Selection, type Spec, chosenIn, kindWord } from '@sobrin/core/spec';
import { DEVICE_KINDS, type Topology } from '@sobrin/core/topology';
import { useState } from 'react';
import { SidePanel } from '../ui/side-panel';
import { AddButton } from '../ui/add-button';
import { Choice, TextInput } from '../ui/fields';
import { type SpecWords } from './spec-words';
import { freshGroupId, setGroup, usersOfGroup } from './spec-editor';

/** Groups the sentences speak of: a title as it reads in a sentence, and the devices of the reference in it. */
export function GroupsPanel({
  spec,
  reference,
  words,
  doubts,
  onChange,
}: {
  spec: Spec;
  reference: Topology;
  words: SpecWords;
  doubts: readonly Doubt[];
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
              {group.select ? chosenIn(spec, reference, id) || '…' : group.roles.length}
            </span>
          </Button>
          {doubts.some(({ group: about }) => about === id) && (
            <Typography variant="body2" sx={{ px: 0.5, color: 'var(--ochre-text)' }}>
              No sentence speaks of it.
            </Typography>
          )}
          {open === id && <GroupForm id={id} spec={spec} reference={reference} words={words} onChange={onChange} />}
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
  words,
  onChange,
}: {
  id: string;
  spec: Spec;
  reference: Topology;
  words: SpecWords;
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
      <Box sx={{ mt: 1 }}>
        <Choice
          label="How the group is chosen"
          value={group.select ? 'selected' : 'named'}
          options={[
            { value: 'named', text: 'devices of the reference, one by one' },
            { value: 'selected', text: 'by what they are' },
          ]}
          onChange={(how) =>
            onChange(
              setGroup(spec, id, {
                title: group.title,
                roles: [],
                ...(how === 'selected' && { select: { sort: 'hosts', least: 1 } }),
              }),
            )
          }
        />
      </Box>
      {group.select ? (
        <SelectionForm
          id={id}
          spec={spec}
          reference={reference}
          words={words}
          select={group.select}
          onChange={(select) => onChange(setGroup(spec, id, { ...group, select }))}
        />
      ) : (
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
      )}
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

const ANY = '';
/** Which devices of a sort: hosts, equipment, or one kind. */
const SORTS = [
  { value: ANY, text: 'any device' },
  { value: 'hosts', text: 'hosts' },
  { value: 'network', text: 'network devices' },
  ...DEVICE_KINDS.map((kind) => ({ value: kind, text: kindWord(kind, 2) })),
];

/** What devices must be to belong to a group; all that is said must hold. */
function SelectionForm({
  id,
  spec,
  reference,
  words,
  select,
  onChange,
}: {
  id: string;
  spec: Spec;
  reference: Topology;
  words: SpecWords;
  select: Selection;
  onChange: (next: Selection) => void;
}) {
  const set = <K extends keyof Selection>(key: K, value: Selection[K] | undefined): void => {
    const { [key]: _before, ...rest } = select;
    onChange({ least: select.least, ...rest, ...(value !== undefined && { [key]: value }) });
  };
  const setSort = (value: string): void => {
    const { sort: _sort, kind: _kind, ...rest } = select;
    const kind = DEVICE_KINDS.find((each) => each === value);
    onChange({ ...rest, ...(kind ? { kind } : value === 'hosts' || value === 'network' ? { sort: value } : {}) });
  };
  const n = chosenIn(spec, reference, id);
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: '92px minmax(0, 1fr)',
        gap: 0.5,
        alignItems: 'center',
        mt: 0.5,
        fontSize: 13,
      }}
    >
      <span>What</span>
      <Choice label="What they are" value={select.kind ?? select.sort ?? ANY} options={SORTS} onChange={setSort} />
      <span>At site</span>
      <TextInput
        label="At which site"
        value={select.site ?? ''}
        placeholder="any"
        maxLength={80}
        suggestions={words.sites.map(({ name }) => name)}
        onCommit={(text) => set('site', text.trim() || undefined)}
      />
      <span>Planned for</span>
      <Choice
        label="For which group of the brief their subnet is planned"
        value={select.group ?? ANY}
        options={[
          { value: ANY, text: 'any group' },
          ...words.groups.map(({ id: value, name }) => ({ value, text: name })),
        ]}
        onChange={(value) => set('group', value || undefined)}
      />
      <span>Linked to</span>
      <Choice
        label="What they are linked to"
        value={select.behind ?? ANY}
        options={[
          { value: ANY, text: 'anything' },
          ...words.refs.filter(({ ref }) => ref !== id).map(({ ref, text }) => ({ value: ref, text })),
        ]}
        onChange={(value) => set('behind', value || undefined)}
      />
      {(words.hasStarter || select.added) && (
        <>
          <span>Starter</span>
          <Choice
            label="Since the starter"
            value={select.added ? 'added' : ANY}
            options={[
              { value: ANY, text: 'with those of the starter' },
              { value: 'added', text: 'only what was added' },
            ]}
            onChange={(value) => set('added', value ? true : undefined)}
          />
        </>
      )}
      <span>At least</span>
      <TextInput
        label="How many there must be"
        mono
        strict
        value={String(select.least)}
        check={(text) => (/^[1-9][0-9]{0,3}$/.test(text) && Number(text) <= 5000 ? null : 'A number from 1 to 5000.')}
        onCommit={(text) => set('least', Number(text))}
      />
      <Typography variant="body2" color="text.secondary" sx={{ gridColumn: '1 / -1' }}>
        {n
          ? `${plural(n, 'device')} of the reference.`
          : 'The reference has none: they are chosen in each student’s drawing.'}
      </Typography>
    </Box>
  );
}
