import { plural } from '../../plural';
import { freshNames, takenNames } from '../../editing';
import { type Topology, entriesById } from '../../topology';
import { findModels } from '../models';
import { type Completion, type FieldContext, why } from './completion';
import { nameOf } from './typed-names';

/**
 * "switch 20 x3 at Valley", "4 desktops", "switch 12 as SW-A", "router RT-A": words of a model, how many, where, and a name;
 * "site Valley Station": a site.
 */
export function adds(text: string, { topology, chosen, namingScheme }: FieldContext): Completion[] {
  const site = /^site\s+(.+)$/is.exec(text.trim())?.[1]?.trim().slice(0, 80);
  if (site) return [siteLine(topology, site, chosen.length)];
  const [, before, place] = /^(.*?)(?:\s+at(?:\s+(.*))?)?$/is.exec(text.trim())!;
  const [, unnamed, said] = /^(.*?)(?:\s+as\s+(.*))?$/is.exec(before!)!;
  const times = /(?:^|\s)(?:[x×]\s?(\d+)|(\d+)\s?[x×])(?=\s|$)/i.exec(unnamed!) ?? /^(\d+)\s+(?=\D)/.exec(unnamed!);
  const count = times ? Number(times[1] ?? times[2]) : 1;
  const all = (times ? unnamed!.replace(times[0], ' ') : unnamed!).trim();
  // A last word that no model knows is the name that the device is to have.
  const [, fewer, last] = /^(.*\S)\s+(\S+)$/s.exec(all) ?? [];
  const isName =
    said === undefined &&
    count === 1 &&
    last !== undefined &&
    !findModels(topology, all).length &&
    findModels(topology, fewer!).length > 0;
  const words = isName ? fewer! : all;
  const name = (isName ? last : said)?.trim();
  if (name && count > 1) return [why('One name is for one device', 'leave the name or the number out')];
  if (name && name.length > 80) return [why('The name is too long', 'at most 80 characters')];
  if (name && takenNames(topology).has(name)) return [why(`A device is called “${name}” already`)];
  if (!words) return [why('Say which model', 'for instance: add switch 20 x3 at Valley')];
  if (count < 1 || count > 200) return [why(`${count} devices at once`, 'from 1 to 200 can be added')];
  const models = findModels(topology, words);
  if (!models.length) return [why(`No model fits “${words}”`, 'try a kind, for instance switch')];
  const sites = entriesById(topology.sites).filter(
    ([, site]) => place !== undefined && site.name.toLowerCase().includes(place.trim().toLowerCase()),
  );
  if (place?.trim() && !sites.length) return [why(`There is no site “${place.trim()}”`, siteWords(topology))];
  const near = chosen[0] === undefined ? undefined : topology.devices[chosen[0]]?.site;
  const places = place === undefined ? [near] : sites.length ? sites.map(([id]) => id) : [near];
  return models.slice(0, 5).flatMap(([id, model]) =>
    places.slice(0, 3).map((site): Completion => {
      const where = site === undefined ? '' : topology.sites[site]!.name;
      const names = freshNames(topology, id, count, namingScheme, where);
      const named = name || (count === 1 ? names[0]! : `${names[0]} to ${names[count - 1]}`);
      return {
        id: `add ${id} ${site ?? ''}`,
        sign: 'add',
        text: `add ${count > 1 ? `${count} × ` : ''}${model.name}`,
        more: `${where ? `at ${where}, ` : ''}as ${named}`,
        fill: `add ${model.name}${count > 1 ? ` x${count}` : ''}${name ? ` as ${name}` : ''}${where && place !== undefined ? ` at ${where}` : ''}`,
        action: { do: 'add', model: id, count, site, ...(name && { name }) },
      };
    }),
  );
}

/** A new site, with what is chosen in it. */
function siteLine(topology: Topology, name: string, chosen: number): Completion {
  if (Object.values(topology.sites).some((site) => site.name === name)) return why(`There is a site “${name}” already`);
  return {
    id: `site ${name}`,
    sign: 'add',
    text: `add the site ${name}`,
    more: chosen ? `with ${plural(chosen, 'device')} that ${chosen === 1 ? 'is' : 'are'} chosen` : '',
    fill: `add site ${name}`,
    action: { do: 'addSite', name },
  };
}

const siteWords = (topology: Topology): string => {
  const names = entriesById(topology.sites).map(([, site]) => site.name);
  return names.length ? `there are ${names.join(', ')}` : 'there is no site yet';
};

export function duplicates(text: string, { topology, chosen }: FieldContext): Completion[] {
  if (!chosen.length) return [why('Choose what to duplicate first')];
  const read = /^(?:[x×]?\s?(\d+)|(\d+)\s?[x×])?$/i.exec(text.trim());
  const times = read ? Number(read[1] ?? read[2] ?? 1) : 0;
  if (times < 1 || times > 100) return [why(`“${text.trim()}” is no number of copies`, 'from 1 to 100')];
  const what = chosen.length === 1 ? nameOf(topology, chosen[0]!) : plural(chosen.length, 'device');
  return [
    {
      id: `duplicate ${times}`,
      sign: 'add',
      text: `duplicate ${what}${times > 1 ? ` ${times} times` : ''}`,
      more: 'names counted up, next free addresses',
      fill: `duplicate x${times}`,
      action: { do: 'duplicate', times },
    },
  ];
}
