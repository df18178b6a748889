import { MEDIUM_NAMES, instanceId, splitInstanceId } from '../../engine';
import { type Link, type LinkEnd, type PortFacts, entriesById } from '../../topology';
import { type Change, freshId } from './change';
import { type Translation } from './translation';

const turned = ({ a, b, ...rest }: Link): Link => ({ ...rest, a: b, b: a });

/** What the links of a drawing have otherwise: those that are there, those in the wrong place, missing, or too many. */
export function ofLinks(translation: Translation): Change[] {
  const { reference, drawn, links, players } = translation;
  const changes: Change[] = [];
  const paired = new Set(links.values());
  const name = (end: LinkEnd): string => `${drawn.instances.get(instanceId(end))?.name ?? end.device} ${end.port}`;
  const called = ({ a, b }: Link): string => `${name(a)} – ${name(b)}`;
  const base = (id: string, property: string) => ({
    thing: JSON.stringify(['links', id, property]),
    sort: `links ${property}`,
    source: 'reference' as const,
    fields: 1,
    opens: false,
    leftOut: false,
    isTold: property !== 'category',
    members: 1,
  });
  const playersOf = ({ a, b }: Link): readonly (string | undefined)[] =>
    [a, b].map((end) => players.get(instanceId(end)));
  const inDrawing = (asked: Link): Link | null => {
    const [one, other] = playersOf(asked);
    if (one === undefined || other === undefined) return null;
    const end = (from: LinkEnd, player: string): LinkEnd => ({
      ...splitInstanceId(player),
      port: translation.port(instanceId(from), from.port),
    });
    const { bends: _bends, label: _label, tint: _tint, ...rest } = asked;
    return { ...rest, a: end(asked.a, one), b: end(asked.b, other) };
  };
  for (const [id, asked] of entriesById(reference.topology.links)) {
    const own = links.get(id);
    if (own !== undefined) {
      const link = drawn.topology.links[own]!;
      for (const property of ['medium', 'lengthM', 'broken', 'category'] as const) {
        const [now, then] = [link[property], asked[property]];
        if (now === then) continue;
        changes.push({
          ...base(own, property),
          what: now === undefined ? 'missing' : then === undefined ? 'extra' : 'other',
          commands: [{ kind: 'setLink', id: own, set: { [property]: then ?? null } }],
          places: [{ link: own }],
          text:
            property === 'medium'
              ? `The link ${called(link)} is ${MEDIUM_NAMES[link.medium].toLowerCase()}, and should be ${MEDIUM_NAMES[asked.medium].toLowerCase()}.`
              : property === 'broken'
                ? `The cable ${called(link)} is broken.`
                : `The link ${called(link)}: its ${property === 'lengthM' ? 'length' : 'category'} should be ${String(then ?? 'not set')}${property === 'lengthM' && then !== undefined ? ' m' : ''}.`,
          at: `the link ${called(link)}`,
          field: property === 'lengthM' ? 'its length' : property === 'broken' ? '' : `its ${property}`,
          repair: [
            `${called(link)}: ${property === 'medium' ? MEDIUM_NAMES[asked.medium].toLowerCase() : property === 'broken' ? 'a whole cable' : String(then ?? 'not set')}`,
          ],
          alike: JSON.stringify(['link', property, now ?? null, then ?? null]),
        });
      }
      // In another port than the reference's, where that one is free.
      for (const [side, end, from] of endsOf(asked, link, players)) {
        if (end.port === from.port || end.member !== undefined) continue;
        const port = portFor(translation, end, from);
        if (port === null) continue;
        changes.push({
          ...base(own, side),
          what: 'other',
          commands: [{ kind: 'setLink', id: own, set: { [side]: { ...end, port } } }],
          places: [{ link: own, device: instanceId(end), port: end.port }],
          text: `The link ${called(link)} is in port ${end.port} of ${drawn.instances.get(instanceId(end))!.name}, and should be in ${port}.`,
          at: `the link ${called(link)}`,
          field: 'its ports',
          repair: [`${called(link)}: into ${port}`],
          alike: null,
        });
      }
      continue;
    }
    const wanted = inDrawing(asked);
    if (!wanted) continue;
    // A cable with one end right and the other at another device is in the wrong place, not missing.
    const astray = entriesById(drawn.topology.links).find(
      ([other, link]) =>
        !paired.has(other) &&
        [link.a, link.b].some((end) => [wanted.a, wanted.b].some((each) => instanceId(each) === instanceId(end))),
    );
    if (astray) {
      const [other, link] = astray;
      paired.add(other);
      const isTurned = instanceId(link.a) === instanceId(wanted.b) || instanceId(link.b) === instanceId(wanted.a);
      const right = isTurned ? turned(wanted) : wanted;
      changes.push({
        ...base(other, 'ends'),
        what: 'other',
        commands: [
          {
            kind: 'setLink',
            id: other,
            set: { a: right.a, b: right.b, ...(link.medium !== right.medium && { medium: right.medium }) },
          },
        ],
        places: [{ link: other }],
        text: `The link ${called(link)} should be ${called(right)}.`,
        at: `the link ${called(link)}`,
        field: 'its ends',
        repair: [`${called(right)} instead of ${called(link)}`],
        alike: null,
      });
      continue;
    }
    const fresh = freshId(drawn.topology.links, `repair-${id}`);
    changes.push({
      ...base(fresh, 'all'),
      what: 'missing',
      commands: [{ kind: 'connect', id: fresh, link: wanted }],
      places: [wanted.a, wanted.b].map((end) => ({ device: instanceId(end), port: end.port })),
      text: `The link ${called(wanted)} is missing.`,
      at: `the links between ${deviceName(translation, wanted.a)} and ${deviceName(translation, wanted.b)}`,
      field: '',
      repair: [`${called(wanted)} linked`],
      alike: null,
      leftOut: true,
    });
  }
  for (const [id, link] of entriesById(drawn.topology.links)) {
    const isPlayed = [link.a, link.b].every((end) => translation.roles.has(instanceId(end)));
    if (paired.has(id) || !isPlayed) continue;
    changes.push({
      ...base(id, 'all'),
      what: 'extra',
      commands: [{ kind: 'disconnect', ids: [id] }],
      places: [{ link: id }],
      text: `The link ${called(link)} should not be there.`,
      at: `the link ${called(link)}`,
      field: '',
      repair: [`${called(link)} removed`],
      alike: null,
    });
  }
  return changes;
}
const deviceName = ({ drawn }: Translation, end: LinkEnd): string =>
  drawn.instances.get(instanceId(end))?.name ?? end.device;
/** A free port in the place of one of the reference: that one itself, or one like it where the one in use is not. */
function portFor({ reference, drawn }: Translation, end: LinkEnd, from: LinkEnd): string | null {
  const own = drawn.instances.get(instanceId(end));
  const asked = reference.instances.get(instanceId(from))?.ports.get(from.port)?.facts;
  if (!own || !asked) return null;
  const taken = new Set(
    Object.values(drawn.topology.links).flatMap(({ a, b }) =>
      [a, b].flatMap((each) => (instanceId(each) === own.id ? each.port : [])),
    ),
  );
  if (own.ports.has(from.port) && !taken.has(from.port)) return from.port;
  const isLike = ({ connector, switched, poe, speeds }: PortFacts): boolean =>
    connector === asked.connector &&
    switched === asked.switched &&
    poe === asked.poe &&
    Math.max(...speeds) === Math.max(...asked.speeds);
  const now = own.ports.get(end.port)?.facts;
  if (now && isLike(now)) return null;
  return [...own.ports.values()].find(({ key, facts }) => !taken.has(key) && isLike(facts))?.key ?? null;
}

/** Both ends of a link of the drawing with those of the reference that they stand for. */
function endsOf(
  asked: Link,
  link: Link,
  players: ReadonlyMap<string, string>,
): (readonly ['a' | 'b', LinkEnd, LinkEnd])[] {
  const isTurned = players.get(instanceId(asked.a)) !== instanceId(link.a);
  return [
    ['a', link.a, isTurned ? asked.b : asked.a],
    ['b', link.b, isTurned ? asked.a : asked.b],
  ];
}
