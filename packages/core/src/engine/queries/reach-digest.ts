import { type NetworkModel } from '../analysis';
import { type Probe, ECHO } from '../forwarding';
import { gridOf } from './grid';

/** More kinds of packets than these are not asked for. */
const MOST_PROBES = 24;

/**
 * Who reaches whom, as a text that is equal for drawings of the same devices that behave alike: in both families, by echo
 * and by every port that a filter, a translation or a service of the drawing names.
 *
 * @param probes the packets that are asked for, where two drawings are compared: those of both
 */
export function reachDigest(model: NetworkModel, probes: readonly Probe[] = probesOf(model)): string {
  const lines: string[] = [];
  for (const family of [4, 6] as const)
    for (const probe of probes) {
      const { rows, yes, unsure } = gridOf(model, { by: 'device', family, probe });
      const order = rows.map(({ id }, at) => ({ id, at })).sort((a, b) => (a.id < b.id ? -1 : 1));
      for (const { id, at } of order) {
        const cells = order.flatMap((column) => {
          const cell = at * rows.length + column.at;
          return yes[cell] || unsure[cell] ? `${column.id}:${yes[cell]}:${unsure[cell]}` : [];
        });
        if (cells.length) lines.push(`${family} ${JSON.stringify(probe)} ${id} ${cells.join(' ')}`);
      }
    }
  return lines.join('\n');
}

/** An echo, and packets to every port that something of a drawing names, each once. */
export function probesOf({ instances }: Pick<NetworkModel, 'instances'>): Probe[] {
  const found = new Map<string, Probe>();
  const put = (protocol: 'tcp' | 'udp', port: number | undefined): void => {
    if (port !== undefined && found.size < MOST_PROBES) found.set(`${protocol} ${port}`, { protocol, port });
  };
  for (const { settings } of instances.values()) {
    for (const { rules } of Object.values(settings.filters ?? {}))
      for (const { proto, dstPorts, srcPorts } of rules)
        if (proto === 'tcp' || proto === 'udp') for (const ports of [dstPorts, srcPorts]) put(proto, ports?.from);
    for (const { proto, insidePort, outsidePort } of settings.nat ?? [])
      if (proto) for (const port of [insidePort, outsidePort]) put(proto, port);
    for (const { enabled, port } of Object.values(settings.services ?? {})) if (enabled) put('tcp', port);
  }
  return [ECHO, ...found.values()];
}
