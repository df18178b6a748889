import { formatPrefix, subnetOf } from '../address';
import { analyse, optionsOf } from '../engine';
import { emptyPlan } from '../plan';
import { type Rule } from './combining';
import { contextOf } from './context';
import { Corresponding } from './corresponding';
import { evaluate, share } from './evaluate';
import { type JudgingLab } from './judging';
import { type Slot } from './rule';
import { ANY_SITE, ruleKind } from './rules';

/** More facts are not looked at to find one. */
const MOST_JUDGED = 3000;
/** In larger networks trying would be felt: there the sentence is as it comes. */
const MOST_DEVICES = 300;
const MOST_CHOICES = 24;

/**
 * A first version of a rule for a lab, as it is offered: one that the lab's reference meets, where any of the likely ones
 * is; else as the kind comes. Throws for a kind that there is not. Pure.
 */
export function firstRule(kind: string, lab: JudgingLab): Rule {
  const { slots, fresh } = ruleKind(kind)!;
  const { reference, spec } = lab;
  const usual: Rule & Readonly<Record<string, unknown>> = { ...(fresh as Rule) };
  const devices = Object.keys(reference.devices);
  // No reference answers a question: the first task is as good as any.
  const [task] = lab.tasks ?? [];
  if (slots.task?.type === 'task') return task ? { ...usual, task: task.id } : usual;
  if (!devices.length || devices.length > MOST_DEVICES) return usual;
  const model = analyse(reference, optionsOf(lab.policy));
  const { context } = contextOf(lab, model, model, Corresponding.ownRoles(model), { plan: emptyPlan() });
  const refs = [...Object.keys(spec.groups), ...devices].slice(0, MOST_CHOICES);
  const subnets = new Set(
    [...model.instances.values()].flatMap((instance) =>
      ([4, 6] as const).flatMap((family) =>
        context.addresses(instance, family).map((on) => formatPrefix(subnetOf(on))),
      ),
    ),
  );
  const vlans = new Set(
    [...model.instances.values()].flatMap(({ settings, interfaces, ports }) => [
      ...Object.keys(settings.vlans ?? {}).map(Number),
      ...interfaces.flatMap(([, { on }]) => (on.kind === 'svi' || on.kind === 'sub' ? on.vlan : [])),
      ...[...ports.values()].flatMap(({ config: { role } }) =>
        role?.kind === 'switched' && role.accessVlan !== undefined ? role.accessVlan : [],
      ),
    ]),
  );
  const choices = (slot: Slot, now: unknown): unknown[] => {
    switch (slot.type) {
      case 'ref':
        return now === undefined ? [undefined] : ['@hosts', '@network', '@all', ...refs];
      case 'refs':
        return [Object.keys(spec.groups).slice(0, 2), devices.slice(0, 2)];
      case 'site':
        return [...Object.keys(reference.sites), ANY_SITE];
      case 'prefix':
        return [...subnets].slice(0, MOST_CHOICES);
      case 'number':
        return [...vlans, 1, 2, 3, 4, 0].filter((n) => n >= slot.min && n <= slot.max).slice(0, MOST_CHOICES);
      case 'choice':
        return now === undefined ? [undefined] : slot.options.map(({ value }) => value);
      case 'choices':
        return slot.options.map(({ value }) => [value]);
      case 'task':
        return (lab.tasks ?? []).map(({ id }) => id);
      case 'group':
      case 'text':
        return [now];
    }
  };
  const names = Object.keys(slots);
  // A site of the lab is more of a beginning than any site.
  const begins = slots.site?.type === 'site' && Object.keys(reference.sites).length && usual.kind !== 'deviceCount';
  const first: Rule = begins ? { ...usual, site: Object.keys(reference.sites)[0] } : usual;
  let left = MOST_JUDGED;
  /** Whether the reference meets it; each fact that is looked at is counted, so that the effort is the same on any machine. */
  const fits = (rule: Rule): boolean => {
    if (left <= 0) return false;
    const items = evaluate(rule, context);
    left -= COST[kind] ?? Math.max(1, items?.length ?? 0);
    return items !== null && share(items) === 1;
  };
  const withOne = (rule: Rule & Readonly<Record<string, unknown>>, name: string): Rule[] =>
    choices(slots[name]!, rule[name])
      .filter((value) => value !== undefined && value !== rule[name])
      .map((value) => ({ ...rule, [name]: value }));
  if (fits(first)) return first;
  // One word changed, then two: what is nearest to the usual sentence goes first.
  const once = names.flatMap((name) => withOne(first, name));
  for (const rule of once) if (fits(rule)) return rule;
  for (const [at, name] of names.entries())
    for (const rule of withOne(first, name))
      for (const other of names.slice(at + 1)) for (const twice of withOne(rule, other)) if (fits(twice)) return twice;
  return first;
}
/** What takes long for each fact that it comes to. */
const COST: Readonly<Record<string, number>> = { survives: 2000, probe: 300 };
