import {
  type Address,
  type Prefix,
  broadcastAddress,
  firstOf,
  formatAddress,
  formatMask,
  formatPrefix,
  formatWildcard,
  freeBlocks,
  layOut,
  networkAddress,
  nextFreeBlock,
  parseAddress,
  parseInterfaceAddress,
  parsePrefix,
  scopeOf,
  subnetOf,
  summarise,
  usableCount,
  usableRange,
} from '@sobrin/core/address';
import { createInterface } from 'node:readline';
import { type Output, STATUS } from './output';

interface Info {
  input: string;
  family: 4 | 6;
  address: string;
  prefix: string | null;
  network: string | null;
  netmask: string | null;
  wildcard: string | null;
  broadcast: string | null;
  first: string | null;
  last: string | null;
  usable: string | null;
  scope: string;
}
type Unread = { input: string; error: { code: string; text: string } };

/** What there is to say of an address, alone or with its prefix length; null where a notion does not apply. */
export function infoOf(input: string): Info | Unread {
  const alone = parseAddress(input);
  if (alone.ok) return describe(input, alone.value, null);
  const read = parseInterfaceAddress(input);
  if (!read.ok) return { input, error: { code: read.error.code, text: read.error.text } };
  return describe(input, read.value.address, subnetOf(read.value));
}

function describe(input: string, address: Address, prefix: Prefix | null): Info {
  const text = (address: Address | null | undefined): string | null => (address ? formatAddress(address) : null);
  const range = prefix && usableRange(prefix);
  const mask = prefix?.family === 4 ? prefix.length : null;
  return {
    input,
    family: address.family,
    address: formatAddress(address),
    prefix: prefix && formatPrefix(prefix),
    network: prefix && formatAddress(networkAddress(prefix) ?? firstOf(prefix)),
    netmask: mask === null ? null : formatMask(mask),
    wildcard: mask === null ? null : formatWildcard(mask),
    broadcast: prefix && text(broadcastAddress(prefix)),
    first: text(range?.from),
    last: text(range?.to),
    usable: prefix && String(usableCount(prefix)),
    scope: scopeOf(address),
  };
}

const isUnread = (answer: Info | Unread): answer is Unread => 'error' in answer;
const LABELS: Record<keyof Omit<Info, 'input'>, string> = {
  family: 'Family',
  address: 'Address',
  prefix: 'Block',
  network: 'Network',
  netmask: 'Netmask',
  wildcard: 'Wildcard mask',
  broadcast: 'Broadcast',
  first: 'First usable',
  last: 'Last usable',
  usable: 'Usable',
  scope: 'Set aside for',
};
function lines(info: Info): string {
  const rows = (Object.keys(LABELS) as (keyof typeof LABELS)[]).filter((key) => info[key] !== null);
  return `${rows.map((key) => `${LABELS[key].padEnd(14)} ${key === 'family' ? `IPv${info.family}` : info[key]}`).join('\n')}\n`;
}

/** One address, or with "-" one a line from standard input. */
export async function info(
  input: string,
  json: boolean,
  source: NodeJS.ReadableStream,
  out: Output,
  err: Output,
): Promise<number> {
  if (input !== '-') return tell(infoOf(input), json, out, err);
  let status: number = STATUS.well;
  let pending = '';
  for await (const line of createInterface({ input: source, crlfDelay: Infinity })) {
    const answer = infoOf(line);
    if (isUnread(answer)) status = STATUS.unusable;
    pending += json
      ? `${JSON.stringify(answer)}\n`
      : isUnread(answer)
        ? `${line}: ${answer.error.text}\n`
        : `${lines(answer)}\n`;
    // Written in pieces: a line at a time is slow, all at once fills the memory.
    if (pending.length > 65_536) {
      out.write(pending);
      pending = '';
    }
  }
  out.write(pending);
  return status;
}

function tell(answer: Info | Unread, json: boolean, out: Output, err: Output): number {
  if (json) out.write(`${JSON.stringify(answer)}\n`);
  else if (isUnread(answer)) err.write(`${answer.error.text}\n`);
  else out.write(lines(answer));
  return isUnread(answer) ? STATUS.unusable : STATUS.well;
}

/** Tells what cannot be used or done, in the form that is asked for. */
function refuse(status: number, code: string, text: string, json: boolean, out: Output, err: Output): number {
  if (json) out.write(`${JSON.stringify({ error: { code, text } })}\n`);
  else err.write(`${text}\n`);
  return status;
}

/** Lays out subnets for numbers of hosts, and says what stays free. */
export function split(text: string, hosts: string, json: boolean, out: Output, err: Output): number {
  const block = parsePrefix(text);
  if (!block.ok) return refuse(STATUS.unusable, block.error.code, block.error.text, json, out, err);
  const wishes = hosts.split(',').map((part) => part.trim());
  const wrong = wishes.find((wish) => !/^[1-9]\d{0,38}$/.test(wish));
  if (wrong !== undefined)
    return refuse(
      STATUS.unusable,
      'HOSTS',
      `"${wrong}" is no number of hosts: write for instance --hosts 500,200,60.`,
      json,
      out,
      err,
    );
  const done = layOut(block.value, wishes.map(BigInt));
  if (!done.ok) return refuse(STATUS.short, 'NO_ROOM', done.error, json, out, err);
  const parts = done.value.map((subnet) => ({ hosts: Number(subnet.hosts), prefix: formatPrefix(subnet.prefix) }));
  const free = freeBlocks(
    block.value,
    done.value.map((subnet) => subnet.prefix),
  ).map(formatPrefix);
  if (json) out.write(`${JSON.stringify({ parts, free })}\n`);
  else
    out.write(
      `${parts.map((part) => `${part.prefix}  for ${part.hosts}`).join('\n')}\nfree: ${free.join(', ') || 'nothing'}\n`,
    );
  return STATUS.well;
}

/** The fewest blocks that hold exactly the same addresses. */
export function summary(texts: readonly string[], json: boolean, out: Output, err: Output): number {
  const blocks: Prefix[] = [];
  for (const text of texts) {
    const read = parsePrefix(text);
    if (!read.ok) return refuse(STATUS.unusable, read.error.code, read.error.text, json, out, err);
    blocks.push(read.value);
  }
  const prefixes = summarise(blocks).map(formatPrefix);
  out.write(json ? `${JSON.stringify({ prefixes })}\n` : `${prefixes.join('\n')}\n`);
  return STATUS.well;
}

/** The lowest free block of a length inside another one. */
export function next(text: string, used: string, length: string, json: boolean, out: Output, err: Output): number {
  const blocks: Prefix[] = [];
  for (const line of [
    text,
    ...used
      .split(',')
      .map((each) => each.trim())
      .filter(Boolean),
  ]) {
    const read = parsePrefix(line);
    if (!read.ok) return refuse(STATUS.unusable, read.error.code, read.error.text, json, out, err);
    blocks.push(read.value);
  }
  const [block, ...taken] = blocks as [Prefix, ...Prefix[]];
  if (!/^\d{1,3}$/.test(length) || Number(length) < block.length || Number(length) > (block.family === 4 ? 32 : 128))
    return refuse(
      STATUS.unusable,
      'PREFIX_RANGE',
      `"${length}" is no prefix length inside ${formatPrefix(block)}.`,
      json,
      out,
      err,
    );
  const found = nextFreeBlock(block, taken, Number(length));
  if (!found)
    return refuse(STATUS.short, 'NO_ROOM', `${formatPrefix(block)} has no free /${length} left.`, json, out, err);
  out.write(json ? `${JSON.stringify({ prefix: formatPrefix(found) })}\n` : `${formatPrefix(found)}\n`);
  return STATUS.well;
}
