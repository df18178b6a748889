import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { Box, Button, IconButton, Menu, MenuItem, Tooltip, Typography, styled } from '@mui/material';
import { IconDots, IconGripVertical } from '@tabler/icons-react';
import { type Doubt, type Requirement, type Rule, type Told, isCombination, ruleKind, EACH } from '@sobrin/core/spec';
import { sameValue } from '@sobrin/core/changes';
import { type Problem } from '@sobrin/core/topology';
import { memo, useState } from 'react';
import { Choice, TextInput } from '../ui/fields';
import { VerdictSign } from '../ui/verdict';
import { RequirementTerms } from './requirement-terms';
import { RuleSentence } from './rule-sentence';
import { type SpecWords } from './spec-words';
import { type ReferenceCheck } from './use-reference-check';
import { IF_SMALL } from '../ui/frame';

/** What can be done with requirements: always the same functions, so that rows that stay need not render again. */
export interface RowActions {
  change: (section: string, next: Requirement) => void;
  copy: (section: string, id: string) => void;
  remove: (section: string, id: string) => void;
  /** To the end of another section. */
  move: (id: string, section: string) => void;
  /** Tells in a task what it asks. */
  tell: (requirement: Requirement, task: number) => void;
  /** @param isRange all from the one that was chosen last */
  choose: (id: string, isRange: boolean) => void;
  /** The ids of all others, as they are when it is asked for. */
  others: (id?: string) => string[];
}

interface Props {
  requirement: Requirement;
  section: string;
  /** The other sections. */
  places: readonly { readonly id: string; readonly title: string }[];
  words: SpecWords;
  told: Told | undefined;
  check: ReferenceCheck['requirements'][number] | undefined;
  problems: readonly Problem[];
  doubts: readonly Doubt[];
  /** Whether it is chosen, with others. */
  isChosen: boolean;
  actions: RowActions;
}

export const pointsProblem = (text: string): string | null =>
  /^\d{1,3}([.,]\d{1,2})?$/.test(text) ? null : 'A number from 0 to 999.';
const withoutWording = ({ wording: _own, ...rest }: Requirement): Requirement => rest;

/** All rows are told of each step of what is carried: how they look is worked out once. */
const Row = styled('li')(({ theme }) => ({
  display: 'grid',
  gridTemplateColumns: '20px 40px minmax(0, 1fr) 24px 64px 28px',
  // The sentence has a line of its own where it would be a word wide.
  [IF_SMALL]: {
    gridTemplateColumns: '24px minmax(40px, 1fr) 24px 64px 28px',
    '& > :nth-child(3)': { gridRow: 2, gridColumn: '1 / -1' },
  },
  gap: theme.spacing(1),
  alignItems: 'start',
  padding: theme.spacing(0.75, 1.5),
  borderTop: '1px solid var(--line)',
  background: 'var(--surface)',
  position: 'relative',
}));
const Grip = styled('button')({
  all: 'unset',
  cursor: 'grab',
  color: 'var(--ink3)',
  height: 28,
  display: 'grid',
  placeItems: 'center',
  '&:focus-visible': { outline: '2px solid var(--spruce)', borderRadius: '4px' },
});

/** One requirement: its sentence with choosable words, its points, and whether the reference itself meets it. */
export const RequirementRow = memo(function RequirementRow(props: Props) {
  const { requirement, isChosen } = props;
  const { id } = requirement;
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({
    id,
  });
  return (
    <Row
      ref={setNodeRef}
      data-requirement={id}
      style={{
        transform: CSS.Translate.toString(transform),
        transition,
        ...((isDragging || isChosen) && { background: 'var(--spruce-tint)' }),
        ...(isDragging && { zIndex: 2 }),
      }}
    >
      <Grip
        type="button"
        ref={setActivatorNodeRef}
        {...attributes}
        {...listeners}
        data-sort-handle
        aria-label={`Move requirement ${id}`}
      >
        <IconGripVertical size={16} />
      </Grip>
      <Cells {...props} />
    </Row>
  );
}, isSameRow);

/** What stands in a row. While rows are carried past it, and while others change, it stays as it is. */
const Cells = memo(function Cells({
  requirement,
  section,
  places,
  words,
  told,
  check,
  problems,
  doubts,
  isChosen,
  actions,
}: Props) {
  const { id, points, wording } = requirement;
  const lacks = told?.by === 'nowhere' ? told.lacks : null;
  const missed = check?.items.find((item) => item.met !== true);
  const onChange = (next: Requirement): void => actions.change(section, next);
  const onRemove = (): void => actions.remove(section, id);
  return (
    <>
      <Box
        component="button"
        type="button"
        data-line
        className="mono"
        aria-pressed={isChosen}
        aria-label={`Choose requirement ${id}`}
        title="Choose it together with others"
        onClick={(event) => actions.choose(id, event.shiftKey)}
        sx={{
          all: 'unset',
          cursor: 'pointer',
          fontWeight: 650,
          lineHeight: '28px',
          '&:focus-visible': { outline: '2px solid var(--spruce)', borderRadius: '4px' },
        }}
      >
        {id}
      </Box>
      <Box sx={{ lineHeight: '24px', pt: '2px', minWidth: 0 }}>
        {wording !== undefined && (
          <Box sx={{ mb: 0.5 }}>
            <TextInput
              label={`Wording of ${id}`}
              value={wording}
              onCommit={(text) => onChange(text ? { ...requirement, wording: text } : withoutWording(requirement))}
            />
          </Box>
        )}
        <RuleSentence rule={requirement.rule} words={words} onChange={(rule) => onChange({ ...requirement, rule })} />
        <RequirementTerms
          requirement={requirement}
          words={words}
          others={actions.others}
          told={toldWords(told)}
          onChange={onChange}
        />
        {lacks && (
          <Untold id={id} lacks={lacks} tasks={words.tasks.length} onTell={(task) => actions.tell(requirement, task)} />
        )}
        {problems.map((problem) => (
          <Typography key={problem.text} variant="body2" sx={{ color: 'var(--brick)' }}>
            {problem.text}
          </Typography>
        ))}
        {doubts.map((doubt) => (
          <DoubtLine key={doubt.text} of={id} doubt={doubt} onRemove={onRemove} />
        ))}
        {check?.given && (
          <Typography variant="body2" sx={{ color: 'var(--ochre-text)' }}>
            The starter meets this already: it earns nothing.
          </Typography>
        )}
        {missed && problems.length === 0 && (
          <Typography variant="body2" sx={{ color: 'var(--ochre-text)' }}>
            The reference does not meet this: {missed.text}
          </Typography>
        )}
      </Box>
      <Box sx={{ pt: '5px' }}>
        {check && (
          <VerdictSign
            verdict={check.verdict}
            title={
              check.given
                ? 'The starter meets this already: it earns nothing'
                : check.verdict === 'notApplying'
                  ? 'This does not apply to the reference'
                  : check.verdict === 'met'
                    ? 'The reference meets this'
                    : 'The reference does not meet this'
            }
          />
        )}
      </Box>
      <TextInput
        label={`Points of ${id}`}
        mono
        value={String(points)}
        strict
        check={pointsProblem}
        onCommit={(text) =>
          pointsProblem(text) === null && onChange({ ...requirement, points: Number(text.replace(',', '.')) })
        }
      />
      <RowMenu
        requirement={requirement}
        places={places}
        onChange={onChange}
        onCopy={() => actions.copy(section, id)}
        onRemove={onRemove}
        onMove={(to) => actions.move(id, to)}
      />
    </>
  );
}, isSameRow);

/** What comes anew from each check is compared by what it says. */
function isSameRow(before: Props, after: Props): boolean {
  return (Object.keys(after) as (keyof Props)[]).every(
    (key) =>
      before[key] === after[key] ||
      ((key === 'check' || key === 'problems' || key === 'doubts' || key === 'told' || key === 'places') &&
        sameValue(before[key], after[key])),
  );
}

/** Where students read what is asked; what any network needs that works is told by itself. */
function toldWords(told: Told | undefined): string {
  switch (told?.by) {
    case 'task':
      return `, told in task ${told.task + 1}`;
    case 'brief':
      return ', told in the brief';
    case 'handout':
      return ', told in the handout';
    case 'together':
      return ', told in brief and tasks together';
    default:
      return '';
  }
}

/** What is asked and nowhere told, with a task to tell it in. */
function Untold({
  id,
  lacks,
  tasks,
  onTell,
}: {
  id: string;
  lacks: readonly string[];
  tasks: number;
  onTell: (task: number) => void;
}) {
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 1, alignItems: 'center', color: 'var(--ochre-text)' }}>
      <Typography variant="body2" component="span">
        Asked, but nowhere told: {lacks.join(', ')}.
      </Typography>
      {tasks > 0 && (
        <Box sx={{ width: 150 }}>
          <Choice
            label={`Tell ${id} in a task`}
            value=""
            options={[
              { value: '', text: 'Tell it in…' },
              ...Array.from({ length: tasks }, (_, at) => ({ value: String(at), text: `task ${at + 1}` })),
            ]}
            onChange={(at) => at !== '' && onTell(Number(at))}
          />
        </Box>
      )}
    </Box>
  );
}

/** What of a requirement can hardly be meant: the reason where it stands last, the way there from the other one. */
function DoubtLine({
  of,
  doubt: { code, requirements, text },
  onRemove,
}: {
  of: string;
  doubt: Doubt;
  onRemove: () => void;
}) {
  const others = requirements.filter((id) => id !== of);
  const isWrong = code === 'contradiction' || code === 'neverMet';
  return (
    <Typography variant="body2" component="div" sx={{ color: isWrong ? 'var(--brick)' : 'var(--ochre-text)' }}>
      {text}
      {others.map((id) => (
        <Button
          key={id}
          size="small"
          sx={{ minHeight: 24, py: 0, ml: 0.5 }}
          onClick={() => document.querySelector<HTMLElement>(`[data-requirement="${id}"] .slot`)?.focus()}
        >
          Go to {id}
        </Button>
      ))}
      {/* Of two that cannot both be meant either may go. */}
      {others.length > 0 && (
        <Button size="small" sx={{ minHeight: 24, py: 0, ml: 0.5 }} onClick={onRemove}>
          Remove {of}
        </Button>
      )}
    </Typography>
  );
}
/** What a rule can be made into, in words. */
const turned = (rule: Rule): [string, Rule][] => [
  ['Turn into “not”', { kind: 'not', rule }],
  ['Turn into “not all”', { kind: 'notAll', rule }],
  ['Ask only if…', { kind: 'ifThen', if: ruleKind('deviceCount')!.fresh as Rule, then: rule }],
  ['Ask for each of a group', each(rule)],
];

/** The first that a rule speaks of becomes the group whose members are looked at one by one. */
function each(rule: Rule): Rule {
  if (isCombination(rule)) return { kind: 'forEach', who: '@hosts', rule };
  const property = Object.entries(ruleKind(rule.kind)?.slots ?? {}).find(([, { type }]) => type === 'ref')?.[0];
  return property === undefined
    ? { kind: 'forEach', who: '@hosts', rule }
    : { kind: 'forEach', who: rule[property] as string, rule: { ...rule, [property]: EACH } };
}

function RowMenu({
  requirement,
  places,
  onChange,
  onCopy,
  onRemove,
  onMove,
}: Pick<Props, 'requirement' | 'places'> & {
  onChange: (next: Requirement) => void;
  onCopy: () => void;
  onRemove: () => void;
  onMove: (section: string) => void;
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { id, rule, wording } = requirement;
  const choose = (run: () => void) => () => {
    setAnchor(null);
    run();
  };
  const isCombined = isCombination(rule) && 'rules' in rule;
  return (
    <>
      <Tooltip title="More">
        <IconButton
          size="small"
          aria-label={`More for requirement ${id}`}
          aria-haspopup="menu"
          aria-expanded={anchor !== null}
          onClick={(event) => setAnchor(event.currentTarget)}
        >
          <IconDots size={16} />
        </IconButton>
      </Tooltip>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {wording === undefined && (
          <MenuItem dense onClick={choose(() => onChange({ ...requirement, wording: 'Say it in your own words.' }))}>
            Own wording
          </MenuItem>
        )}
        {!isCombined && (
          <MenuItem dense onClick={choose(() => onChange({ ...requirement, rule: { kind: 'allOf', rules: [rule] } }))}>
            Join with other statements
          </MenuItem>
        )}
        {isCombination(rule) && (rule.kind === 'not' || rule.kind === 'notAll' || rule.kind === 'forEach') ? (
          <MenuItem dense onClick={choose(() => onChange({ ...requirement, rule: rule.rule }))}>
            {rule.kind === 'forEach' ? 'Drop the “for each”' : 'Drop the “not”'}
          </MenuItem>
        ) : (
          turned(rule).map(([text, next]) => (
            <MenuItem key={text} dense onClick={choose(() => onChange({ ...requirement, rule: next }))}>
              {text}
            </MenuItem>
          ))
        )}
        {isCombination(rule) && rule.kind === 'ifThen' && (
          <MenuItem dense onClick={choose(() => onChange({ ...requirement, rule: rule.then }))}>
            Drop the condition
          </MenuItem>
        )}
        <MenuItem dense onClick={choose(onCopy)}>
          Duplicate
        </MenuItem>
        {places.map(({ id: other, title }) => (
          <MenuItem key={other} dense onClick={choose(() => onMove(other))}>
            Move to {title}
          </MenuItem>
        ))}
        <MenuItem dense onClick={choose(onRemove)} sx={{ color: 'var(--brick)' }}>
          Remove
        </MenuItem>
      </Menu>
    </>
  );
}
