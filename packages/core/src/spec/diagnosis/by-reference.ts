import { type Instance } from '../../engine';
import { Corresponding } from '../corresponding';
import { type RoleMatch } from '../matching/match';
import { comingTogether, withForgotten } from './belonging';
import { extraDevices, missingDevices } from './by-devices';
import { ofLinks } from './by-links';
import { type Change, editing } from './change';
import { ofDevice } from './device-changes';
import { type Translation } from './translation';

/** What a drawing has otherwise than the reference in its own words: device by device, then links, then what is missing. */
export function byReference(translation: Translation, matching: readonly RoleMatch[]): Change[] {
  const { reference, drawn, players } = translation;
  const changes: Change[] = [];
  const playing = new Corresponding(reference, drawn, matching);
  for (const [role, device] of players) {
    const [asked, own] = [reference.instances.get(role)!, drawn.instances.get(device)!];
    changes.push(...ofDevice(translation, asked, own), ...siteOf(playing, asked, own));
  }
  changes.push(...ofLinks(translation), ...missingDevices(translation, playing), ...extraDevices(translation));
  changes.push(...ofDrawing(translation));
  const whole = [...changes, ...comingTogether(changes, translation)];
  const once = new Map(whole.map((change) => [JSON.stringify([change.thing, change.commands]), change] as const));
  return withForgotten([...once.values()], translation);
}

/** Title, author and legend, which nobody can know for somebody else: that they are there. */
const ofDrawing = ({ reference, drawn }: Translation): Change[] =>
  (['title', 'author', 'legend'] as const).flatMap((property): Change[] => {
    const [asked, own] = [reference.topology[property], drawn.topology[property]];
    if (!asked?.trim() || own?.trim()) return [];
    return [
      {
        thing: JSON.stringify([property]),
        sort: property,
        what: 'missing',
        source: 'reference',
        commands: [{ kind: 'setDocument', set: { [property]: asked } }],
        places: [],
        text: `The drawing has no ${property}.`,
        isTold: true,
        at: 'the drawing',
        field: property,
        repair: [`a ${property}`],
        alike: null,
        fields: 1,
        opens: false,
        leftOut: true,
        members: 1,
      },
    ];
  });

function siteOf(playing: Corresponding, asked: Instance, own: Instance): Change[] {
  const [wanted, now] = [asked.device.site, own.device.site];
  const site = wanted === undefined ? undefined : playing.site(wanted);
  if (site === null || site === now || site === undefined) return [];
  return [
    {
      thing: JSON.stringify(['devices', own.deviceId, 'site']),
      sort: 'site',
      what: now === undefined ? 'missing' : 'other',
      source: 'reference',
      commands: [editing({ path: ['devices', own.deviceId, 'site'], value: site })],
      places: [{ device: own.id }],
      text: `${own.name} stands at the wrong site.`,
      isTold: true,
      at: own.name,
      field: 'its site',
      repair: [`${own.name} at its site`],
      alike: null,
      fields: 1,
      opens: false,
      leftOut: false,
      members: 1,
    },
  ];
}
