import { Box, Button, Stack, Typography } from '@mui/material';
import { IconArrowDown, IconArrowUp, IconPlus, IconTrash } from '@tabler/icons-react';
import { type Doubt, type Section, type Spec, type Told, type TypedRule } from '@sobrin/core/spec';
import { sameValue } from '@sobrin/core/changes';
import { type Problem } from '@sobrin/core/topology';
import { memo, useMemo } from 'react';
import { TextInput } from '../ui/fields';
import { IconTool } from '../ui/icon-tool';
import { points } from '../ui/words';
import { type SortedList, SortablePart } from '../ui/sortable-list';
import { RequirementRow, type RowActions } from './requirement-row';
import { moveSection, pointsOf, removeSection, renameSection, setSection } from './spec-editor';
import { SectionWorth, sectionWords } from './section-worth';
import { type SpecWords } from './spec-words';
import { TypedRequirement } from './typed-requirement';
import { type ReferenceCheck } from './use-reference-check';

interface Props {
  section: Section;
  nth: number;
  sections: readonly { readonly id: string; readonly title: string }[];
  words: SpecWords;
  told: ReadonlyMap<string, Told>;
  check: ReferenceCheck | null;
  problems: readonly Problem[];
  doubts: readonly Doubt[];
  chosen: ReadonlySet<string>;
  /** Changes the spec as it is at that moment. */
  onEdit: (change: (spec: Spec) => Spec) => void;
  onAdd: (section: string) => void;
  /** Adds what was typed. */
  onType: (section: string, typed: TypedRule) => void;
  actions: RowActions;
}

/** A section with its requirements in the order in which they are judged and shown. */
export const SectionPanel = memo(function SectionPanel({
  section,
  nth,
  sections,
  words,
  told,
  check,
  problems,
  doubts,
  chosen,
  onEdit,
  onAdd,
  onType,
  actions,
}: Props) {
  const list = useMemo(() => sortedList(section), [section]);
  const own = problems.filter(({ place }) => place.includes(`sections › ${nth - 1} › standsOn`));
  return (
    <Box
      component="section"
      aria-label={section.title}
      sx={{ border: '1px solid var(--line)', borderRadius: '12px', background: 'var(--surface)', overflow: 'hidden' }}
    >
      <Stack direction="row" spacing={1} sx={{ alignItems: 'center', px: 1.5, py: 1 }}>
        <kbd>{nth}</kbd>
        <Box sx={{ width: 260, '& .MuiInputBase-root': { fontWeight: 700, fontSize: 15, borderColor: 'transparent' } }}>
          <TextInput
            label={`Title of section ${nth}`}
            value={section.title}
            maxLength={80}
            onCommit={(title) => title && onEdit((spec) => renameSection(spec, section.id, title))}
          />
        </Box>
        <Box sx={{ flex: 1 }} />
        <SectionWorth
          othersOf={actions.others}
          section={section}
          onChange={(next) => onEdit((spec) => setSection(spec, next))}
        />
        <IconTool
          title="Move up"
          disabled={nth === 1}
          onClick={() => onEdit((spec) => moveSection(spec, section.id, -1))}
        >
          <IconArrowUp size={16} />
        </IconTool>
        <IconTool
          title="Move down"
          disabled={nth === sections.length}
          onClick={() => onEdit((spec) => moveSection(spec, section.id, 1))}
        >
          <IconArrowDown size={16} />
        </IconTool>
        <IconTool
          title={section.requirements.length ? 'Only an empty section can be removed' : 'Remove'}
          disabled={section.requirements.length > 0}
          onClick={() => onEdit((spec) => removeSection(spec, section.id))}
        >
          <IconTrash size={16} />
        </IconTool>
        <Typography className="mono" sx={{ fontWeight: 650, width: 92, textAlign: 'right' }}>
          {points(pointsOf(section))} {pointsOf(section) === 1 ? 'point' : 'points'}
        </Typography>
      </Stack>
      {(own.length > 0 || sectionWords(section)) && (
        <Box sx={{ px: 1.5, pb: 0.75, mt: -0.5 }}>
          <Typography variant="body2" color="text.secondary">
            {sectionWords(section)}
          </Typography>
          {own.map(({ text }) => (
            <Typography key={text} variant="body2" sx={{ color: 'var(--brick)' }}>
              {text}
            </Typography>
          ))}
        </Box>
      )}
      <SortablePart list={list}>
        <Box component="ol" sx={{ listStyle: 'none', m: 0, p: 0 }}>
          {section.requirements.map((requirement, at) => (
            <RequirementRow
              key={requirement.id}
              requirement={requirement}
              section={section.id}
              places={sections.filter(({ id }) => id !== section.id)}
              words={words}
              told={told.get(requirement.id)}
              check={check?.requirements.find((each) => each.id === requirement.id)}
              problems={problemsAt(problems, nth - 1, at)}
              doubts={doubts.filter(({ requirements }) => requirements.includes(requirement.id))}
              isChosen={chosen.has(requirement.id)}
              actions={actions}
            />
          ))}
        </Box>
      </SortablePart>
      <Box
        sx={{
          borderTop: '1px solid var(--line)',
          py: 0.75,
          pl: 2,
          pr: 0.75,
          display: 'flex',
          flexWrap: 'wrap',
          gap: 1,
          alignItems: 'center',
        }}
      >
        <TypedRequirement section={section.title} words={words} onAdd={(typed) => onType(section.id, typed)} />
        <Button size="small" startIcon={<IconPlus size={14} />} onClick={() => onAdd(section.id)}>
          Add a requirement
        </Button>
      </Box>
    </Box>
  );
}, isSameSection);

/** What comes anew with each change of another section is compared by what it says. */
function isSameSection(before: Props, after: Props): boolean {
  return (Object.keys(after) as (keyof Props)[]).every(
    (key) => before[key] === after[key] || (key === 'sections' && sameValue(before[key], after[key])),
  );
}

/** The requirements of a section, between which they are moved. */
export const sortedList = ({ id, title, requirements }: Section): SortedList => ({
  id,
  name: title,
  ids: requirements.map((requirement) => requirement.id),
});

/** The problems whose place lies in a requirement; the server names places as paths of keys. */
const problemsAt = (problems: readonly Problem[], section: number, requirement: number): Problem[] =>
  problems.filter(
    (problem) =>
      problem.place.includes(`sections › ${section} › requirements › ${requirement} ›`) ||
      problem.place.endsWith(`sections › ${section} › requirements › ${requirement}`),
  );
