import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import { type Result, byName, fail, ok } from '@sobrin/core';
import {
  formatAddress,
  formatPrefix,
  isLinkLocal,
  parseAddress,
  parseZonedAddress,
  sameAddress,
} from '@sobrin/core/address';
import {
  type Instance,
  type NetworkModel,
  type Outcome,
  type Probe,
  type Reason,
  type Target,
  type Trace,
  type Way,
  analyse,
  attemptOf,
  hintFor,
  SIGN_IN_WAYS,
  neighbourWith,
  resolveName,
  signIn,
  tablesOf,
  trace,
} from '@sobrin/core/engine';
import { readCase, readDrawingFiles } from '@sobrin/core/formats';
import { captureOf, writePcap } from '@sobrin/core/frames';
import { type Problem, type Topology, emptyTopology } from '@sobrin/core/topology';
import { linesOf, readText } from './files';
import { type Output, STATUS } from './output';

/** What is asked of every pair. */
export interface Question {
  family?: string;
  protocol?: string;
  port?: string;
}

export interface TraceQuestion extends Question {
  from: string;
  to: string;
  /** Where its frames are written to. */
  pcap?: string;
}

/** Who reaches whom, one pair at a time: every device with an address, and every address of every other one. */
export async function reach(
  file: string,
  question: Question,
  json: boolean,
  out: Output,
  err: Output,
): Promise<number> {
  const asked = await understood(file, question, err);
  if (!asked) return STATUS.unusable;
  const { model, probe, family } = asked;
  const targets = model.reach.targets().filter((target) => !family || target.address.family === family);
  const owned = new Map<string, Target[]>();
  for (const target of targets) owned.set(target.device, [...(owned.get(target.device) ?? []), target]);
  const devices = [...owned.keys()].map((id) => model.instances.get(id)!).sort((a, b) => byName(a.name, b.name));
  let first = true;
  let short = false;
  const counts = new Map<string, number>();
  if (json) out.write('{"pairs": [');
  for (const from of devices)
    for (const to of devices) {
      if (from === to) continue;
      for (const target of owned.get(to.id)!) {
        // What the source has itself is not asked of others.
        if (owned.get(from.id)!.some((own) => sameAddress(own.address, target.address))) continue;
        const found = pairOf(model, from, target, probe);
        counts.set(found.outcome, (counts.get(found.outcome) ?? 0) + 1);
        if (found.outcome !== 'yes' && found.outcome !== 'open') short = true;
        if (json) out.write(`${first ? '\n' : ',\n'}  ${JSON.stringify(found)}`);
        else if (found.outcome !== 'yes' && found.outcome !== 'open')
          out.write(
            `${found.from} -> ${found.to.device} ${found.to.address}: ${found.outcome}. ${found.reason?.text ?? ''}\n`,
          );
        first = false;
      }
    }
  if (json) out.write('\n]}\n');
  else out.write(`${[...counts].map(([outcome, count]) => `${count} ${outcome}`).join(', ') || 'no pairs'}\n`);
  return short ? STATUS.short : STATUS.well;
}

/** One packet's way there and back, hop by hop. */
export async function traceOne(
  file: string,
  { from, to, pcap, ...question }: TraceQuestion,
  json: boolean,
  out: Output,
  err: Output,
  now = Date.now(),
): Promise<number> {
  const asked = await understood(file, question, err);
  if (!asked) return STATUS.unusable;
  const { model, probe, family } = asked;
  const source = deviceBy(model, from);
  const zoned = parseZonedAddress(to);
  const onLink = source && zoned.ok && isLinkLocal(zoned.value.address) ? zoned.value : null;
  const near = onLink && neighbourWith(model, source!.id, onLink.address, onLink.zone);
  const named = source && !onLink && !targetBy(model, to, family) ? resolveName(model, source.id, to) : null;
  // Where nobody answers on the link, the reason is told as for any other address.
  const target = onLink
    ? { device: near ?? source!.id, address: onLink.address }
    : targetBy(model, named?.address ? formatAddress(named.address) : to, family);
  if (!source || !target) {
    const missing = source ? `with the name or address “${to}”` : `called “${from}”`;
    err.write(`${file}: there is no device ${missing}.${named ? ` ${named.text}` : ''}\n`);
    return STATUS.unusable;
  }
  const found = trace(model, source.id, target.device, target.address, probe, onLink?.zone);
  if (pcap !== undefined)
    try {
      await writeFile(
        pcap,
        writePcap(captureOf(model, found, probe, named ? { name: to, found: named } : undefined), now),
      );
    } catch (error) {
      err.write(`${pcap}: it cannot be written (${(error as Error).message}).\n`);
      return STATUS.unusable;
    }
  const report = {
    from: source.name,
    to: { device: nameOf(model, target.device), address: formatAddress(target.address) },
    outcome: wordOf(model, found, probe),
    reached: found.reached,
    reason: reasonOf(model, found),
    remedy: found.reason && hintFor(model, found.reason),
    request: wayOf(model, found.request),
    reply: found.reply && wayOf(model, found.reply),
  };
  if (json) out.write(`${JSON.stringify(report, null, 1)}\n`);
  else {
    for (const [title, way] of [
      ['there', report.request],
      ['back', report.reply],
    ] as const)
      for (const [at, hop] of (way?.hops ?? []).entries())
        out.write(`${title} ${at + 1}  ${hop.device}: ${hop.decided}\n`);
    out.write(
      `${report.outcome}${report.reason ? `: ${report.reason.text}` : ''}${report.remedy ? ` ${report.remedy}` : ''}\n`,
    );
  }
  return ['yes', 'open'].includes(report.outcome) ? STATUS.well : STATUS.short;
}

/** Whether somebody at a device can sign in at another one. */
export async function signInAt(
  file: string,
  { from, to, by, changing = false }: { from: string; to: string; by: string; changing?: boolean },
  json: boolean,
  out: Output,
  err: Output,
): Promise<number> {
  const model = await modelOf(file, err);
  if (!model) return STATUS.unusable;
  const way = SIGN_IN_WAYS.find((each) => each === by);
  if (!way) {
    err.write(`--by is one of ${SIGN_IN_WAYS.join(', ')}, not “${by}”.\n`);
    return STATUS.unusable;
  }
  const [source, target] = [deviceBy(model, from), targetBy(model, to, null)];
  const device = target?.device ?? deviceBy(model, to)?.id;
  if (!source || device === undefined) {
    err.write(`${file}: there is no device called “${source ? to : from}”.\n`);
    return STATUS.unusable;
  }
  // Whoever names a device means it, at whichever of its addresses.
  const address = parseAddress(to).ok ? (target?.address ?? null) : null;
  const found = signIn(model, { from: source.id, to: device, address, by: way, changing });
  out.write(json ? `${JSON.stringify(found, null, 1)}\n` : `${found.answer}: ${found.text}\n`);
  return found.answer === 'yes' ? STATUS.well : STATUS.short;
}

/** What a device knows: interfaces, routes, leases, spanning tree and OSPF neighbours. */
export async function tables(file: string, device: string, json: boolean, out: Output, err: Output): Promise<number> {
  const model = await modelOf(file, err);
  if (!model) return STATUS.unusable;
  const instance = deviceBy(model, device);
  if (!instance) {
    err.write(`${file}: there is no device called “${device}”.\n`);
    return STATUS.unusable;
  }
  const report = tablesOf(model, instance.id);
  if (json) out.write(`${JSON.stringify(report, null, 1)}\n`);
  else
    for (const [name, rows] of Object.entries(report)) {
      if (!Array.isArray(rows) || !rows.length) continue;
      out.write(`${name}\n`);
      for (const row of rows as object[])
        out.write(
          `  ${Object.entries(row)
            .flatMap(([key, value]) => (value === null || value === '' ? [] : `${key} ${cellText(value)}`))
            .join(', ')}\n`,
        );
    }
  return STATUS.well;
}

/** What stands in a table, in words: lists item by item, and things by what they have. */
function cellText(value: unknown): string {
  if (Array.isArray(value)) return value.length ? value.map(cellText).join('; ') : 'none';
  if (typeof value === 'object' && value !== null)
    return Object.values(value)
      .filter((part) => part !== null && part !== '')
      .map(cellText)
      .join(' ');
  return String(value);
}

/** The network of a file and what is asked of it; null where one of them is none, which is told. */
async function understood(
  file: string,
  question: Question,
  err: Output,
): Promise<{ model: NetworkModel; probe: Probe; family: 4 | 6 | null } | null> {
  const model = await modelOf(file, err);
  const asked = probeOf(question);
  if (model && asked.ok) return { model, ...asked.value };
  if (!asked.ok) err.write(`${asked.error}\n`);
  return null;
}

async function modelOf(file: string, err: Output): Promise<NetworkModel | null> {
  const text = await readText(file);
  const read: Result<Topology, Problem[]> = text.ok
    ? drawingIn(path.basename(file), text.value)
    : fail([{ place: '', text: text.error }]);
  if (read.ok) return analyse(read.value);
  err.write(linesOf(file, read.error));
  return null;
}

/** A drawing of any format that can be read, or a network with measured answers. */
function drawingIn(name: string, text: string): Result<Topology, Problem[]> {
  if (/^\s*\{\s*"format"\s*:\s*"oracle-/.test(text)) {
    const file = JSON.parse(text) as { topology?: unknown };
    return ok(readCase((file.topology ?? file) as Parameters<typeof readCase>[0]));
  }
  const read = readDrawingFiles({ [name]: text }, emptyTopology());
  return read.ok ? ok(read.value.topology) : read;
}

function probeOf({
  family,
  protocol = 'icmp',
  port,
}: Question): Result<{ probe: Probe; family: 4 | 6 | null }, string> {
  if (family !== undefined && family !== '4' && family !== '6') return fail(`--family is 4 or 6, not “${family}”.`);
  const which = family === undefined ? null : (Number(family) as 4 | 6);
  if (protocol === 'icmp') {
    if (port !== undefined) return fail('--port goes with --protocol tcp or udp.');
    return ok({ probe: { protocol }, family: which });
  }
  if (protocol !== 'tcp' && protocol !== 'udp') return fail(`--protocol is icmp, tcp or udp, not “${protocol}”.`);
  const number = Number(port);
  if (!Number.isInteger(number) || number < 1 || number > 65535)
    return fail(`--protocol ${protocol} wants a --port from 1 to 65535.`);
  return ok({ probe: { protocol, port: number }, family: which });
}

function pairOf(model: NetworkModel, from: Instance, target: Target, probe: Probe) {
  const to = { device: nameOf(model, target.device), address: formatAddress(target.address) };
  const { answer } = model.reach.answer(from.id, target, probe);
  if (answer === 'yes') {
    const outcome =
      probe.protocol !== 'tcp'
        ? answer
        : (attemptOf(model, trace(model, from.id, target.device, target.address, probe), probe) ?? 'uncertain');
    return { from: from.name, to, outcome, reached: true, reason: null };
  }
  // The reason is that of this pair, not of one like it: its own names and addresses.
  const found = trace(model, from.id, target.device, target.address, probe);
  return {
    from: from.name,
    to,
    outcome: wordOf(model, found, probe),
    reached: found.reached,
    reason: reasonOf(model, found),
  };
}

function wordOf(model: NetworkModel, found: Trace, probe: Probe): Trace['answer'] | Outcome {
  if (probe.protocol !== 'tcp') return found.answer;
  return attemptOf(model, found, probe) ?? 'uncertain';
}

function reasonOf(model: NetworkModel, { reason, direction }: Trace) {
  if (!reason) return null;
  return { code: reason.code, direction: direction ?? 'request', at: placeOf(model, reason.at), text: reason.text };
}
const placeOf = (model: NetworkModel, { device, port }: Reason['at']) => ({
  ...(device !== undefined && { device: nameOf(model, device) }),
  ...(port !== undefined && { port }),
});

const wayOf = (model: NetworkModel, { hops, delivered }: Way) => ({
  hops: hops.map(({ device, in: by, out, decided, route, frames }) => ({
    device: nameOf(model, device),
    in: by,
    out,
    decided,
    route: route && {
      prefix: formatPrefix(route.prefix),
      via: route.via && formatAddress(route.via),
      source: route.source,
    },
    frames,
  })),
  delivered: delivered && nameOf(model, delivered),
});

const nameOf = (model: NetworkModel, id: string): string => model.instances.get(id)?.name ?? id;
const deviceBy = (model: NetworkModel, text: string): Instance | undefined =>
  [...model.instances.values()].find((instance) => instance.name.toLowerCase() === text.toLowerCase());

/** A target by the name of its device, or by its address. */
function targetBy(model: NetworkModel, text: string, family: 4 | 6 | null): Target | undefined {
  const targets = model.reach.targets();
  const read = parseAddress(text);
  if (read.ok) return targets.find((target) => sameAddress(target.address, read.value));
  const device = deviceBy(model, text);
  return targets.find((target) => target.device === device?.id && (!family || target.address.family === family));
}
