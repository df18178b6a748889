import { Box, Popover, Typography } from '@mui/material';
import { IconFlag } from '@tabler/icons-react';
import { type Section } from '@sobrin/core/spec';
import { useState } from 'react';
import { Choice, TextInput } from '../ui/fields';
import { IconTool } from '../ui/icon-tool';

/** What it takes that a section counts and is passed, in words; empty for nothing. */
export function sectionWords({ hurdle, standsOn = [] }: Section): string {
  return [
    ...(hurdle === undefined ? [] : [`${hurdle} % of its points are needed to pass`]),
    ...(standsOn.length ? [`counts once ${standsOn.join(' and ')} ${standsOn.length === 1 ? 'is' : 'are'} met`] : []),
  ].join(', ');
}

const isShare = (text: string): boolean => /^([1-9]\d?|100)$/.test(text.replace(/\s*%$/, ''));

/** The share of a section's points that is needed to pass, and the requirements without which nothing of it counts. */
export function SectionWorth({
  othersOf,
  section,
  onChange,
}: {
  /** The ids of all requirements. */
  othersOf: () => string[];
  section: Section;
  onChange: (section: Section) => void;
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { hurdle, standsOn = [], ...rest } = section;
  const set = (next: { hurdle?: number | undefined; standsOn?: string[] }): void => {
    const [share, bases] = ['hurdle' in next ? next.hurdle : hurdle, next.standsOn ?? standsOn];
    onChange({ ...rest, ...(share !== undefined && { hurdle: share }), ...(bases.length && { standsOn: bases }) });
  };
  const others = anchor ? othersOf().filter((id) => !standsOn.includes(id)) : [];
  return (
    <>
      <IconTool title="What it takes to pass" onClick={(event) => setAnchor(event.currentTarget)}>
        <IconFlag size={16} />
      </IconTool>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
      >
        <Box sx={{ p: 1.5, width: 320, display: 'grid', gap: 1 }}>
          <Typography variant="h2">{section.title}</Typography>
          <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 72px', gap: 1, alignItems: 'start' }}>
            <span style={{ lineHeight: '28px' }}>Per cent of its points to pass</span>
            <TextInput
              label="Per cent of its points to pass"
              mono
              strict
              placeholder="none"
              value={hurdle === undefined ? '' : String(hurdle)}
              check={(text) => (isShare(text) ? null : 'From 1 to 100; leave it empty for none.')}
              onCommit={(text) =>
                (text === '' || isShare(text)) &&
                set({ hurdle: text === '' ? undefined : Number(text.replace(/\s*%$/, '')) })
              }
            />
          </Box>
          <Box sx={{ display: 'grid', gridTemplateColumns: 'auto 1fr', gap: 1, alignItems: 'center' }}>
            <span>It counts once</span>
            <Choice
              label="Counts once this requirement is met"
              value=""
              options={[
                { value: '', text: standsOn.length ? 'one more is met…' : 'nothing: it always counts' },
                ...others.map((id) => ({ value: id, text: `${id} is met` })),
              ]}
              onChange={(id) => id && set({ standsOn: [...standsOn, id] })}
            />
          </Box>
          {standsOn.map((id) => (
            <Box key={id} sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
              <span style={{ flex: 1 }}>{id} is met</span>
              <button
                type="button"
                className="slot"
                onClick={() => set({ standsOn: standsOn.filter((each) => each !== id) })}
              >
                no more
              </button>
            </Box>
          ))}
        </Box>
      </Popover>
    </>
  );
}
