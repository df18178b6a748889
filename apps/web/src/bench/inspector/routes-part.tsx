import { type Device, type StaticRoute } from '@sobrin/core/topology';
import { ListPart } from '../../ui/list-part';
import { addressProblem, prefixProblem } from './checks';
import { useSettings } from './use-settings';

/** Static routes: to an address, out of an interface, or nowhere. */
export function RoutesPart({ id, device }: { id: string; device: Device }) {
  const { settings, set } = useSettings(id, device);
  return (
    <ListPart<StaticRoute>
      title="Static routes"
      entryName="route"
      entries={settings.routes ?? []}
      blank={{ prefix: '' }}
      onStore={(routes) => set('change the routes', { routes })}
      columns={[
        {
          label: 'prefix',
          width: 'minmax(0, 1.15fr)',
          mono: true,
          check: prefixProblem,
          read: (route) => route.prefix,
          write: (route, prefix) => ({ ...route, prefix }),
        },
        {
          label: 'next hop',
          width: 'minmax(0, 1fr)',
          mono: true,
          check: (text) => (Object.keys(device.interfaces ?? {}).includes(text) ? null : addressProblem(text)),
          suggestions: Object.keys(device.interfaces ?? {}),
          read: (route) => route.via ?? route.interface ?? '',
          write: ({ via: _via, interface: _interface, ...route }, text) => ({
            ...route,
            ...(text && (Object.keys(device.interfaces ?? {}).includes(text) ? { interface: text } : { via: text })),
          }),
        },
      ]}
    />
  );
}
