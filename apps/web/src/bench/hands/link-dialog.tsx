import {
  Autocomplete,
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
import { byName } from '@sobrin/core';
import {
  type PortUse,
  MEDIUM_NAMES,
  fittingMedium,
  fittingReason,
  instancesOf,
  portUses,
  suggestLink,
} from '@sobrin/core/engine';
import { type Link, type LinkEnd, type Medium, type Topology, MEDIA } from '@sobrin/core/topology';
import { useMemo, useState } from 'react';
import { Choice } from '../../ui/fields';
import { speedWords } from '../../ui/speed-words';

export interface LinkChoice {
  a: string | null;
  b: string | null;
  /** The link that is plugged elsewhere, and its end that stays where it is. */
  replaces?: { id: string; kept: 'a' | 'b' };
}
type Chosen = Pick<Link, 'a' | 'b' | 'medium'>;

/** What can be plugged: devices, and the members of tiles one by one. */
interface Plug {
  id: string;
  label: string;
  end: Omit<LinkEnd, 'port'>;
}
const plugsOf = (topology: Topology): Plug[] =>
  [...instancesOf(topology).values()]
    .map((instance) => ({
      id: instance.id,
      label: instance.name,
      end: { device: instance.deviceId, ...(instance.member !== null && { member: instance.member }) },
    }))
    .sort((one, other) => byName(one.label, other.label));

/**
 * Links two devices: which ports, which medium. Where the lab helps, the next free ports that fit and the right medium
 * are chosen beforehand; otherwise all free ports and all media are there and nothing is chosen.
 */
export default function LinkDialog(props: LinkDialogProps) {
  return (
    <Dialog open onClose={props.onClose} maxWidth="sm" fullWidth>
      <LinkForm {...props} />
    </Dialog>
  );
}

interface LinkDialogProps {
  choice: LinkChoice;
  topology: Topology;
  /** Whether it says what fits. */
  helps: boolean;
  /** Whether what fits is chosen beforehand. */
  automatic: boolean;
  onClose: () => void;
  onLink: (link: Chosen, again: boolean) => void;
}

function LinkForm({ choice, topology: drawn, helps, automatic, onClose, onLink }: LinkDialogProps) {
  const { replaces } = choice;
  const before = replaces && drawn.links[replaces.id];
  const topology = useMemo(() => (replaces ? without(drawn, replaces.id) : drawn), [drawn, replaces]);
  const plugs = plugsOf(topology);
  const find = (device: string | null): Plug | null =>
    plugs.find((plug) => plug.end.device === device && !isFull(topology, plug)) ??
    plugs.find((plug) => plug.end.device === device) ??
    null;
  const [a, setA] = useState(() => find(choice.a));
  const [b, setB] = useState(() => find(choice.b));
  const [ports, setPorts] = useState<{ a: string; b: string }>({
    a: '',
    b: '',
    ...(before && replaces && { [replaces.kept]: before[replaces.kept].port }),
  });
  const [medium, setMedium] = useState<Medium | ''>(before?.medium ?? '');
  const suggestion = automatic && a && b ? suggestLink(topology, a.end, b.end) : null;
  const usesOf = (plug: Plug | null): PortUse[] =>
    plug
      ? portUses(topology, plug.end.device, plug.end.member).filter(
          (use) => use.facts.connector !== 'console' || !helps || medium === 'rollover',
        )
      : [];
  const firstFree = (plug: Plug | null): string => usesOf(plug).find((use) => use.free)?.facts.key ?? '';
  const portA = ports.a || (suggestion?.a.port ?? firstFree(a));
  const portB = ports.b || (suggestion?.b.port ?? firstFree(b));
  const chosenMedium =
    medium || (suggestion && portA === suggestion.a.port && portB === suggestion.b.port ? suggestion.medium : medium);
  // What fits the two ports comes first, with the reason, where the lab helps.
  const factsOf = (plug: Plug | null, port: string) => usesOf(plug).find((use) => use.facts.key === port)?.facts;
  const [first, second] = [factsOf(a, portA), factsOf(b, portB)];
  const fitting =
    helps && first && second ? { medium: fittingMedium(first, second), reason: fittingReason(first, second) } : null;
  const complete = a !== null && b !== null && portA !== '' && portB !== '' && chosenMedium !== '' && a.id !== b.id;
  const give = (again: boolean): void => {
    if (complete) onLink({ a: { ...a.end, port: portA }, b: { ...b.end, port: portB }, medium: chosenMedium }, again);
  };
  const end = (key: 'a' | 'b', plug: Plug | null, set: (plug: Plug | null) => void, port: string) => (
    <Box sx={{ flex: 1, minWidth: 0 }}>
      <Autocomplete
        options={plugs}
        value={plug}
        onChange={(_event, next) => {
          set(next);
          setPorts((now) => ({ ...now, [key]: '' }));
        }}
        getOptionKey={(plug) => plug.id}
        isOptionEqualToValue={(x, y) => x.id === y.id}
        renderInput={(params) => (
          <TextField
            {...params}
            label={key === 'a' ? 'From' : 'To'}
            autoFocus={key === (choice.a ? 'b' : 'a') && choice.b === null}
          />
        )}
        size="small"
      />
      <Typography component="div" variant="body2" color="text.secondary" sx={{ mt: 1, mb: 0.25 }}>
        Port
      </Typography>
      <Choice
        label={key === 'a' ? 'Port at the first end' : 'Port at the second end'}
        value={port}
        options={portOptions(usesOf(plug), plug, helps ? usesOf(key === 'a' ? b : a) : null)}
        onChange={(next) => setPorts((now) => ({ ...now, [key]: next }))}
        disabled={!plug}
      />
    </Box>
  );
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        give(false);
      }}
    >
      <DialogTitle sx={{ pb: 1 }}>{replaces ? 'Plug the link elsewhere' : 'Link two devices'}</DialogTitle>
      <DialogContent>
        <Stack direction="row" spacing={2} sx={{ pt: 1 }}>
          {end('a', a, setA, portA)}
          {end('b', b, setB, portB)}
        </Stack>
        <Typography component="div" variant="body2" color="text.secondary" sx={{ mt: 2, mb: 0.25 }}>
          Medium
        </Typography>
        <Choice
          label="Medium"
          value={chosenMedium}
          options={[{ value: '', text: 'choose the cable' }, ...mediumOptions(fitting)]}
          onChange={(next: Medium | '') => setMedium(next)}
        />
        <Typography variant="body2" color="text.secondary" sx={{ mt: 1.5, minHeight: 32 }}>
          {hint(a, b, helps, automatic, suggestion)}
        </Typography>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        {!replaces && (
          <Button disabled={!complete} onClick={() => give(true)}>
            Link and go on from {a?.label ?? 'here'}
          </Button>
        )}
        <Button type="submit" variant="contained" disabled={!complete}>
          {replaces ? 'Plug in' : 'Link'}
        </Button>
      </DialogActions>
    </form>
  );
}

function without(topology: Topology, id: string): Topology {
  const { [id]: _gone, ...links } = topology.links;
  return { ...topology, links };
}

const isFull = (topology: Topology, plug: Plug): boolean =>
  portUses(topology, plug.end.device, plug.end.member).every((use) => !use.free);

/** All media; the one that fits first where that is to be said. */
function mediumOptions(fitting: { medium: Medium | null; reason: string } | null): { value: Medium; text: string }[] {
  const all = MEDIA.map((value) => ({ value, text: MEDIUM_NAMES[value] }));
  if (!fitting?.medium) return all;
  const fits = { value: fitting.medium, text: `${MEDIUM_NAMES[fitting.medium]} · fits: ${fitting.reason}` };
  return [fits, ...all.filter((option) => option.value !== fitting.medium)];
}

/** Free ports; where the lab helps, those that fit a free port of the other device first. */
function portOptions(
  uses: readonly PortUse[],
  plug: Plug | null,
  others: readonly PortUse[] | null,
): { value: string; text: string; disabled?: boolean }[] {
  if (!plug) return [{ value: '', text: 'choose the device first' }];
  if (!uses.some((use) => use.free)) return [{ value: '', text: 'no port is free' }];
  const there = others?.filter((other) => other.free) ?? [];
  const fits = (use: PortUse): boolean =>
    !there.length || there.some((portUse) => fittingMedium(use.facts, portUse.facts) !== null);
  const free = uses.filter((use) => use.free);
  return [...free.filter(fits), ...free.filter((use) => !fits(use))].map((use) => {
    const { key, connector, speeds } = use.facts;
    const words = `${key} · ${connector}${speeds[0] ? `, ${speedWords(Math.max(...speeds))}` : ''}`;
    return { value: key, text: fits(use) ? words : `${words} · fits nothing there` };
  });
}

function hint(a: Plug | null, b: Plug | null, helps: boolean, automatic: boolean, suggestion: Chosen | null): string {
  if (!a || !b) return 'Choose the device at each end.';
  if (a.id === b.id) return 'A link joins two different devices.';
  if (!automatic) return 'Choose the ports and the medium yourself: all that are free are there.';
  if (!helps) return 'All free ports and all media are there: choose the ones that fit.';
  return suggestion
    ? `Fitting: ${a.label} ${suggestion.a.port} to ${b.label} ${suggestion.b.port}, ${MEDIUM_NAMES[suggestion.medium]}.`
    : 'No two free ports of these devices fit together: a module may be missing, or all ports are taken.';
}
