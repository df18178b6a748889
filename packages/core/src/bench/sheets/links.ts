import { MEDIUM_NAMES } from '../../engine';
import { byName } from '../../collation';
import { fail } from '../../result';
import { MEDIA, entriesById, portsOf } from '../../topology';
import { type Sheet, type SheetColumn, link, written } from './sheet';

const end = (key: 'a' | 'b'): SheetColumn[] => [
  {
    key: `${key}-device`,
    label: key === 'a' ? 'From' : 'To',
    width: 100,
    read: (topology, row) => topology.devices[link(topology, row)[key].device]?.name ?? '',
  },
  {
    key: `${key}-port`,
    label: 'Port',
    width: 60,
    mono: true,
    read: (topology, row) => link(topology, row)[key].port,
    write: (topology, row, text) => {
      const mine = link(topology, row)[key];
      const ports = portsOf(topology, topology.devices[mine.device]!).map((port) => port.key);
      return ports.includes(text.trim())
        ? written({ kind: 'setLink', id: row.link!, set: { [key]: { ...mine, port: text.trim() } } })
        : fail(
            `${topology.devices[mine.device]!.name} has no port “${text.trim()}”: it has ${ports.slice(0, 8).join(', ')}.`,
          );
    },
  },
];
export const LINKS: Sheet = {
  id: 'links',
  title: 'Links',
  count: (topology) => Object.keys(topology.links).length,
  rows: (topology) =>
    entriesById(topology.links)
      .sort(([, a], [, b]) => byName(a.cableId ?? '', b.cableId ?? ''))
      .map(([id]) => ({ key: id, link: id })),
  columns: [
    {
      key: 'cable',
      label: 'Cable',
      width: 80,
      mono: true,
      read: (topology, row) => link(topology, row).cableId ?? '',
      write: (_topology, row, text) =>
        text.length > 80
          ? fail('A cable’s identifier has at most 80 characters.')
          : written({ kind: 'setLink', id: row.link!, set: { cableId: text.trim() || null } }),
    },
    ...end('a'),
    ...end('b'),
    {
      key: 'medium',
      label: 'Medium',
      width: 170,
      read: (topology, row) => MEDIUM_NAMES[link(topology, row).medium],
      choices: () => MEDIA.map((medium) => MEDIUM_NAMES[medium]),
      write: (_topology, row, text) => {
        const wanted = text.trim().toLowerCase();
        const medium = MEDIA.find((each) => each === wanted || MEDIUM_NAMES[each].toLowerCase() === wanted);
        return medium
          ? written({ kind: 'setLink', id: row.link!, set: { medium } })
          : fail(`“${text.trim()}” is no medium: ${MEDIA.map((each) => MEDIUM_NAMES[each]).join(', ')}.`);
      },
    },
    {
      key: 'length',
      label: 'Length',
      width: 70,
      mono: true,
      read: (topology, row) => {
        const { lengthM } = link(topology, row);
        return lengthM === undefined ? '' : `${lengthM} m`;
      },
      write: (_topology, row, text) => {
        const [, metres] = /^\s*(\d+(?:[.,]\d+)?)?\s*m?\s*$/.exec(text) ?? [];
        if (metres === undefined && text.trim())
          return fail(`“${text.trim()}” is no length: write metres, for instance 12.5.`);
        return written({
          kind: 'setLink',
          id: row.link!,
          set: { lengthM: metres === undefined ? null : Number(metres.replace(',', '.')) },
        });
      },
    },
  ],
};
