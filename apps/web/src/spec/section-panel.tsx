import { Box, Button, Stack, Typography } from '@mui/material';
import { IconArrowDown, IconArrowUp, IconPlus, IconTrash } from '@tabler/icons-react';
import { type Doubt, type Requirement, type Section, type Spec, type TypedRule } from '@sobrin/core/spec';
import { type Problem } from '@sobrin/core/topology';
import { TextInput } from '../ui/fields';
import { IconTool } from '../ui/icon-tool';
import { points } from '../ui/words';
import { type SortedList, SortablePart } from '../ui/sortable-list';
import { RequirementRow } from './requirement-row';
import {
  copyRequirement,
  moveRequirement,
  moveSection,
  pointsOf,
  removeRequirement,
  removeSection,
  renameSection,
  setRequirement,
  setSection,
} from './spec-editor';
import { SectionWorth, sectionWords } from './section-worth';
import { type SpecWords } from './spec-words';
import { TypedRequirement } from './typed-requirement';
import { type ReferenceCheck } from './use-reference-check';

interface Props {
  spec: Spec;
  section: Section;
  nth: number;
  words: SpecWords;
  check: ReferenceCheck | null;
  problems: readonly Problem[];
  doubts: readonly Doubt[];
  onChange: (spec: Spec) => void;
  onAdd: () => void;
  /** Adds what was typed. */
  onType: (typed: TypedRule) => void;
  chosen: ReadonlySet<string>;
  onChoose: (id: string, isRange: boolean) => void;
  /** Tells in a task what a requirement asks. */
  onTell: (requirement: Requirement, task: number) => void;
}

/** A section with its requirements in the order in which they are judged and shown. */
export function SectionPanel({
  spec,
  section,
  nth,
  words,
  check,
  problems,
  doubts,
  onChange,
  onAdd,
  onType,
  chosen,
  onChoose,
  onTell,
}: Props) {
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
            onCommit={(title) => title && onChange(renameSection(spec, section.id, title))}
          />
        </Box>
        <Box sx={{ flex: 1 }} />
        <SectionWorth spec={spec} section={section} onChange={(next) => onChange(setSection(spec, next))} />
        <IconTool title="Move up" disabled={nth === 1} onClick={() => onChange(moveSection(spec, section.id, -1))}>
          <IconArrowUp size={16} />
        </IconTool>
        <IconTool
          title="Move down"
          disabled={nth === spec.sections.length}
          onClick={() => onChange(moveSection(spec, section.id, 1))}
        >
          <IconArrowDown size={16} />
        </IconTool>
        <IconTool
          title={section.requirements.length ? 'Only an empty section can be removed' : 'Remove'}
          disabled={section.requirements.length > 0}
          onClick={() => onChange(removeSection(spec, section.id))}
        >
          <IconTrash size={16} />
        </IconTool>
        <Typography className="mono" sx={{ fontWeight: 650, width: 92, textAlign: 'right' }}>
          {points(pointsOf(section))} points
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
      <SortablePart list={sortedList(section)}>
        <Box component="ol" sx={{ listStyle: 'none', m: 0, p: 0 }}>
          {section.requirements.map((requirement, at) => (
            <RequirementRow
              key={requirement.id}
              requirement={requirement}
              section={section}
              sections={spec.sections}
              words={words}
              check={check?.requirements.find((each) => each.id === requirement.id)}
              problems={problemsAt(problems, nth - 1, at)}
              doubts={doubts.filter(({ requirements }) => requirements.includes(requirement.id))}
              onChange={(next) => onChange(setRequirement(spec, section.id, next))}
              onCopy={() => onChange(copyRequirement(spec, section.id, requirement.id))}
              onRemove={() => onChange(removeRequirement(spec, section.id, requirement.id))}
              onTell={(task) => onTell(requirement, task)}
              isChosen={chosen.has(requirement.id)}
              onChoose={(isRange) => onChoose(requirement.id, isRange)}
              onMove={(to) => onChange(moveRequirement(spec, requirement.id, to, null))}
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
        <TypedRequirement section={section.title} words={words} onAdd={onType} />
        <Button size="small" startIcon={<IconPlus size={14} />} onClick={onAdd}>
          Add a requirement
        </Button>
      </Box>
    </Box>
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
