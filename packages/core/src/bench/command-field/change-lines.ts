import { plural } from '../../plural';
import { EDGES, takenNames } from '../../editing';
import { type Topology } from '../../topology';
import { type Completion, type FieldContext, why } from './completion';
import { devicesLike, nameOf, takeDevice } from './typed-names';

export function renames(text: string, { topology, chosen }: FieldContext): Completion[] {
  const { device, rest } = takeDevice(text, topology);
  const name = rest.trim();
  if (device === null) {
    const only = chosen.length === 1 ? chosen[0]! : null;
    const like = devicesLike(name, topology).slice(0, 5);
    if (only !== null && name && !like.length) return [renameLine(only, name, topology)];
    return like.length
      ? like.map((id): Completion => ({
          id: `rename ${id}`,
          sign: 'rename',
          text: `rename ${nameOf(topology, id)}`,
          more: 'then the new name',
          fill: `rename ${nameOf(topology, id)} `,
          action: { do: 'fill' },
        }))
      : [why(`There is no device “${name}”`)];
  }
  return [name ? renameLine(device, name, topology) : why(`Say the new name of ${nameOf(topology, device)}`)];
}

function renameLine(device: string, name: string, topology: Topology): Completion {
  if (name.length > 80) return why('The name is too long', 'at most 80 characters');
  return {
    id: `rename ${device}`,
    sign: 'rename',
    text: `rename ${nameOf(topology, device)} → ${name}`,
    more:
      takenNames(topology).has(name) && name !== nameOf(topology, device) ? 'another device is called so already' : '',
    fill: `rename ${nameOf(topology, device)} ${name}`,
    action: { do: 'rename', device, name },
  };
}

export function aligns(text: string, { chosen }: FieldContext): Completion[] {
  if (chosen.length < 2) return [why('Choose two devices or more first', 'then align them')];
  const found = EDGES.filter((edge) => edge.startsWith(text.trim().toLowerCase()));
  if (!found.length) return [why(`“${text.trim()}” is no edge`, EDGES.join(', '))];
  return found.map((edge): Completion => ({
    id: `align ${edge}`,
    sign: 'arrange',
    text: `align ${edge}`,
    more: plural(chosen.length, 'device'),
    fill: `align ${edge}`,
    action: { do: 'align', edge },
  }));
}

export function spaces(text: string, { chosen }: FieldContext): Completion[] {
  if (chosen.length < 3) return [why('Choose three devices or more first', 'then space them evenly')];
  const found = (['across', 'down'] as const).filter((way) => way.startsWith(text.trim().toLowerCase()));
  if (!found.length) return [why(`“${text.trim()}” is no direction`, 'across, down')];
  return found.map((direction): Completion => ({
    id: `space ${direction}`,
    sign: 'arrange',
    text: `space evenly ${direction}`,
    more: plural(chosen.length, 'device'),
    fill: `space ${direction}`,
    action: { do: 'space', direction },
  }));
}
