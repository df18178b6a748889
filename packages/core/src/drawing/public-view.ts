import { type Device, type Topology } from '../topology';

/**
 * A drawing with what can be seen of it and nothing else, for those who may look but are nobody the server knows:
 * without comments, settings (passwords among them), keys of wireless networks, fields, and where it came from. Pure.
 */
export function publicView({
  comments: _said,
  origin: _from,
  locked: _held,
  fields: _own,
  ...shown
}: Topology): Topology {
  return {
    ...shown,
    devices: Object.fromEntries(Object.entries(shown.devices).map(([id, device]) => [id, seenDevice(device)])),
    links: Object.fromEntries(Object.entries(shown.links).map(([id, { fields: _hidden, ...link }]) => [id, link])),
  };
}

function seenDevice({ settings, fields: _own, ports, interfaces, members, ...device }: Device): Device {
  return {
    ...device,
    // Interfaces lie on bundles: without them they would lie on nothing.
    ...(settings?.bundles && { settings: { bundles: settings.bundles } }),
    ...(ports && { ports: seenPorts(ports) }),
    ...(interfaces && { interfaces: seenInterfaces(interfaces) }),
    ...(members && {
      members: Object.fromEntries(
        Object.entries(members).map(([id, { name, interfaces: interfaces }]) => [
          id,
          { ...(name !== undefined && { name }), ...(interfaces && { interfaces: seenInterfaces(interfaces) }) },
        ]),
      ),
    }),
  };
}

/** Roles stay: they are what the lens of VLANs shows. */
const seenPorts = (ports: NonNullable<Device['ports']>): NonNullable<Device['ports']> =>
  Object.fromEntries(
    Object.entries(ports).map(([key, { enabled, label, role }]) => [
      key,
      {
        ...(enabled !== undefined && { enabled }),
        ...(label !== undefined && { label }),
        ...(role !== undefined && { role }),
      },
    ]),
  );

const seenInterfaces = (interfaces: NonNullable<Device['interfaces']>): NonNullable<Device['interfaces']> =>
  Object.fromEntries(
    Object.entries(interfaces).map(([key, { on, v4, v6 }]) => [
      key,
      {
        on,
        ...(v4?.addresses && { v4: { addresses: v4.addresses } }),
        ...(v6?.addresses && { v6: { addresses: v6.addresses } }),
      },
    ]),
  );
