import { isPrivate } from '../../../address';
import { type Instance, type NetworkModel, type Trace, forwards, splitInstanceId } from '../../../engine';
import { isOutside } from '../../outside';
import { type CheckContext, type Place } from '../../rule';

/** Where a fault is that others suffer from: what is not translated, and who gives no lease. */

/**
 * The device that lets a packet out under its private address, where whoever is outside has no way back to that (RFC 1918
 * §3, RFC 2827); null where the trace ended for another reason.
 */
export function untranslatedAt(context: CheckContext, trace: Trace): Place | null {
  const { reason, direction, source, request } = trace;
  if (direction !== 'reply' || reason?.code !== 'NO_ROUTE' || source?.family !== 4) return null;
  const stuck = context.student.instances.get(reason.at.device ?? '');
  if (!stuck || !isOutside(context.student, stuck) || !isPrivate(source)) return null;
  const hops = request.hops.map(({ device }) => context.student.instances.get(device));
  const first = hops.findIndex((instance) => instance && isOutside(context.student, instance));
  const border = first > 0 ? hops[first - 1] : undefined;
  const out = request.hops[first - 1]?.out;
  return border ? { ...splitInstanceId(border.id), ...(out && { port: out }) } : null;
}

const faults = new WeakMap<NetworkModel, Map<string, Place | null>>();

/**
 * Where it is that a host gets no lease: the server on its wire, the one that a relay there asks, else the router there that
 * asks nobody; null where it asks for none, or nobody could be to blame. Worked out once for all on a wire.
 */
export function leaseFault({ student }: CheckContext, instance: Instance, family: 4 | 6): Place | null {
  const point = (student.layer3.nodes.get(instance.id)?.interfaceStates ?? []).find(
    ({ config, point: at }) =>
      at !== null && (family === 4 ? config.v4?.dhcp === true : config.v6?.dhcp === 'stateful'),
  )?.point;
  if (point === undefined || point === null) return null;
  let known = faults.get(student);
  if (!known) faults.set(student, (known = new Map<string, Place | null>()));
  const key = `${student.layer2.domainOf(point)} ${family}`;
  let found = known.get(key);
  if (found === undefined) known.set(key, (found = faultAt(student, point, family)));
  return found;
}

function faultAt({ layer2, layer3, instances }: NetworkModel, point: number, family: 4 | 6): Place | null {
  const near = [...layer3.nodes.values()].flatMap((node) =>
    node.interfaceStates.flatMap((state) =>
      state.point !== null && layer2.meets(point, state.point) ? [{ node, state }] : [],
    ),
  );
  const server = near.find(
    ({ node: { instance } }) => (family === 4 ? instance.settings.dhcpPools : instance.settings.dhcp6Pools)?.length,
  );
  if (server) return splitInstanceId(server.node.instance.id);
  const router = near.find(({ node }) => forwards(node.instance, family));
  if (!router) return null;
  const asked = router.state.config.relays?.[0]?.trim();
  const there =
    asked === undefined
      ? undefined
      : [...instances.values()].find(({ interfaces }) =>
          interfaces.some(([, { v4, v6 }]) =>
            [...(v4?.addresses ?? []), ...(v6?.addresses ?? [])].some((text) => text.split('/')[0] === asked),
          ),
        );
  return there ? splitInstanceId(there.id) : { ...splitInstanceId(router.node.instance.id), port: router.state.key };
}
