import { formatPrefix, subnetOf } from '../../address';
import { type Instance, type NetworkModel, instanceId } from '../../engine';
import { type DeviceKind, type Medium, entryOf } from '../../topology';
import { type Rule } from '../combining';
import { type CheckContext } from '../rule';
import { ALL_GROUPS } from '../rules';
import { type Groups, type HostGroup, isOutside, prefixesOf } from './groups';
import { type DraftedLab } from './planted';
import { uses } from './uses';
import { type Candidate, type From, basic, of } from './candidate';

/** Kinds of devices that are counted and cabled together. */
const SORTS: readonly (readonly [kind: DeviceKind, title: string])[] = [
  ['router', 'the routers'],
  ['firewall', 'the firewalls'],
  ['l3-switch', 'the layer-3 switches'],
  ['switch', 'the switches'],
  ['access-point', 'the access points'],
  ['server', 'the servers'],
];
/** Sorts of the list of problems. */
const PROBLEMS = [
  'links',
  'duplex',
  'power',
  'names',
  'addresses',
  'gateways',
  'vlans',
  'loops',
  'routes',
  'leases',
  'security',
  'public',
  'phones',
  'settings',
  'slow',
];
const MOST_PARTS = 16;
/** Twisted pairs, and how many metres a segment of them may have (IEEE 802.3 clause 40, ISO/IEC 11801-1). */
const COPPER: ReadonlySet<Medium> = new Set(['straight', 'crossover']);
const MOST_COPPER = 100;

/** All of several rules in one sentence; the one itself where there is but one; nothing for none or too many. */
const together = (rules: readonly Rule[]): Rule[] =>
  rules.length === 1
    ? [rules[0]!]
    : rules.length && rules.length <= MOST_PARTS
      ? [{ kind: 'allOf', rules: [...rules] }]
      : [];

/** What reference, brief and plan of a lab might ask for, in the order in which a spec is read. */
export function candidatesOf(
  lab: DraftedLab,
  reference: NetworkModel,
  context: CheckContext,
  groups: Groups,
  hosts: readonly HostGroup[],
  /** Whether the reference fulfils a rule: what is put together is, part by part. */
  holds: (rule: Rule) => boolean,
): Candidate[] {
  const inside = [...reference.instances.values()].filter(({ device }) => !isOutside(device.site, lab.reference));
  const ofKind = (kind: DeviceKind): Instance[] => inside.filter(({ model }) => model.kind === kind);
  const sorts = SORTS.flatMap(([kind, title]) => {
    const members = ofKind(kind);
    const ref = groups.of(members, title);
    return ref === null ? [] : [{ kind, ref, members }];
  });
  const all = (rules: readonly Rule[]): Rule[] => together(rules.filter(holds));
  const from = { lab, reference, context, groups, hosts, inside, sorts, all, holds };
  return [
    ...components(from),
    ...cabling(from),
    ...addressing(from),
    ...connectivity(from),
    ...operation(from),
    ...uses(from),
    ...planning(from),
    ...documentation(from),
  ];
}

function components({ lab, groups, inside, sorts, all }: From): Candidate[] {
  const sites = Object.entries(lab.reference.sites).filter(([, { kind }]) => kind !== 'provider');
  const placed = (chosen: (instance: Instance) => boolean, title: (site: string) => string): Rule[] =>
    sites.flatMap(([site, { name }]) => {
      const who = groups.of(
        inside.filter((each) => each.device.site === site && chosen(each)),
        title(name),
      );
      return who === null ? [] : [{ kind: 'atSite', who, site }];
    });
  return [
    basic({ kind: 'rightKind', who: '@all' }),
    ...sorts
      .filter(({ kind }) => kind !== 'server')
      .map(({ kind, members }) =>
        of({ kind: 'deviceCount', what: kind, op: 'exactly', n: members.length, site: 'anywhere' }),
      ),
    ...(sites.length > 1
      ? [
          ...all(
            placed(
              ({ model }) => model.class !== 'end',
              (name) => `the network devices of ${name}`,
            ),
          ),
          ...all(
            placed(
              ({ model }) => model.class === 'end',
              (name) => `the hosts of ${name}`,
            ),
          ),
        ].map((rule) => of(rule))
      : []),
    of({ kind: 'namesUnique', who: '@all' }),
    of({ kind: 'hostnameIsName', who: '@network' }),
    of({ kind: 'connected', who: '@all' }),
    of({ kind: 'powered', who: '@all' }),
    ...(lab.policy.kit ? [of({ kind: 'kitOnly' }, 'the lab has a kit')] : []),
    ...(Object.keys(lab.starter?.devices ?? {}).length ? [of({ kind: 'starterKept' }, 'the lab has a starter')] : []),
  ];
}

function cabling({ lab, reference, sorts, inside }: From): Candidate[] {
  const hosts = { ref: '@hosts', members: inside.filter(({ model }) => model.class === 'end') };
  const ends = [...sorts.filter(({ kind }) => kind !== 'server'), hosts];
  const between = ends.flatMap((a, at) =>
    ends.slice(at).flatMap((b) => {
      const [mine, theirs] = [a, b].map(({ members }) => new Set(members.map(({ id }) => id)));
      const links = Object.entries(lab.reference.links).filter(([, link]) => {
        const [one, other] = [instanceId(link.a), instanceId(link.b)];
        return (mine!.has(one) && theirs!.has(other)) || (mine!.has(other) && theirs!.has(one));
      });
      return links.length ? [{ a: a.ref, b: b.ref, links }] : [];
    }),
  );
  return [
    ...between.map(({ a, b }) => basic({ kind: 'linked', a, b })),
    ...between.map(({ a, b, links }) =>
      of({ kind: 'medium', a, b, media: [...new Set<Medium>(links.map(([, { medium }]) => medium))] }),
    ),
    ...between.flatMap(({ a, b, links }) => {
      const least = Math.min(...links.flatMap(([id]) => reference.layer1.links.get(id)?.speedMbps ?? []));
      return !Number.isFinite(least) || least <= 0 ? [] : [of({ kind: 'speed', a, b, mbps: least })];
    }),
    ...between.flatMap(({ a, b, links }) => {
      const pairs = new Map<string, number>();
      for (const [, link] of links) {
        const pair = [instanceId(link.a), instanceId(link.b)].sort().join(' – ');
        pairs.set(pair, (pairs.get(pair) ?? 0) + 1);
      }
      const n = Math.min(...pairs.values());
      return n > 1 ? [of({ kind: 'parallel', a, b, n })] : [];
    }),
    ...between.flatMap(({ a, b, links }) =>
      links.every(([, { medium, lengthM }]) => lengthM !== undefined && COPPER.has(medium))
        ? [of({ kind: 'cableLength', a, b, most: MOST_COPPER })]
        : [],
    ),
    of({ kind: 'linksUp', who: '@all' }),
    of({ kind: 'duplexAgrees', who: '@network' }),
    of({ kind: 'portsLabelled', who: '@network' }),
    of({ kind: 'labelAgrees', who: '@network' }),
    of({ kind: 'cableIds', who: '@network' }),
  ];
}

function addressing({ lab, reference, context, hosts, sorts, inside, all }: From): Candidate[] {
  const { brief, plan } = lab;
  const routers = sorts.find(({ kind }) => kind === 'router' || kind === 'firewall' || kind === 'l3-switch')?.ref;
  const blocks = Object.values(plan.blocks).flatMap(({ prefix, prefix6 }) => prefixesOf(prefix, prefix6));
  // The widest blocks of the plan, one of each family.
  const roots = ([4, 6] as const).flatMap((of) =>
    blocks
      .filter((block) => block.family === of)
      .sort((a, b) => a.length - b.length)
      .slice(0, 1),
  );
  const four = roots.find((block) => block.family === 4);
  const inSubnet = new Set(
    inside.flatMap((each) =>
      ([4, 6] as const).flatMap((of) => context.addresses(each, of).map((on) => formatPrefix(subnetOf(on)))),
    ),
  );
  return [
    ...all(hosts.map(({ ref }) => ({ kind: 'oneSubnet', who: ref }))).map(basic),
    ...(four
      ? all(
          hosts.flatMap(({ ref, later }) =>
            later === null ? [] : [{ kind: 'roomFor', who: ref, n: later, block: formatPrefix(four) }],
          ),
        ).map((rule) => of(rule, 'the brief counts how many there will be'))
      : []),
    ...(hosts.length > 1 ? [of({ kind: 'noOverlap', groups: hosts.map(({ ref }) => ref) })] : []),
    ...roots.map((block) =>
      of({ kind: 'inBlock', who: '@hosts', block: formatPrefix(block) }, 'it is the block of the plan'),
    ),
    ...(brief.outside ?? []).map((block) =>
      of({ kind: 'outsideBlock', who: '@hosts', block }, `the brief keeps ${block} outside`),
    ),
    of(
      { kind: 'private', who: '@hosts' },
      brief.rules?.privateOnly ? 'the brief allows private addresses only' : undefined,
    ),
    of({ kind: 'uniqueAddresses', who: '@all' }),
    of({ kind: 'usable', who: '@all' }),
    of({ kind: 'masksAgree', who: '@all' }),
    ...(routers === undefined ? [] : [of({ kind: 'gateway', who: '@hosts', router: routers })]),
    ...(routers === undefined
      ? []
      : all(hosts.map(({ ref }) => ({ kind: 'firstUsable', router: routers, who: ref }))).map((rule) =>
          of(rule, brief.schemes?.gateway === 'first' ? 'the brief gives routers the first address' : undefined),
        )),
    ...([...inSubnet].some((text) => text.includes(':'))
      ? [of({ kind: 'familyPresent', who: '@hosts', family: '6' })]
      : []),
    of({ kind: 'gatewayIs', who: '@hosts', address: 'link-local' }),
    ...(reference.instances.size
      ? [of({ kind: 'networkCount', what: 'subnets', op: 'exactly', n: inSubnet.size })]
      : []),
  ];
}

function connectivity({ lab, reference, hosts, inside, sorts, all, holds }: From): Candidate[] {
  const separations = lab.brief.separations ?? [];
  const idOf = (group: HostGroup): string | undefined => lab.brief.groups?.find(({ name }) => name === group.name)?.id;
  /** Whether a separation of the brief is about two groups: by their ids, or in words that name one of them. */
  const isAbout = ({ who, from, text }: (typeof separations)[number], a: HostGroup, b: HostGroup): boolean =>
    (who !== undefined && who === idOf(a) && [undefined, '@inside', '@others', idOf(b)].includes(from)) ||
    (text !== undefined && [a, b].some(({ name }) => names(text, name)));
  const pairs = hosts.flatMap((a) => hosts.flatMap((b) => (a === b ? [] : [[a, b] as const])));
  const outside = [...reference.instances.values()].filter(
    ({ device, model }) => isOutside(device.site, lab.reference) && model.class === 'end',
  );
  const routers = sorts.find(({ kind }) => kind === 'router')?.ref;
  return [
    of({ kind: 'reachesGateway', who: '@hosts' }),
    of({ kind: 'within', who: '@hosts' }),
    // Where all reach all, who reaches whom goes without saying.
    ...(holds({ kind: 'within', who: '@hosts' })
      ? []
      : [
          ...hosts.filter(({ roles }) => roles.length > 1).map(({ ref }) => of({ kind: 'within', who: ref })),
          ...pairs.map(([a, b]) => of({ kind: 'reach', from: a.ref, to: b.ref })),
        ]),
    // Each separation of the brief in a sentence of who may and one of who may not, of those that no earlier one is about.
    ...separations.flatMap((separation, at) =>
      ['reach', 'apart'].flatMap((kind) =>
        all(
          pairs
            .filter(
              ([a, b]) =>
                isAbout(separation, a, b) && !separations.slice(0, at).some((earlier) => isAbout(earlier, a, b)),
            )
            .map(([a, b]) => ({ kind, from: a.ref, to: b.ref })),
        ).map((rule) => of(rule, `the brief says: ${separation.text ?? 'who is kept apart'}`)),
      ),
    ),
    ...pairs
      .filter(([a, b]) => !separations.some((separation) => isAbout(separation, a, b)))
      .map(([a, b]) => of({ kind: 'apart', from: a.ref, to: b.ref })),
    ...outside
      .slice(0, 4)
      .flatMap(({ id }) => [
        of({ kind: 'reach', from: '@hosts', to: id }),
        ...hosts.map(({ ref, needs, name }) =>
          of(
            { kind: 'reach', from: ref, to: id },
            needs.includes('internet') ? `the brief: ${name} need the internet` : undefined,
          ),
        ),
        ...all(hosts.map(({ ref }) => ({ kind: 'translated', from: ref, to: id }))).map((rule) => of(rule)),
      ]),
    ...(routers !== undefined &&
    inside.length > 4 &&
    /\bfail|\bredundan|\bstands? by|\bspare/i.test(JSON.stringify([lab.brief, lab.tasks]))
      ? [
          of(
            { kind: 'survives', from: '@hosts', to: '@hosts', what: 'link', of: routers },
            'the brief speaks of what fails',
          ),
        ]
      : []),
  ];
}
/** Whether a text names a group, by a word of its name. */
const names = (text: string, name: string): boolean =>
  name
    .split(/[^\p{L}\p{N}]+/u)
    .some((word) => word.length > 3 && new RegExp(`(?<![\\p{L}])${word.slice(0, -1)}`, 'iu').test(text));

function operation({ context, hosts, sorts, inside, all }: From): Candidate[] {
  const refOf = (...kinds: DeviceKind[]): string | undefined => sorts.find(({ kind }) => kinds.includes(kind))?.ref;
  const [switches, routers] = [refOf('switch', 'l3-switch'), refOf('router', 'l3-switch', 'firewall')];
  const used = [...new Set(inside.flatMap(({ settings }) => Object.keys(settings.vlans ?? {}).map(Number)))]
    .filter((vlan) => vlan > 1)
    .sort((a, b) => a - b);
  const on = (vlan: number): { who: string; vlan: number }[] =>
    switches === undefined ? [] : [{ who: switches, vlan }];
  /** The one VLAN in which a group's ports are. */
  const vlanOf = (group: HostGroup): number | undefined =>
    used.find((vlan) => group.roles.every((role) => reachesVlan(context, role, vlan)));
  return [
    ...all(used.flatMap(on).map((rest) => ({ kind: 'vlanExists', ...rest }))).map((rule) => of(rule)),
    ...all(
      hosts.flatMap((group) => {
        const vlan = vlanOf(group);
        return vlan === undefined ? [] : [{ kind: 'portVlan', who: group.ref, vlan }];
      }),
    ).map((rule) => of(rule)),
    of({ kind: 'ownVlan', who: '@hosts' }),
    ...(switches !== undefined && used.length
      ? [switches, ...(routers === undefined ? [] : [routers])].flatMap((other) => [
          of({ kind: 'trunk', a: switches, b: other, vlans: used.join(', ') }),
          of({ kind: 'nativeVlan', a: switches, b: other }),
        ])
      : []),
    ...(switches === undefined
      ? []
      : [
          of({ kind: 'bundle', a: switches, b: switches }),
          of({ kind: 'unusedOff', who: switches }),
          of({ kind: 'hostPorts', who: '@hosts', what: 'edge' }),
          of({ kind: 'hostPorts', who: '@hosts', what: 'bpduGuard' }),
        ]),
    ...sorts
      .filter(({ kind }) => kind === 'switch' || kind === 'l3-switch')
      .flatMap(({ members }) => members.map(({ id }) => of({ kind: 'treeRoot', who: id }))),
    ...(routers === undefined
      ? []
      : [
          of({ kind: 'adjacency', a: routers, b: routers }),
          of({ kind: 'routerId', who: routers }),
          of({ kind: 'quietToHosts', who: routers }),
          of({ kind: 'route', who: routers, to: '0.0.0.0/0' }),
          of({ kind: 'virtualGateway', who: '@hosts', routers }),
          ...(['sub', 'svi', 'bundle', 'loopback', 'tunnel'] as const).map((on) =>
            of({ kind: 'interfaceKind', who: routers, on }),
          ),
        ]),
    ...all(hosts.map(({ ref }) => ({ kind: 'lease', who: ref }))).map((rule) => of(rule)),
    ...hosts.flatMap(({ ref, later, name }) =>
      later === null
        ? []
        : [of({ kind: 'poolCovers', who: ref, n: later }, `the brief counts ${later} of ${name} later`)],
    ),
    of({ kind: 'outsidePools', who: '@network' }),
    of({ kind: 'remote', who: '@network', by: 'ssh', state: 'on' }),
    of({ kind: 'remote', who: '@network', by: 'telnet', state: 'off' }),
    ...PROBLEMS.map((what) => of({ kind: 'noProblems', what: [what] })),
  ];
}
/** Whether a host hangs on a port that is in a VLAN and no other. */
function reachesVlan({ reference }: CheckContext, role: string, vlan: number): boolean {
  const own = Object.values(reference.topology.links).flatMap(({ a, b }) =>
    instanceId(a) === role ? [b] : instanceId(b) === role ? [a] : [],
  );
  return own.some((end) => {
    const vlans = reference.layer2.vlansAt(instanceId(end), end.port);
    return vlans.length === 1 && vlans[0] === vlan;
  });
}

function planning({ lab }: From): Candidate[] {
  const blocks = Object.values(lab.plan.blocks);
  if (!blocks.length || !lab.brief.groups?.length) return [];
  const roots = blocks.flatMap(({ prefix, prefix6 }) => prefixesOf(prefix, prefix6));
  const widest = ([4, 6] as const).flatMap((family) =>
    roots
      .filter((block) => block.family === family)
      .sort((a, b) => a.length - b.length)
      .slice(0, 1),
  );
  return [
    of({ kind: 'planRoom', group: ALL_GROUPS }),
    of({ kind: 'planSmallest', group: ALL_GROUPS, bits: 1 }),
    ...widest.map((block) => of({ kind: 'planInside', group: ALL_GROUPS, block: formatPrefix(block) })),
    of({ kind: 'planFamily6', group: ALL_GROUPS }),
    of({ kind: 'planVlans', group: ALL_GROUPS }),
    of({ kind: 'planSites' }),
    ...['overlaps', 'nesting', 'provider', 'private', 'gateways', 'addresses'].map((what) =>
      of({ kind: 'planSound', what }),
    ),
    of({ kind: 'planDrawn' }),
  ];
}

function documentation({ lab, groups, inside, hosts }: From): Candidate[] {
  const anchored = new Set(
    Object.values(lab.reference.notes ?? {}).flatMap(({ anchor }) => (anchor?.kind === 'device' ? anchor.id : [])),
  );
  const noted = groups.of(
    inside.filter(({ deviceId }) => anchored.has(deviceId)),
    'what has a note',
  );
  return [
    ...(entryOf({ ...lab.reference }, 'title') === undefined ? [] : [of({ kind: 'titled' })]),
    ...(noted === null ? [] : [of({ kind: 'noted', who: noted })]),
    ...(hosts.length ? [of({ kind: 'tableStands', groups: hosts.map(({ ref }) => ref) })] : []),
    of({ kind: 'linksNamed', a: '@network', b: '@network' }),
    of({ kind: 'legible', who: '@all' }),
  ];
}
