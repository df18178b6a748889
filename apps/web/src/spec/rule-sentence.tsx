import { Box, IconButton, Menu, MenuItem, Tooltip } from '@mui/material';
import { IconPlus, IconX } from '@tabler/icons-react';
import { type Rule, ruleKind, wordsOf } from '@sobrin/core/spec';
import { useState } from 'react';
import { freshRule } from './spec-editor';
import { KindDialog } from './kind-dialog';
import { SlotWord } from './slot-word';
import { type SpecWords } from './spec-words';

type Combination = { kind: 'allOf' | 'anyOf'; rules: Rule[] };
const isCombination = (rule: Rule): rule is Combination => rule.kind === 'allOf' || rule.kind === 'anyOf';
const isNot = (rule: Rule): rule is { kind: 'not'; rule: Rule } => rule.kind === 'not';

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
  if (isCombination(rule)) return <CombinationSentences rule={rule} words={words} onChange={onChange} />;
  if (isNot(rule))
    return (
      <span>
        It is <b>not</b> so that:{' '}
        <RuleSentence rule={rule.rule} words={words} onChange={(next) => onChange({ kind: 'not', rule: next })} />
      </span>
    );
  const slots = ruleKind(rule.kind)?.slots ?? {};
  const values = rule as Record<string, unknown>;
  return (
    <span>
      {wordsOf(rule, words.names).map((part, at) =>
        typeof part === 'string' ? (
          part
        ) : (
          <SlotWord
            key={at}
            text={part.text}
            value={values[part.slot]}
            slot={slots[part.slot]!}
            name={part.slot}
            words={words}
            onChange={(value) => onChange({ ...values, [part.slot]: value } as Rule)}
          />
        ),
      )}
    </span>
  );
}

function CombinationSentences({
  rule,
  words,
  onChange,
}: {
  rule: Combination;
  words: SpecWords;
  onChange: (rule: Rule) => void;
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [adding, setAdding] = useState(false);
  const set = (rules: Rule[]): void => onChange({ ...rule, rules });
  const choose = (kind: Combination['kind']): void => {
    setAnchor(null);
    onChange({ ...rule, kind });
  };
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
        {rule.kind === 'allOf' ? 'All of these hold' : 'At least one of these holds'}
      </Box>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        <MenuItem onClick={() => choose('allOf')}>All of these hold</MenuItem>
        <MenuItem onClick={() => choose('anyOf')}>At least one of these holds</MenuItem>
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
          <IconButton size="small" onClick={() => setAdding(true)} aria-label="Add a statement" sx={{ p: 0.25 }}>
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
          set([
            ...rule.rules,
            freshRule(
              kind,
              words.sites.map((site) => site.id),
            ),
          ]);
        }}
      />
    </Box>
  );
}
