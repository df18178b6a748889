import { Box, Button, IconButton } from '@mui/material';
import { IconPlus, IconX } from '@tabler/icons-react';
import { type Device, type StaticRoute, parseAddress, parsePrefix } from '@sobrin/core';
import { useState } from 'react';
import { TextInput } from '../../ui/fields';
import { useBench } from '../use-bench';
import { Part } from '../../ui/sections';

const prefixProblem = (text: string): string | null => {
  const read = parsePrefix(text);
  return read.ok ? null : read.error.text;
};
const hopProblem = (text: string): string | null => {
  const read = parseAddress(text);
  return read.ok ? null : read.error.text;
};

/** Static routes as a list one types into; an empty line at the end takes the next one. */
export function RoutesPart({ id, device }: { id: string; device: Device }) {
  const run = useBench((state) => state.do);
  const [adding, setAdding] = useState(false);
  const routes = device.settings?.routes ?? [];
  const store = (next: StaticRoute[]): void =>
    void run('change the routes', { kind: 'setSettings', device: id, set: { routes: next.length ? next : null } });
  const set = (at: number, change: Partial<StaticRoute>): void => {
    const next = routes.map((one, index) => (index === at ? { ...one, ...change } : one));
    store(next.map((one) => (one.via === '' ? (({ via: _empty, ...rest }) => rest)(one) : one)));
  };
  return (
    <Part title="Static routes" aside={routes.length || 'none'}>
      {routes.map((route, at) => (
        <RouteRow
          key={at}
          nth={at + 1}
          route={route}
          onPrefix={(prefix) => (prefix ? set(at, { prefix }) : store(routes.filter((_one, index) => index !== at)))}
          onVia={(via) => set(at, { via })}
          onRemove={() => store(routes.filter((_one, index) => index !== at))}
        />
      ))}
      {adding ? (
        <RouteRow
          nth={routes.length + 1}
          route={{ prefix: '' }}
          autoFocus
          onPrefix={(prefix) => {
            setAdding(false);
            if (prefix) store([...routes, { prefix }]);
          }}
          onVia={() => undefined}
          onRemove={() => setAdding(false)}
        />
      ) : (
        <Button size="small" startIcon={<IconPlus size={14} />} onClick={() => setAdding(true)}>
          Add a route
        </Button>
      )}
    </Part>
  );
}

function RouteRow({
  nth,
  route,
  autoFocus,
  onPrefix,
  onVia,
  onRemove,
}: {
  nth: number;
  route: StaticRoute;
  autoFocus?: boolean;
  onPrefix: (text: string) => void;
  onVia: (text: string) => void;
  onRemove: () => void;
}) {
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1.15fr) minmax(0, 1fr) 24px', gap: '4px', mb: '4px' }}>
      <div>
        <TextInput
          label={`Route ${nth}: prefix`}
          mono
          placeholder="prefix"
          value={route.prefix}
          check={prefixProblem}
          maxLength={64}
          autoFocus={autoFocus ?? false}
          onCommit={onPrefix}
        />
      </div>
      <div>
        <TextInput
          label={`Route ${nth}: next hop`}
          mono
          placeholder="next hop"
          value={route.via ?? ''}
          check={hopProblem}
          maxLength={64}
          onCommit={onVia}
        />
      </div>
      <IconButton size="small" aria-label={`Remove route ${nth}`} onClick={onRemove} sx={{ p: 0, height: 28 }}>
        <IconX size={14} />
      </IconButton>
    </Box>
  );
}
