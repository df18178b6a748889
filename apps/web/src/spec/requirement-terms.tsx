import { Box, Typography } from '@mui/material';
import { type Requirement, type Slot } from '@sobrin/core/spec';
import { MoreWords, SlotWord } from './slot-word';
import { type SpecWords } from './spec-words';

/** One of the terms on which a requirement counts. */
interface Term {
  readonly name: string;
  readonly slot: Slot;
  readonly value: unknown;
  /** How it reads; empty where there is nothing to be said. */
  readonly text: string;
  /** Whether it stands on a line of its own. */
  readonly isLine?: true;
  readonly put: (value: unknown) => Requirement;
}

const MOST_LETTERS = 400;
const STRENGTHS = ['that', 'where', 'what'] as const;
const HINTS = {
  that: 'A hint that something is wrong',
  where: 'A hint where it is wrong',
  what: 'A hint what is wrong',
} as const;
const hintProblem = (text: string): string | null =>
  text.length > MOST_LETTERS ? `At most ${MOST_LETTERS} letters.` : null;

/** A requirement with some of its properties set, or gone where they are undefined. */
function withTerms(
  requirement: Requirement,
  terms: { [K in keyof Requirement]?: Requirement[K] | undefined },
): Requirement {
  const all: object = { ...requirement, ...terms };
  return Object.fromEntries(Object.entries(all).filter(([, value]) => value !== undefined)) as unknown as Requirement;
}

/** @param others the ids of the other requirements of the spec, for who chooses of them */
function termsOf(
  requirement: Requirement,
  { tasks, hasStarter, countsOnce }: SpecWords,
  others: (id: string) => readonly string[],
): Term[] {
  const { bonus, deduction, hurdle, standsOn = [], credit = 'all', given, task, hints = {} } = requirement;
  const worth = bonus ? 'bonus' : deduction ? 'deduction' : undefined;
  const nth = tasks.findIndex(({ id }) => id === task);
  const choice = (title: string, options: [value: string, text: string][]): Slot => ({
    type: 'choice',
    quiet: '',
    title,
    options: options.map(([value, text]) => ({ value, text })),
  });
  return [
    {
      name: 'credit',
      slot: choice('Partial credit', [
        ['all', 'all or nothing'],
        ['share', 'a share for each part'],
      ]),
      value: credit,
      text: credit === 'share' ? 'a share for each part' : 'all or nothing',
      put: (value) => withTerms(requirement, { credit: value as 'all' | 'share' }),
    },
    {
      name: 'worth',
      slot: choice('A bonus, or points that are taken off', [
        ['', 'required'],
        ['bonus', 'a bonus'],
        ['deduction', 'taken off where it does not hold'],
      ]),
      value: worth,
      text: worth === 'bonus' ? 'a bonus' : worth === 'deduction' ? 'taken off where it does not hold' : '',
      put: (value) =>
        withTerms(requirement, {
          bonus: value === 'bonus' || undefined,
          deduction: value === 'deduction' || undefined,
        }),
    },
    {
      name: 'hurdle',
      slot: choice('Needed to pass', [
        ['', 'not needed to pass'],
        ['needed', 'needed to pass'],
      ]),
      value: hurdle && 'needed',
      text: hurdle ? 'needed to pass' : '',
      put: (value) => withTerms(requirement, { hurdle: value !== undefined || undefined }),
    },
    ...(countsOnce || requirement.carried === false
      ? [
          {
            name: 'carried',
            slot: choice('Where a mistake counts once', [
              ['', 'may be given back where a mistake counts once'],
              ['never', 'never given back'],
            ]),
            value: requirement.carried === false ? 'never' : undefined,
            text: requirement.carried === false ? 'never given back' : '',
            put: (value: unknown) => withTerms(requirement, { carried: value === 'never' ? false : undefined }),
          },
        ]
      : []),
    {
      name: 'standsOn',
      slot: {
        type: 'choices',
        title: 'Counts only once others are met',
        mayBeNone: true,
        get options() {
          return others(requirement.id).map((id) => ({ value: id, text: id }));
        },
      },
      value: standsOn,
      text: standsOn.length ? `counts once ${standsOn.join(' and ')} ${standsOn.length === 1 ? 'is' : 'are'} met` : '',
      put: (value) =>
        withTerms(requirement, { standsOn: (value as string[]).length ? (value as string[]) : undefined }),
    },
    ...(hasStarter || given
      ? [
          {
            name: 'given',
            slot: choice('What the starter has, too', [
              ['', 'counts only what goes beyond the starter'],
              ['counts', 'counts what the starter has, too'],
            ]),
            value: given,
            text: given ? 'counts what the starter has, too' : '',
            put: (value: unknown) => withTerms(requirement, { given: value as 'counts' | undefined }),
          },
        ]
      : []),
    ...(tasks.length || task !== undefined
      ? [
          {
            name: 'task',
            slot: choice('The task it belongs to', [
              ['', 'belongs to no task'],
              ...tasks.map(({ id }, at): [string, string] => [id, `belongs to task ${at + 1}`]),
            ]),
            value: task,
            text: task === undefined ? '' : nth < 0 ? 'belongs to a task that is gone' : `belongs to task ${nth + 1}`,
            put: (value: unknown) => withTerms(requirement, { task: value as string | undefined }),
          },
        ]
      : []),
    ...STRENGTHS.map((strength): Term => {
      const empty = 'Students read it where it is not met. Type nothing for none.';
      return {
        name: strength,
        slot: { type: 'text', title: HINTS[strength], empty, isProse: true, problem: hintProblem },
        value: hints[strength],
        text: hints[strength] === undefined ? '' : `${HINTS[strength]}: ${hints[strength]}`,
        isLine: true,
        put: (value) => {
          const { [strength]: _old, ...rest } = hints;
          const text = (value as string | undefined)?.trim();
          const next = text ? { ...rest, [strength]: text } : rest;
          return withTerms(requirement, { hints: Object.keys(next).length ? next : undefined });
        },
      };
    }),
  ];
}

/**
 * On what terms a requirement counts, in words that can be chosen: partial credit, a bonus, what it stands on, its task, its
 * hints. What is usual is unsaid, behind one sign.
 */
export function RequirementTerms({
  requirement,
  words,
  others,
  told,
  onChange,
}: {
  requirement: Requirement;
  words: SpecWords;
  others: (id: string) => readonly string[];
  /** Where students read what is asked, in words. */
  told: string;
  onChange: (next: Requirement) => void;
}) {
  const terms = termsOf(requirement, words, others);
  const said = terms.filter(({ text }) => text !== '');
  const unsaid = terms.filter(({ text }) => text === '');
  const word = ({ name, slot, value, text, put }: Term) => (
    <SlotWord
      text={text}
      value={value}
      slot={slot}
      name={name}
      words={words}
      onChange={(next) => onChange(put(next))}
    />
  );
  return (
    <Typography component="div" variant="body2" color="text.secondary" className="terms">
      {said
        .filter(({ isLine }) => !isLine)
        .map((term, at) => (
          <span key={term.name}>
            {at > 0 && ', '}
            {word(term)}
          </span>
        ))}
      {told}
      {unsaid.length > 0 && (
        <MoreWords
          label={`More terms for ${requirement.id}`}
          unsaid={unsaid}
          words={words}
          onChange={(name, value) => onChange(terms.find((term) => term.name === name)!.put(value))}
        />
      )}
      {said
        .filter(({ isLine }) => isLine)
        .map((term) => (
          <Box key={term.name}>{word(term)}</Box>
        ))}
    </Typography>
  );
}
