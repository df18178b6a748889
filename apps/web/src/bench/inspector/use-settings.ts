import { type Device, type Settings, isEmpty } from '@sobrin/core/topology';
import { useBench } from '../use-bench';

type Changes = { [K in keyof Settings]?: Settings[K] | null | undefined };

/** The settings of a device and how they are changed: what is empty is not stored. */
export function useSettings(
  id: string,
  device: Device,
): { settings: Settings; set: (title: string, changes: Changes) => void } {
  const run = useBench((state) => state.do);
  return {
    settings: device.settings ?? {},
    set: (title, changes) => {
      const set = Object.fromEntries(
        Object.entries(changes).map(([key, value]) => [key, isEmpty(value) ? null : value]),
      );
      void run(title, { kind: 'setSettings', device: id, set: set });
    },
  };
}
