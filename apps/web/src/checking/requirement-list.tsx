import { Alert, Box, Typography } from '@mui/material';
import { type CheckResult } from '@sobrin/core/spec';
import { useLayoutEffect, useRef } from 'react';
import { points } from '../ui/words';
import { VerdictSign } from '../ui/verdict';
import { Key } from '../ui/keys/key';
import { IF_SMALL } from '../ui/frame';
import { CauseList } from './cause-list';
import { type Causes } from './use-causes';

/** The requirements with points, grouped in sections; sections that lost nothing are closed. */
export function RequirementList({
  result,
  chosen,
  openSections,
  onChoose,
  onToggle,
  causes,
}: {
  result: Pick<CheckResult, 'sections' | 'requirements' | 'hurdlesMissed' | 'remarks'>;
  chosen: string | null;
  openSections: ReadonlySet<string>;
  onChoose: (id: string) => void;
  onToggle: (section: string) => void;
  /** The mistakes behind what failed, where they may be seen. */
  causes?: Causes;
}) {
  return (
    <Box
      component="nav"
      aria-label="Requirements"
      sx={{
        width: 320,
        flex: 'none',
        overflow: 'auto',
        [IF_SMALL]: { width: '100%', maxHeight: '40dvh', borderRight: 0, borderBottom: '1px solid var(--line2)' },
        borderRight: '1px solid var(--line)',
        background: 'var(--surface)',
      }}
    >
      {result.hurdlesMissed?.map((text) => (
        <Alert key={text} severity="warning" variant="outlined" sx={{ m: 1 }}>
          Not passed: {text}
        </Alert>
      ))}
      {result.remarks?.map(({ text }) => (
        <Alert key={text} severity="info" variant="outlined" sx={{ m: 1 }}>
          {text}
        </Alert>
      ))}
      {causes && <CauseList causes={causes} />}
      {result.sections.map((section, at) => {
        const list = result.requirements.filter((requirement) => requirement.section === section.id);
        const whole = list.every(({ verdict }) => verdict === 'met' || verdict === 'notApplying');
        const isOpen = openSections.has(section.id);
        return (
          <Box key={section.id} component="section" aria-label={section.title}>
            <Box
              component="button"
              type="button"
              aria-expanded={isOpen}
              data-line
              onClick={() => onToggle(section.id)}
              sx={{
                all: 'unset',
                boxSizing: 'border-box',
                width: '100%',
                cursor: 'pointer',
                display: 'flex',
                alignItems: 'center',
                gap: 1.25,
                px: 2,
                minHeight: 37,
                borderBottom: '1px solid var(--line)',
                '&:focus-visible': { outline: '2px solid var(--spruce)', outlineOffset: -2 },
              }}
            >
              <Key id="section" keys={String(at + 1)} />
              <Typography variant="h2" component="span" sx={{ flex: 1 }}>
                {section.title}
              </Typography>
              {whole && <VerdictSign verdict="met" size={16} />}
              <b className="mono">
                {points(section.points)} / {points(section.of)}
              </b>
            </Box>
            {isOpen &&
              list.map((result) => (
                <RequirementLine
                  key={result.id}
                  requirement={result}
                  chosen={chosen === result.id}
                  onChoose={() => onChoose(result.id)}
                  letters={causes?.lettersOf(result.id) ?? []}
                />
              ))}
          </Box>
        );
      })}
    </Box>
  );
}

function RequirementLine({
  requirement,
  chosen,
  onChoose,
  letters,
}: {
  requirement: CheckResult['requirements'][number];
  chosen: boolean;
  onChoose: () => void;
  /** The causes by which it failed. */
  letters: readonly string[];
}) {
  const ref = useRef<HTMLButtonElement>(null);
  useLayoutEffect(() => {
    if (!chosen) return;
    ref.current?.scrollIntoView({ block: 'nearest' });
    // Who walks the list by arrows takes the focus along.
    if (document.activeElement?.matches('[data-requirement]')) ref.current?.focus();
  }, [chosen]);
  const lost = requirement.items.filter((item) => item.met === false).length;
  const open = requirement.items.filter((item) => item.met === null).length;
  return (
    <Box
      component="button"
      type="button"
      ref={ref}
      aria-current={chosen}
      data-requirement={requirement.id}
      data-line
      onClick={onChoose}
      sx={{
        all: 'unset',
        boxSizing: 'border-box',
        width: '100%',
        cursor: 'pointer',
        display: 'grid',
        gridTemplateColumns: '18px 1fr auto',
        gap: 1.25,
        px: 2,
        py: 1,
        borderLeft: `4px solid ${chosen ? (requirement.verdict === 'lost' ? 'var(--brick)' : 'var(--spruce)') : 'transparent'}`,
        background: chosen ? (requirement.verdict === 'lost' ? 'var(--brick-tint)' : 'var(--spruce-tint)') : undefined,
        borderBottom: '1px solid var(--line)',
        '&:hover': { background: chosen ? undefined : 'var(--ground)' },
        '&:focus-visible': { outline: '2px solid var(--spruce)', outlineOffset: -2 },
      }}
    >
      <VerdictSign verdict={requirement.verdict} />
      <span>
        {requirement.sentence}
        {requirement.decided && (
          <Typography component="span" variant="body2" sx={{ display: 'block', color: 'var(--plum)' }}>
            decided by a person
          </Typography>
        )}
        {letters.length > 0 && (
          <Typography component="span" variant="body2" sx={{ display: 'block', color: 'var(--brick)' }}>
            follows from {letters.join(', ')}
          </Typography>
        )}
        {(lost > 0 || open > 0) && requirement.items.length > 1 && (
          <Typography component="span" variant="body2" sx={{ display: 'block', color: 'var(--ink2)' }}>
            {[lost && `${lost} of ${requirement.items.length} not met`, open && `${open} not certain`]
              .filter(Boolean)
              .join(', ')}
          </Typography>
        )}
      </span>
      <b className="mono">
        {points(requirement.points)} / {points(requirement.of)}
      </b>
    </Box>
  );
}
