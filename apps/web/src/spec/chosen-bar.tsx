import { Box, Button, Typography } from '@mui/material';
import { type Spec } from '@sobrin/core/spec';
import { plural } from '@sobrin/core';
import { Choice, TextInput } from '../ui/fields';
import { IF_SMALL } from '../ui/frame';
import { Key } from '../ui/keys/key';
import { pointsProblem } from './requirement-row';
import { moveAll, removeAll, setPointsOfAll } from './spec-editor';

/** What can be done with several requirements at once. */
export function ChosenBar({
  spec,
  chosen,
  onChange,
  onNone,
}: {
  spec: Spec;
  chosen: ReadonlySet<string>;
  onChange: (spec: Spec) => void;
  onNone: () => void;
}) {
  return (
    <Box
      role="toolbar"
      aria-label="Chosen requirements"
      sx={{
        position: 'sticky',
        top: 0,
        zIndex: 3,
        [IF_SMALL]: { position: 'static' },
        display: 'flex',
        flexWrap: 'wrap',
        alignItems: 'center',
        gap: 1.5,
        px: 1.5,
        py: 0.75,
        border: '1px solid var(--spruce)',
        borderRadius: '12px',
        background: 'var(--spruce-tint)',
      }}
    >
      <b>{chosen.size} chosen</b>
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
        <Box sx={{ width: 64 }}>
          <TextInput
            label="Points of each that is chosen"
            mono
            value=""
            strict
            check={pointsProblem}
            onCommit={(text) =>
              text &&
              pointsProblem(text) === null &&
              onChange(setPointsOfAll(spec, chosen, Number(text.replace(',', '.'))))
            }
          />
        </Box>
        <span>points each</span>
      </Box>
      <Box sx={{ width: 190 }}>
        <Choice
          label="Move what is chosen to a section"
          value=""
          options={[
            { value: '', text: 'Move to…' },
            ...spec.sections.map(({ id, title }) => ({ value: id, text: title })),
          ]}
          onChange={(section) => section && onChange(moveAll(spec, chosen, section))}
        />
      </Box>
      <Button
        size="small"
        color="error"
        onClick={() => {
          onChange(removeAll(spec, chosen));
          onNone();
        }}
      >
        Remove {plural(chosen.size, 'requirement')}
      </Button>
      <Button size="small" onClick={onNone} sx={{ gap: 0.5 }}>
        <Key id="choose-none" keys="Esc" /> Choose none
      </Button>
      <Typography variant="body2" color="text.secondary">
        Ctrl C copies them, also for the spec of another lab.
      </Typography>
    </Box>
  );
}
