import { type Sheet, SHEETS } from '../bench';
import { plural } from '../plural';
import { type Topology } from '../topology';
import { type SvgOptions, writeSvg } from './svg';
import { xmlText } from './xml';

/** The sheets that stand beneath the picture, as on paper. */
const SCHEDULES: readonly Sheet['id'][] = ['devices', 'addresses', 'links'];

/** The columns of a sheet in which something stands, and its rows as texts; null where there is nothing. */
export function scheduleRows(topology: Topology, sheet: Sheet): { heads: string[]; rows: string[][] } | null {
  const rows = sheet.rows(topology).map((row) => sheet.columns.map((column) => column.read(topology, row)));
  const used = sheet.columns.flatMap((column, at) => (!column.tells && rows.some((row) => row[at]) ? [at] : []));
  if (!rows.length || !used.length) return null;
  return { heads: used.map((at) => sheet.columns[at]!.label), rows: rows.map((row) => used.map((at) => row[at]!)) };
}

/** The sheets that are printed with a drawing. */
export const printedSheets = (): Sheet[] => SHEETS.filter(({ id }) => SCHEDULES.includes(id));

/** How much is drawn: "39 devices, 38 links". */
export const drawnWords = ({ devices, links }: Topology): string =>
  `${plural(Object.keys(devices).length, 'device')}, ${plural(Object.keys(links).length, 'link')}`;

const STYLE = `body{font:15px/1.45 system-ui,sans-serif;color:#1D2730;background:#fff;max-width:1200px;margin:2rem auto;padding:0 1rem}
h1{margin:0}header p{color:#48535C;margin:.25rem 0 1rem}figure{margin:0 0 1rem;border:1px solid #DED7C9}svg{display:block;width:100%;height:auto}
.legend{white-space:pre-line}.wide{overflow-x:auto}table{border-collapse:collapse;font-size:13px;min-width:60%}
th,td{text-align:left;padding:.25rem .75rem .25rem 0;border-bottom:1px solid #DED7C9;vertical-align:top}`;

/**
 * A drawing as one page that needs nothing else: its picture, its legend, and the tables of devices, addresses and links.
 * No script runs in it and nothing is fetched (CSP Level 3). Whatever people wrote stands in it as text.
 *
 * @param picture how the picture is painted, and of which drawing where it is looked at with what was given to it
 */
export function writeHtml(
  topology: Topology,
  { seen = topology, date, ...picture }: SvgOptions & { seen?: Topology; date?: string } = {},
): string {
  const title = topology.title ?? 'Network drawing';
  const facts = [
    drawnWords(topology),
    ...(topology.author ? [`drawn by ${topology.author}`] : []),
    ...(date ? [date] : []),
  ];
  const tables = printedSheets().flatMap((sheet) => {
    const read = scheduleRows(topology, sheet);
    if (!read) return [];
    const row = (name: 'th' | 'td', cells: readonly string[]): string =>
      `<tr>${cells.map((cell) => `<${name}>${xmlText(cell)}</${name}>`).join('')}</tr>`;
    return [
      `<section><h2>${xmlText(sheet.title)}</h2><div class="wide"><table><thead>${row('th', read.heads)}</thead>`,
      `<tbody>${read.rows.map((cells) => row('td', cells)).join('\n')}</tbody></table></div></section>`,
    ];
  });
  return [
    '<!doctype html>',
    '<html lang="en"><head><meta charset="utf-8">',
    `<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'; img-src data:; font-src data:">`,
    '<meta name="viewport" content="width=device-width, initial-scale=1">',
    `<title>${xmlText(title)}</title><style>${STYLE}</style></head><body>`,
    `<header><h1>${xmlText(title)}</h1><p>${xmlText(facts.join(' · '))}</p></header>`,
    `<figure>${writeSvg(seen, picture).replace(/^<\?xml[^>]*\?>\s*/, '')}</figure>`,
    ...(topology.legend ? [`<p class="legend">${xmlText(topology.legend)}</p>`] : []),
    ...tables,
    '</body></html>',
    '',
  ].join('\n');
}
