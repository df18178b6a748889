import { Box, IconButton, Tooltip } from '@mui/material';
import { IconX } from '@tabler/icons-react';
import { type Brief, type Group } from '@sobrin/core/plan';
import { newShortId } from '../api/new-id';
import { AddButton } from '../ui/add-button';
import { TextInput } from '../ui/fields';
import { Panel } from '../ui/panel';
import { NeedsField } from './needs-field';

const numberProblem = (text: string): string | null => (/^\d{1,6}$/.test(text) ? null : 'A whole number, such as 40.');
/** Of a small page they scroll sideways, each wide enough to read what is in it. */
const COLUMNS = 'minmax(112px, 1.3fr) minmax(88px, 1fr) 60px 60px minmax(112px, 1.5fr) 28px';

/** Who needs addresses: groups of people and things, how many now and later, and what each needs. */
export function GroupsPanel({ brief, onChange }: { brief: Brief; onChange: (groups: Group[]) => void }) {
  const groups = brief.groups ?? [];
  const set = (id: string, change: { [K in keyof Group]?: Group[K] | undefined }): void =>
    onChange(
      groups.map((group) =>
        group.id === id
          ? (Object.fromEntries(
              Object.entries({ ...group, ...change }).filter(([, value]) => value !== undefined),
            ) as Group)
          : group,
      ),
    );
  const add = (): void =>
    onChange([
      ...groups,
      {
        id: newShortId('g'),
        name: `Group ${groups.length + 1}`,
        now: 0,
        later: 0,
        ...(groups.at(-1)?.site && { site: groups.at(-1)!.site! }),
      },
    ]);
  /** A column of a sheet: name, now, later, site, one group a line. */
  const paste = (text: string): boolean => {
    const lines = text.split(/\r?\n/).filter((part) => part.trim());
    if (lines.length < 2 && !text.includes('\t')) return false;
    const read = lines.flatMap((line): Group[] => {
      const [name = '', now = '', later = '', site = ''] = line.split('\t').map((part) => part.trim());
      return name && /^\d+$/.test(now)
        ? [
            {
              id: newShortId('g'),
              name: name.slice(0, 80),
              now: Number(now),
              later: /^\d+$/.test(later) ? Number(later) : Number(now),
              ...(site && { site: site.slice(0, 80) }),
            },
          ]
        : [];
    });
    if (read.length) onChange([...groups, ...read]);
    return read.length > 0;
  };
  return (
    <Panel title="Groups" aside="who needs addresses, now and in three years">
      <Box
        sx={{ px: 2, py: 1.5, overflowX: 'auto', '& > div': { minWidth: 500 } }}
        onPaste={(event) => {
          if (paste(event.clipboardData.getData('text'))) event.preventDefault();
        }}
      >
        {groups.length > 0 && (
          <Box
            aria-hidden
            sx={{
              display: 'grid',
              gridTemplateColumns: COLUMNS,
              gap: 0.75,
              fontSize: 12,
              fontWeight: 650,
              color: 'var(--ink2)',
              pb: 0.5,
            }}
          >
            {['Group', 'Site', 'Now', 'Later', 'Needs', ''].map((title, at) => (
              <span key={at}>{title}</span>
            ))}
          </Box>
        )}
        {groups.map((group) => (
          <Box
            key={group.id}
            sx={{ display: 'grid', gridTemplateColumns: COLUMNS, gap: 0.75, alignItems: 'start', py: '2px' }}
          >
            <div>
              <TextInput
                label={`Name of ${group.name}`}
                value={group.name}
                maxLength={80}
                onCommit={(name) => name.trim() && set(group.id, { name: name.trim() })}
              />
            </div>
            <div>
              <TextInput
                label={`Site of ${group.name}`}
                value={group.site ?? ''}
                maxLength={80}
                suggestions={(brief.sites ?? []).map((each) => each.name)}
                onCommit={(site) => set(group.id, { site: site.trim() || undefined })}
              />
            </div>
            {(['now', 'later'] as const).map((when) => (
              <div key={when}>
                <TextInput
                  label={`${group.name} ${when}`}
                  mono
                  value={String(group[when])}
                  strict
                  check={numberProblem}
                  warning={(text) =>
                    when === 'later' && Number(text) < group.now ? `Fewer than now: ${group.now} count.` : null
                  }
                  onCommit={(text) => numberProblem(text) === null && set(group.id, { [when]: Number(text) })}
                />
              </div>
            ))}
            <NeedsField
              label={`Needs of ${group.name}`}
              needs={group.needs ?? []}
              onChange={(needs) => set(group.id, { needs: needs.length ? needs : undefined })}
            />
            <Tooltip title="Remove">
              <IconButton
                size="small"
                aria-label={`Remove ${group.name}`}
                onClick={() => onChange(groups.filter((each) => each.id !== group.id))}
              >
                <IconX size={15} />
              </IconButton>
            </Tooltip>
          </Box>
        ))}
        <AddButton onAdd={add}>Add a group</AddButton>
      </Box>
    </Panel>
  );
}
