import {
  Box,
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  InputBase,
  Typography,
} from '@mui/material';
import { findModels } from '@sobrin/core/bench';
import { type Policy } from '@sobrin/core/spec';
import { type Topology, emptyTopology } from '@sobrin/core/topology';
import { useState } from 'react';
import { portWords } from '../bench/hands/kit-dialog';
import { GLYPHS } from '../drawing/glyphs';

type Limits = NonNullable<Policy['kit']>;

/** Which models a lab allows, and how many of each. */
export function KitLimits({
  open,
  kit,
  models,
  onClose,
  onSet,
}: {
  open: boolean;
  kit: Policy['kit'];
  /** Models of the lab's own. */
  models?: Topology['models'];
  onClose: () => void;
  onSet: (kit: Policy['kit']) => void;
}) {
  return (
    <Dialog open={open} onClose={onClose} maxWidth="sm" fullWidth>
      {open && <Form kit={kit} models={models} onClose={onClose} onSet={onSet} />}
    </Dialog>
  );
}

function Form({ kit, models, onClose, onSet }: Omit<Parameters<typeof KitLimits>[0], 'open'>) {
  const all = findModels({ ...emptyTopology(), ...(models && { models }) }, '');
  const [limits, setLimits] = useState<Limits>(kit ?? Object.fromEntries(all.map(([id]) => [id, {}])));
  const [search, setSearch] = useState('');
  const shown = findModels({ ...emptyTopology(), ...(models && { models }) }, search);
  const toggle = (id: string): void => {
    const { [id]: was, ...others } = limits;
    setLimits(was ? others : { ...limits, [id]: {} });
  };
  const set = (id: string, part: 'most' | 'cost', text: string): void => {
    if (text !== '' && !(part === 'most' ? /^\d{1,3}$/ : /^\d{1,7}$/).test(text)) return;
    const { [part]: _was, ...others } = limits[id] ?? {};
    setLimits({ ...limits, [id]: { ...others, ...(text !== '' && { [part]: Number(text) }) } });
  };
  const isAll = all.every(([id]) => limits[id] && Object.keys(limits[id]).length === 0);
  const none = Object.keys(limits).length === 0;
  return (
    <>
      <DialogTitle sx={{ pb: 1 }}>The kit of this lab</DialogTitle>
      <DialogContent sx={{ height: 460, display: 'flex', flexDirection: 'column' }}>
        <Typography variant="body2" color="text.secondary" sx={{ mb: 1 }}>
          Students can take the models that are ticked. Leave the number empty for as many as they like. Prices are for
          requirements about what the equipment costs.
        </Typography>
        <Box sx={{ display: 'flex', gap: 1, mb: 1 }}>
          <InputBase
            autoFocus
            value={search}
            placeholder="Search by name, kind or use"
            onChange={(event) => setSearch(event.target.value)}
            inputProps={{ 'aria-label': 'Search models' }}
            sx={{ flex: 1, border: '1px solid var(--line2)', borderRadius: '8px', px: 1.25, height: 34 }}
          />
          <Button size="small" onClick={() => setLimits(Object.fromEntries(all.map(([id]) => [id, {}])))}>
            Tick all
          </Button>
          <Button size="small" onClick={() => setLimits({})}>
            Tick none
          </Button>
        </Box>
        <Box sx={{ flex: 1, overflow: 'auto' }}>
          {shown.map(([id, model]) => {
            const Glyph = GLYPHS[model.kind];
            return (
              <Box key={id} sx={{ display: 'flex', alignItems: 'center', gap: 1, height: 34 }}>
                <Checkbox
                  size="small"
                  checked={limits[id] !== undefined}
                  onChange={() => toggle(id)}
                  slotProps={{ input: { 'aria-label': `${model.name} is in the kit` } }}
                />
                <Glyph size={18} stroke={1.6} aria-hidden />
                <span style={{ fontWeight: 650 }}>{model.name}</span>
                <span style={{ color: 'var(--ink2)', fontSize: 12, marginLeft: 'auto' }}>{portWords(model)}</span>
                {(['most', 'cost'] as const).map((part) => (
                  <InputBase
                    key={part}
                    value={limits[id]?.[part] ?? ''}
                    placeholder={part === 'most' ? 'any' : 'price'}
                    disabled={limits[id] === undefined}
                    onChange={(event) => set(id, part, event.target.value.trim())}
                    inputProps={{
                      'aria-label': part === 'most' ? `How many of ${model.name}` : `Price of ${model.name}`,
                      inputMode: 'numeric',
                    }}
                    className="mono"
                    sx={{
                      width: part === 'most' ? 56 : 72,
                      border: '1px solid var(--line)',
                      borderRadius: '6px',
                      px: 1,
                      height: 26,
                      fontSize: 12,
                    }}
                  />
                ))}
              </Box>
            );
          })}
        </Box>
        {none && (
          <Typography variant="body2" color="error" sx={{ mt: 1 }}>
            Tick at least one model: an empty kit builds nothing.
          </Typography>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button
          variant="contained"
          disabled={none}
          onClick={() => {
            onSet(isAll ? undefined : limits);
            onClose();
          }}
        >
          Set the kit
        </Button>
      </DialogActions>
    </>
  );
}
