import { readFileSync, readdirSync } from 'node:fs';
import path from 'node:path';
import { schemeWords } from '../plan';
import { entriesById } from '../records';
import { type LabFile } from './schema';

const folder = path.resolve(__dirname, '../../../../demo');
const labs = readdirSync(folder).map((slug): [string, LabFile] => [
  slug,
  JSON.parse(readFileSync(path.join(folder, slug, 'lab.json'), 'utf8')) as LabFile,
]);

/** What a student's page shows of a lab, as text. */
const readBy = ({ brief, tasks, title }: LabFile): string =>
  [
    title,
    JSON.stringify({ ...brief, schemes: undefined }),
    schemeWords(brief.schemes?.names ?? ''),
    ...tasks.map(({ text }) => text),
  ].join('\n');
/** All texts and numbers in a rule that are no words of the rule itself. */
function valuesIn(rule: unknown, key = ''): [key: string, value: string | number][] {
  if (typeof rule === 'string' || typeof rule === 'number') return [[key, rule]];
  if (Array.isArray(rule)) return rule.flatMap((item) => valuesIn(item, key));
  return rule === null || typeof rule !== 'object'
    ? []
    : Object.entries(rule).flatMap(([name, value]) => valuesIn(value, name));
}
const requirements = ({ spec }: LabFile) => spec.sections.flatMap((section) => section.requirements);

describe.each(labs)('%s can be solved from what its students read', (_slug, lab) => {
  const text = readBy(lab);
  test('every block and every number that is asked for stands there', () => {
    const missing = requirements(lab)
      .flatMap(({ id, rule }) => valuesIn(rule).map(([key, value]) => ({ id, key, value })))
      .filter(({ key, value }) => key === 'block' || key === 'mbps' || (key === 'n' && Number(value) > 12))
      .filter(({ value }) => !text.includes(String(value)));
    expect(missing).toEqual([]);
  });
  test('what is asked beyond the network itself is said: a title, names of hosts, labels of ports', () => {
    const kinds = new Set(
      requirements(lab).flatMap(({ rule }) =>
        valuesIn(rule)
          .filter(([key]) => key === 'kind')
          .map(([, kind]) => kind),
      ),
    );
    for (const [kind, words] of [
      ['titled', /a title/],
      ['hostnameIsName', /hostname/],
      ['portsLabelled', /label the ports/i],
      ['duplexAgrees', /duplex/],
    ] as const)
      if (kinds.has(kind)) expect(text).toMatch(words);
  });
  test('no placeholder is shown as it is stored', () => expect(text).not.toMatch(/\{\w+\}/));
  test('each kind of device that a drawing is compared with is named where it stands', () => {
    if (!requirements(lab).some(({ rule }) => rule.kind === 'rightKind')) return;
    const kindWords: Record<string, RegExp> = {
      desktop: /desktop/,
      laptop: /laptop/,
      printer: /printer/,
      server: /server/,
      turnstile: /turnstile/,
      till: /till/,
      camera: /camera/,
      controller: /controller/,
      sensor: /sensor/,
      'provider-cloud': /provider cloud/,
      'border-router': /border router/,
      'modular-router': /modular/,
    };
    const models = new Set(entriesById(lab.reference.devices).map(([, { model }]) => model));
    const unnamed = [...models].filter(
      (model) => kindWords[model] && !kindWords[model].test(lab.tasks.map((task) => task.text).join('\n')),
    );
    expect(unnamed).toEqual([]);
  });
});
