import { type Instance, isProvider } from '../devices';
import { type Layers, type Outcome, type Probe, type Trace, outcomeOf } from '../forwarding';

/** Where services are expected if no port is set (IANA service names). */
const USUAL_PORTS: Readonly<Record<string, number>> = {
  web: 80,
  'secure-web': 443,
  dns: 53,
  mail: 25,
  files: 21,
  time: 123,
  calls: 5060,
};
const [SSH, TELNET] = [22, 23];
const OUTSIDE_PORTS: ReadonlySet<number> = new Set([53, 80, 443]);

/** Whether a device takes connections at a port: a service of it runs there, or it can be signed in to. */
export function listensAt(
  { instances }: { readonly instances: ReadonlyMap<string, Instance> },
  device: string,
  port: number,
): boolean {
  const instance = instances.get(device);
  const { services = {}, management = {}, dnsRecords } = instance?.settings ?? {};
  // What lies behind a provider: its names are told, and pages are there.
  if (instance && isProvider(instance.model) && dnsRecords?.length && OUTSIDE_PORTS.has(port)) return true;
  if ((port === SSH && management.ssh) || (port === TELNET && management.telnet)) return true;
  return Object.entries(services).some(
    ([name, service]) => service.enabled && (service.port ?? USUAL_PORTS[name]) === port,
  );
}

/** Whether something takes what a trace brought, where it ended and at the port that it had there: a forwarded one is another. */
export const isTaken = (model: Pick<Layers, 'instances'>, { request, packet }: Trace): boolean =>
  request.delivered !== null &&
  packet?.destinationPort !== undefined &&
  listensAt(model, request.delivered, packet.destinationPort);

/** How what was tried ends, as whoever tries sees it. Null where the trace is not certain. */
export const attemptOf = (model: Layers, found: Trace, probe: Probe): Outcome | null =>
  outcomeOf(model, found, probe, isTaken(model, found));
