import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Stack,
  TextField,
  Typography,
} from '@mui/material';
import { plural } from '@sobrin/core';
import { findModels } from '@sobrin/core/bench';
import { leftInKit, leftWords } from '@sobrin/core/editing';
import { type Policy } from '@sobrin/core/spec';
import { type Model, type Topology } from '@sobrin/core/topology';
import { type KeyboardEvent, type PointerEvent, useMemo, useState } from 'react';
import { GLYPHS } from '../../drawing/glyphs';
import { followPointer } from '../../ui/follow-pointer';
import { CLASSES } from '../device-classes';

/** So far a model is pulled before it leaves the list, in pixels. */
const PULLED = 6;

/** The kit: search, choose a model, say how many. */
export default function KitDialog(kit: KitProps) {
  return (
    <Dialog open onClose={kit.onClose} maxWidth="sm" fullWidth>
      <Kit {...kit} />
    </Dialog>
  );
}

interface KitProps {
  topology: Topology;
  /** The models that the lab allows; absent for all. */
  kit: Policy['kit'];
  onClose: () => void;
  onAdd: (model: string, count: number) => void;
  /** Takes a model to be put where the pointer goes: held while the button is down, or for click after click. */
  onTake: (model: string, held: boolean) => void;
}

function Kit({ topology, kit, onClose, onAdd, onTake }: KitProps) {
  const [search, setSearch] = useState('');
  const [count, setCount] = useState('1');
  const [chosen, setChosen] = useState<string | null>(null);
  const found = useMemo(
    () => findModels(topology, search).filter(([id]) => kit === undefined || Object.hasOwn(kit, id)),
    [topology, search, kit],
  );
  const ordered = CLASSES.flatMap(([kind]) => found.filter(([, model]) => model.class === kind));
  const current = ordered.some(([id]) => id === chosen) ? chosen : (ordered[0]?.[0] ?? null);
  const number = Number(count);
  const fits = Number.isInteger(number) && number >= 1 && number <= 200;
  const left = current === null ? null : leftInKit(topology, current, kit);
  const enough = fits && (left === null || number <= left);
  const add = (): void => void (current && enough && onAdd(current, number));
  const onKeyDown = (event: KeyboardEvent): void => {
    const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    if (step && ordered.length) {
      event.preventDefault();
      const at = ordered.findIndex(([id]) => id === current);
      setChosen(ordered[(at + step + ordered.length) % ordered.length]![0]);
    }
    if (event.key === 'Enter') {
      event.preventDefault();
      add();
    }
  };
  return (
    <>
      <DialogTitle sx={{ pb: 1 }}>Add from the kit</DialogTitle>
      <DialogContent sx={{ height: 440, display: 'flex', flexDirection: 'column' }} onKeyDown={onKeyDown}>
        <Stack direction="row" spacing={1} sx={{ pt: 1, pb: 1.5 }}>
          <TextField
            autoFocus
            fullWidth
            type="search"
            label="Search by name, kind or use"
            value={search}
            onChange={(event) => setSearch(event.target.value)}
            slotProps={{
              htmlInput: {
                'aria-controls': 'kit-list',
                'aria-activedescendant': current ? `kit-${current}` : undefined,
              },
            }}
          />
          <TextField
            label="How many"
            value={count}
            error={!enough}
            onChange={(event) => setCount(event.target.value)}
            sx={{ width: 104 }}
            slotProps={{ htmlInput: { inputMode: 'numeric' } }}
          />
        </Stack>
        <Box id="kit-list" role="listbox" aria-label="Models" tabIndex={0} sx={{ overflow: 'auto', flex: 1 }}>
          {ordered.length === 0 && (
            <Typography color="text.secondary" sx={{ p: 2 }}>
              No model fits “{search}”. Try a kind, for instance switch, or a use, for instance till.
            </Typography>
          )}
          {CLASSES.map(([kind, title]) => {
            const list = ordered.filter(([, model]) => model.class === kind);
            return (
              list.length > 0 && (
                <Box key={kind} role="group" aria-label={title} sx={{ mb: 1 }}>
                  <Typography variant="body2" color="text.secondary" sx={{ px: 1, py: 0.5 }}>
                    {title}
                  </Typography>
                  {list.map(([id, model]) => (
                    <ModelRow
                      key={id}
                      id={id}
                      model={model}
                      selected={id === current}
                      onChoose={() => setChosen(id)}
                      left={leftWords(topology, id, kit)}
                      onAdd={() => onAdd(id, fits ? number : 1)}
                      onCarry={() => onTake(id, true)}
                    />
                  ))}
                </Box>
              )
            );
          })}
        </Box>
      </DialogContent>
      <DialogActions>
        <Typography variant="body2" color="text.secondary" sx={{ flex: 1, pl: 1 }}>
          Drag a model onto the drawing, or place it by clicking.
        </Typography>
        <Button onClick={onClose}>Cancel</Button>
        <Button disabled={!current || left === 0} onClick={() => current && onTake(current, false)}>
          Place by clicking
        </Button>
        <Button variant="contained" disabled={!current || !enough} onClick={add}>
          Add {fits && number > 1 ? number : ''}
        </Button>
      </DialogActions>
    </>
  );
}

function ModelRow({
  id,
  model,
  selected,
  left,
  onChoose,
  onAdd,
  onCarry,
}: {
  id: string;
  model: Model;
  selected: boolean;
  /** How many the lab still allows; null for any number. */
  left: string | null;
  onChoose: () => void;
  onAdd: () => void;
  /** It is pulled out of the list. */
  onCarry: () => void;
}) {
  const pull = ({ clientX, clientY, button }: PointerEvent): void => {
    if (button !== 0) return;
    const stop = followPointer(
      (event) => {
        if (Math.hypot(event.clientX - clientX, event.clientY - clientY) < PULLED) return;
        stop();
        onCarry();
      },
      () => {},
    );
  };
  const Glyph = GLYPHS[model.kind];
  return (
    <Box
      id={`kit-${id}`}
      role="option"
      aria-selected={selected}
      ref={(node: HTMLElement | null) => {
        if (selected) node?.scrollIntoView({ block: 'nearest' });
      }}
      onClick={onChoose}
      onDoubleClick={onAdd}
      onPointerDown={pull}
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 1.5,
        px: 1,
        height: 34,
        borderRadius: '8px',
        cursor: 'pointer',
        touchAction: 'none',
        userSelect: 'none',
        background: selected ? 'var(--spruce-tint)' : undefined,
        '&:hover': { background: selected ? undefined : 'var(--sunk)' },
      }}
    >
      <Glyph size={20} stroke={1.6} aria-hidden />
      <span style={{ fontWeight: 650 }}>{model.name}</span>
      {left !== null && <span style={{ color: 'var(--ochre-text)', fontSize: 12 }}>{left}</span>}
      <span style={{ color: 'var(--ink2)', marginLeft: 'auto', fontSize: 12 }}>{portWords(model)}</span>
    </Box>
  );
}

/** What a model has to plug into, in a few words: "4 copper, 1 fibre, 3 bays". */
export function portWords(model: Model): string {
  const sorts = new Map<string, number>();
  for (const { connector } of model.ports) {
    const sort = connector.includes('fibre') ? 'fibre' : connector;
    if (sort !== 'console') sorts.set(sort, (sorts.get(sort) ?? 0) + 1);
  }
  const bays = Object.keys(model.bays ?? {}).length;
  return [...[...sorts].map(([sort, n]) => `${n} ${sort}`), ...(bays ? [plural(bays, 'bay')] : [])].join(', ');
}
