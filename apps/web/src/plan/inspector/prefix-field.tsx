import { Box, Button, Typography } from '@mui/material';
import { IconAlertTriangle, IconArrowRight } from '@tabler/icons-react';
import { parsePrefix } from '@sobrin/core/address';
import { type PlanNode, type PlannedChange, changePrefix } from '@sobrin/core/plan';
import { useState } from 'react';
import { TextInput } from '../../ui/fields';
import { usePlan, usePlanFacts } from '../use-plan';

/** A block's prefix of one family: another one moves or resizes the block, and what that brings is said while it is typed. */
export function PrefixField({
  node,
  property,
  label,
}: {
  node: PlanNode;
  property: 'prefix' | 'prefix6';
  label: string;
}) {
  const tree = usePlanFacts((facts) => facts.tree);
  const run = usePlan((state) => state.do);
  const value = node.block[property] ?? '';
  const [draft, setDraft] = useState('');
  const typed = draft.trim();
  const change = typed === value || typed === '' ? null : changePrefix(tree, node.id, typed);
  const commit = (text: string): void => {
    const typed = text.trim();
    setDraft('');
    // A prefix that cannot be read yet has nothing to carry along: it is simply set.
    const done = changePrefix(tree, node.id, typed);
    if (done.ok) run(`move ${node.block.name}`, ...done.value.commands);
    else
      run('change a prefix', {
        kind: 'setBlock',
        id: node.id,
        set: { [property]: typed || (property === 'prefix' ? '' : null) },
      });
  };
  return (
    <>
      <TextInput
        id={property === 'prefix' ? 'block-prefix' : undefined}
        label={label}
        mono
        maxLength={64}
        placeholder={property === 'prefix' ? '10.84.0.0/22' : 'none'}
        value={value}
        onDraft={setDraft}
        check={(text) => {
          const read = parsePrefix(text.trim());
          return read.ok ? null : read.error.text;
        }}
        onCommit={commit}
      />
      {change?.ok && <Consequences change={change.value} />}
    </>
  );
}

/** What a change brings, before it is made. */
export function Consequences({ change, onDo, word }: { change: PlannedChange; onDo?: () => void; word?: string }) {
  return (
    <Box
      role="status"
      sx={{ border: '1px solid var(--line2)', borderRadius: '8px', background: 'var(--canvas)', p: 1, my: 0.5 }}
    >
      {change.consequences.map((consequence) => (
        <Box
          key={consequence.text}
          sx={{ display: 'flex', gap: 0.75, alignItems: 'start', py: '1px', lineHeight: '18px' }}
        >
          {consequence.warns ? (
            <IconAlertTriangle
              size={14}
              color="var(--brick)"
              style={{ flex: 'none', marginTop: 2 }}
              aria-label="Careful:"
            />
          ) : (
            <IconArrowRight size={14} color="var(--ink2)" style={{ flex: 'none', marginTop: 2 }} aria-hidden />
          )}
          <span>{consequence.text}</span>
        </Box>
      ))}
      {onDo ? (
        <Button variant="contained" size="small" onClick={onDo} sx={{ mt: 0.75 }}>
          {word}
        </Button>
      ) : (
        <Typography variant="body2" color="text.secondary" sx={{ pt: 0.5, lineHeight: '18px' }}>
          <kbd>Enter</kbd> does it, <kbd>Esc</kbd> leaves it as it is
        </Typography>
      )}
    </Box>
  );
}
