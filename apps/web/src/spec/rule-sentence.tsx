import { Box, IconButton, Menu, MenuItem, Tooltip } from '@mui/material';
import { IconPlus, IconX } from '@tabler/icons-react';
import {
  type Combination,
  type Rule,
  EACH,
  NETWORKS,
  NETWORKS_WORDS,
  isCombination,
  partsOf,
  ruleKind,
  wordsOf,
} from '@sobrin/core/spec';
import { useState } from 'react';
import { KindDialog } from './kind-dialog';
import { MoreWords, SlotWord } from './slot-word';
import { type SpecWords } from './spec-words';

type ListOfRules = Extract<Rule, { rules: Rule[] }>;
const isList = (rule: Rule): rule is ListOfRules =>
  isCombination(rule) && (rule.kind === 'allOf' || rule.kind === 'anyOf' || rule.kind === 'nOf');

/** A rule as a sentence whose words can be chosen; a combination as its sentences, one below the other. */
export function RuleSentence({
  rule,
  words,
  onChange,
}: {
  rule: Rule;
  words: SpecWords;
  onChange: (rule: Rule) => void;
}) {
  if (isCombination(rule))
    return isList(rule) ? (
      <CombinationSentences rule={rule} words={words} onChange={onChange} />
    ) : (
      <PartSentences rule={rule} words={words} onChange={onChange} />
    );
  const slots = ruleKind(rule.kind)?.slots ?? {};
  const parts = wordsOf(rule, words.names);
  const unsaid = parts.flatMap((part) => (typeof part !== 'string' && part.text === '' ? [part.slot] : []));
  const put = (property: string, value: unknown): void => onChange(withProperty(rule, property, value));
  return (
    <span>
      {parts.map((part, at) =>
        typeof part === 'string' ? (
          part
        ) : part.text === '' ? null : (
          <SlotWord
            key={at}
            text={part.text}
            value={rule[part.slot]}
            slot={slots[part.slot]!}
            name={part.slot}
            words={words}
            onChange={(value) => put(part.slot, value)}
          />
        ),
      )}
      {unsaid.length > 0 && (
        <MoreWords unsaid={unsaid.map((name) => ({ name, slot: slots[name]! }))} words={words} onChange={put} />
      )}
    </span>
  );
}

/** What is usual is not stored: a value that is gone takes its property with it. */
const withProperty = (rule: Rule, property: string, value: unknown): Rule =>
  Object.fromEntries(
    Object.entries({ ...rule, [property]: value }).filter(([, each]) => each !== undefined),
  ) as unknown as Rule;

/** What stands before the parts of a combination that is no list. */
const LEADS: Readonly<Record<string, string>> = {
  not: 'It is not so that:',
  notAll: 'It is not altogether so that:',
  if: 'If:',
  then: 'Then:',
  else: 'Else:',
};

/** A combination of a few parts, each with the words that lead to it. */
function PartSentences({
  rule,
  words,
  onChange,
}: {
  rule: Exclude<Combination, ListOfRules>;
  words: SpecWords;
  onChange: (rule: Rule) => void;
}) {
  const inside = rule.kind === 'forEach' ? { ...words, refs: [{ ref: EACH, text: 'it' }, ...words.refs] } : words;
  const each = { ...words, refs: [{ ref: NETWORKS, text: NETWORKS_WORDS }, ...words.refs] };
  return (
    <Box component="span" sx={{ display: 'block' }}>
      {partsOf(rule).map(([place, part]) => (
        <Box component="span" key={place} sx={{ display: 'block' }}>
          {rule.kind === 'forEach' ? (
            <>
              <b>For each</b> of{' '}
              <SlotWord
                text={words.names.ref(rule.who)}
                value={rule.who}
                slot={{ type: 'ref' }}
                name="who"
                words={each}
                onChange={(who) => onChange({ ...rule, who: who as string })}
              />
              :{' '}
            </>
          ) : (
            <b>{LEADS[place === 'rule' ? rule.kind : place]} </b>
          )}
          <RuleSentence rule={part} words={inside} onChange={(next) => onChange(withProperty(rule, place, next))} />
        </Box>
      ))}
    </Box>
  );
}

function CombinationSentences({
  rule,
  words,
  onChange,
}: {
  rule: ListOfRules;
  words: SpecWords;
  onChange: (rule: Rule) => void;
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [adding, setAdding] = useState(false);
  const set = (next: Rule[]): void =>
    onChange(
      rule.kind === 'nOf' ? { ...rule, n: Math.min(rule.n, next.length), rules: next } : { ...rule, rules: next },
    );
  const choose = (next: ListOfRules): void => {
    setAnchor(null);
    onChange(next);
  };
  const { rules } = rule;
  return (
    <Box component="span" sx={{ display: 'block' }}>
      <Box
        component="button"
        type="button"
        className="slot"
        aria-haspopup="menu"
        aria-expanded={anchor !== null}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        {rule.kind === 'nOf'
          ? `At least ${rule.n} of these hold`
          : rule.kind === 'allOf'
            ? 'All of these hold'
            : 'At least one of these holds'}
      </Box>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        <MenuItem onClick={() => choose({ kind: 'allOf', rules })}>All of these hold</MenuItem>
        <MenuItem onClick={() => choose({ kind: 'anyOf', rules })}>At least one of these holds</MenuItem>
        {Array.from({ length: Math.max(0, rules.length - 2) }, (_, at) => (
          <MenuItem key={at} onClick={() => choose({ kind: 'nOf', n: at + 2, rules })}>
            At least {at + 2} of these hold
          </MenuItem>
        ))}
      </Menu>
      <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
        {rule.rules.map((part, at) => (
          <Box component="li" key={at} sx={{ '&:hover .remove, &:focus-within .remove': { opacity: 1 } }}>
            <RuleSentence
              rule={part}
              words={words}
              onChange={(next) => set(rule.rules.map((each, index) => (index === at ? next : each)))}
            />
            {rule.rules.length > 1 && (
              <Tooltip title="Remove this statement">
                <IconButton
                  className="remove"
                  size="small"
                  aria-label={`Remove statement ${at + 1}`}
                  onClick={() => set(rule.rules.filter((_one, index) => index !== at))}
                  sx={{ p: 0.25, ml: 0.5, opacity: 0 }}
                >
                  <IconX size={13} />
                </IconButton>
              </Tooltip>
            )}
          </Box>
        ))}
        <li style={{ listStyle: 'none', marginLeft: -18 }}>
          <IconButton size="small" onClick={() => setAdding(true)} aria-label="Add a statement" sx={{ p: 0.625 }}>
            <IconPlus size={14} />
          </IconButton>
        </li>
      </Box>
      <KindDialog
        open={adding}
        title="Add a statement"
        onClose={() => setAdding(false)}
        onChoose={(kind) => {
          setAdding(false);
          set([...rule.rules, words.begin(kind)]);
        }}
      />
    </Box>
  );
}
