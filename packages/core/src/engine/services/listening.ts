import { type Instance, isProvider } from '../devices';

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
