import { Kind, type TSchema } from '@sinclair/typebox';
import fc from 'fast-check';
import { applyEdits } from '../changes';
import { Topology, invariantProblems, modelOf, portsOf } from '../topology';

/** Texts that formats stumble over: quotes, separators, line ends, signs that formulas begin with, letters of every length. */
const AWKWARD = fc.constantFrom(
  '',
  "'",
  '"',
  ',',
  ';',
  '\n',
  '\r\n',
  '\t',
  ' a ',
  '=1+1',
  '-2',
  '@x',
  '# no',
  ': ',
  'ž',
  '👩‍💻',
  '<&>',
  'null',
  '007',
  'true',
  '{}',
  '|',
  '- x',
);
const text = (most: number): fc.Arbitrary<string> =>
  fc
    .oneof(
      fc.string({ maxLength: 8 }),
      AWKWARD,
      fc.array(AWKWARD, { maxLength: 3 }).map((parts) => parts.join('')),
    )
    .map((text) => text.slice(0, most))
    // A half of a pair of code units is no text, and no file holds it.
    .filter((text) => !/\p{Surrogate}/u.test(text));

/** Random values of a schema. */
export function arbitraryOf(schema: TSchema): fc.Arbitrary<unknown> {
  const facts = schema as TSchema & Record<string, unknown>;
  if (Array.isArray(facts.enum)) return fc.constantFrom(...(facts.enum as string[]));
  if (facts.const !== undefined) return fc.constant(facts.const);
  if (Array.isArray(facts.anyOf)) return fc.oneof(...(facts.anyOf as TSchema[]).map(arbitraryOf));
  switch (schema[Kind]) {
    case 'String':
      return typeof facts.pattern === 'string'
        ? fc.stringMatching(new RegExp(facts.pattern, 'u')).filter((text) => text.length <= 60)
        : text((facts.maxLength as number | undefined) ?? 20);
    case 'Integer':
      return fc.integer({ min: facts.minimum as number, max: facts.maximum as number });
    case 'Number':
      return fc
        .double({
          min: (facts.minimum ?? facts.exclusiveMinimum ?? -1e6) as number,
          max: (facts.maximum ?? 1e6) as number,
          minExcluded: facts.exclusiveMinimum !== undefined,
          noNaN: true,
        })
        .map((number) => (Object.is(number, -0) ? 0 : number));
    case 'Boolean':
      return fc.boolean();
    case 'Array':
      return fc.array(arbitraryOf(facts.items as TSchema), { maxLength: 3 });
    case 'Record': {
      const [[pattern, value]] = Object.entries(facts.patternProperties as Record<string, TSchema>) as [
        [string, TSchema],
      ];
      const key = fc.stringMatching(new RegExp(pattern, 'u')).filter((text) => text.length <= 12);
      return fc.dictionary(key, arbitraryOf(value), { maxKeys: 3, noNullPrototype: true });
    }
    case 'Object': {
      const properties = facts.properties as Record<string, TSchema>;
      const required = (facts.required as string[] | undefined) ?? [];
      return fc.record(
        Object.fromEntries(Object.entries(properties).map(([key, property]) => [key, arbitraryOf(property)])),
        {
          requiredKeys: required,
          noNullPrototype: true,
        },
      );
    }
    default:
      throw new Error(`No random values for ${String(schema[Kind])}.`);
  }
}

/** Random drawings that hold together: what random values point at in vain is taken away, and links get real ends. */
export const drawings = (arbitraryOf(Topology) as fc.Arbitrary<Topology>).map((random) => {
  let topology = applyEdits(random, [
    ...Object.entries(random.devices).map(([id, device], at) => ({
      path: ['devices', id, 'model'],
      // A model that nobody knows, or that has no port to plug anything into, is another one.
      value: modelOf(random, device) && portsOf(random, device).length ? device.model : MODELS[at % MODELS.length],
    })),
  ]).document;
  const ids = Object.keys(topology.devices);
  const used = new Map<string, number>();
  const end = (at: number) => {
    const device = ids[at % ids.length]!;
    const ports = portsOf(topology, topology.devices[device]!);
    const next = used.get(device) ?? 0;
    used.set(device, next + 1);
    return { device, port: ports[next % ports.length]!.key };
  };
  if (ids.length > 1)
    topology = {
      ...topology,
      links: Object.fromEntries(
        Object.entries(topology.links).map(([id, link], at) => [id, { ...link, a: end(at), b: end(at + 1) }]),
      ),
    };
  for (let turn = 0; turn < 100; turn++) {
    const [problem] = invariantProblems(topology);
    if (!problem) return topology;
    const path = problem.place.split(' › ');
    // Of a link, note or comment the whole goes, of other things the part that does not fit.
    const at = path.indexOf('interfaces');
    const depth = WHOLE.has(path[0]!) ? 2 : at > 0 ? at + 2 : path.length;
    // A model of the drawing's own may be among what went.
    const isModel = path[0] === 'devices' && path[2] === 'model';
    topology = applyEdits(topology, [{ path: path.slice(0, depth), ...(isModel && { value: MODELS[0] }) }]).document;
  }
  throw new Error(invariantProblems(topology)[0]!.text);
});
const WHOLE = new Set(['links', 'notes', 'comments', 'models']);
const MODELS = ['desktop', 'modular-router', 'access-switch-12', 'access-point', 'segment'];
