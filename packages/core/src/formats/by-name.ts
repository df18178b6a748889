import { type Result, fail, ok } from '../result';
import { type Problem, type Topology } from '../topology';
import { readLabText, readSubmissionText } from './document';
import { isOwnTables, readTables } from './csv-tables';
import { writeDot } from './dot';
import { writeHtml } from './html';
import { type Imported } from './import-network';
import { readGraphml, writeGraphml } from './graphml';
import { readRfc8345, writeRfc8345 } from './rfc8345';
import { readSheets } from './read-sheets';
import { writeSvg } from './svg';
import { readYaml, writeYaml } from './yaml';

/** A format of one text: how its files end, how people call it, and what it is good for. */
export interface DrawingFormat {
  readonly ending: string;
  readonly name: string;
  readonly use: string;
  readonly type: string;
  readonly write: (topology: Topology) => string;
  readonly read?: (text: string) => Result<Imported, Problem[]>;
}

const whole = (topology: Topology): Imported => ({ topology, left: [] });

/** A drawing alone, that of a submission, or the reference of a lab. */
function readJson(text: string): Result<Imported, Problem[]> {
  if (/"format"\s*:\s*"sobrin-lab"/.test(text)) {
    const lab = readLabText(text);
    return lab.ok ? ok(whole(lab.value.reference)) : lab;
  }
  const read = readSubmissionText(text);
  if (!read.ok) return read;
  const { topology } = read.value;
  return topology ? ok(whole(topology)) : fail([{ place: 'topology', text: 'The file holds no drawing.' }]);
}

/** Drawings in files of one text. Longer endings stand before shorter ones that they end with. */
export const DRAWING_FORMATS: readonly DrawingFormat[] = [
  {
    ending: '.rfc8345.json',
    name: 'Network topology (RFC 8345)',
    use: 'for tools that speak the models of the IETF; comes back to the letter',
    type: 'application/json',
    write: writeRfc8345,
    read: readRfc8345,
  },
  {
    ending: '.json',
    name: 'Drawing (JSON)',
    use: 'everything; what students hand in',
    type: 'application/json',
    write: (topology) => `${JSON.stringify(topology, null, 1)}\n`,
    read: readJson,
  },
  {
    ending: '.yaml',
    name: 'Drawing as text (YAML)',
    use: 'everything, to be read and written by people',
    type: 'application/yaml',
    write: writeYaml,
    read: (text) => {
      const read = readYaml(text);
      if (read.ok)
        return ok({
          topology: read.value.topology,
          left: [],
          ...(read.value.told.length && {
            filled: read.value.told.map(({ line, text: what }) => `Line ${line}: ${what}`),
          }),
        });
      return fail(read.error.map(({ line, text: why }) => ({ place: `line ${line}`, text: why })));
    },
  },
  {
    ending: '.graphml',
    name: 'Graph (GraphML)',
    use: 'names, ports, links, sites and addresses, for programs that work on graphs',
    type: 'application/graphml+xml',
    write: writeGraphml,
    read: readGraphml,
  },
  {
    ending: '.dot',
    name: 'Graph (DOT)',
    use: 'for Graphviz; cannot be read back',
    type: 'text/vnd.graphviz',
    write: writeDot,
  },
  {
    ending: '.svg',
    name: 'Picture (SVG)',
    use: 'sharp at every size, its words can be found; cannot be read back',
    type: 'image/svg+xml',
    write: writeSvg,
  },
  {
    ending: '.html',
    name: 'Page (HTML)',
    use: 'the picture with its tables, for any browser; cannot be read back',
    type: 'text/html;charset=utf-8',
    write: writeHtml,
  },
];

/** The format of a file by its name; undefined for names that end in none of the endings. */
export function formatOfName(name: string): DrawingFormat | undefined {
  const lower = name.toLowerCase().replace(/\.yml$/, '.yaml');
  return DRAWING_FORMATS.find((format) => lower.endsWith(format.ending));
}

/**
 * Reads files chosen together: one of any format that can be read, or tables (CSV) of which a folder of Sobrin's own is
 * the drawing itself, and others change the drawing that is there.
 */
export function readDrawingFiles(
  files: Readonly<Record<string, string>>,
  there: Topology,
  ending?: () => string,
): Result<Imported, Problem[]> {
  const names = Object.keys(files);
  const tables = names.filter((name) => /\.(csv|tsv)$/i.test(name));
  if (tables.length && tables.length < names.length)
    return fail([{ place: '', text: 'Choose either tables or one other file: both together tell two drawings.' }]);
  if (!tables.length && names.length > 1)
    return fail([{ place: '', text: 'Of files that hold a whole drawing one is taken at a time.' }]);
  if (!tables.length) return readDrawingFile(names[0]!, files[names[0]!]!);
  const own = Object.fromEntries(names.map((name) => [name.toLowerCase(), files[name]!]));
  if (!isOwnTables(own)) return readSheets(files, there, ending);
  const read = readTables(own);
  return read.ok ? ok(whole(read.value)) : read;
}

/** Reads a drawing from a file of any format that can be read. A network topology is known by what stands in it. */
export function readDrawingFile(name: string, text: string): Result<Imported, Problem[]> {
  const format = formatOfName(name);
  const isRfc = format?.ending === '.json' && /"ietf-network:networks"\s*:/.test(text);
  const read = isRfc ? readRfc8345 : format?.read;
  if (read) return read(text);
  const readable = DRAWING_FORMATS.filter((format) => format.read).map((format) => format.ending);
  return fail([
    {
      place: '',
      text: `Files of this sort hold no drawing that could be read: wanted is one that ends in ${readable.join(', ')}.`,
    },
  ]);
}
