/** One field of a header: how wide it is, what stands in it, and how people read it. */
export interface Field {
  readonly name: string;
  readonly bits: number;
  readonly value: bigint;
  readonly text: string;
}
/** A header, or a payload, in the order of the wire. `source` says which standard lays it out. */
export interface Header {
  readonly name: string;
  readonly source: string;
  readonly fields: readonly Field[];
}

/** A number, read in decimal where nothing else is said. */
export const field = (name: string, bits: number, value: bigint | number, text?: string): Field => ({
  name,
  bits,
  value: BigInt(value),
  text: text ?? String(value),
});
export const hex = (name: string, bits: number, value: bigint | number): Field =>
  field(
    name,
    bits,
    value,
    `0x${BigInt(value)
      .toString(16)
      .padStart(Math.ceil(bits / 4), '0')}`,
  );

/** The bytes of headers, one after the other; each must fill whole bytes. */
export function bytesOf(headers: readonly Header[]): Uint8Array {
  const fields = headers.flatMap((header) => header.fields);
  const total = fields.reduce((sum, field) => sum + field.bits, 0);
  if (total % 8) throw new Error(`Headers of ${total} bits do not fill whole bytes.`);
  const bytes = new Uint8Array(total / 8);
  let at = 0;
  for (const { bits, value } of fields)
    for (let left = bits; left > 0;) {
      const room = 8 - (at % 8);
      const taken = Math.min(room, left);
      const part = Number((value >> BigInt(left - taken)) & ((1n << BigInt(taken)) - 1n));
      bytes[at >> 3]! |= part << (room - taken);
      at += taken;
      left -= taken;
    }
  return bytes;
}

/** The length of headers together, in bytes. */
export const lengthOf = (headers: readonly Header[]): number =>
  headers.reduce((sum, header) => sum + header.fields.reduce((bits, { bits: more }) => bits + more, 0), 0) / 8;

/** The one's complement of the one's complement sum of 16-bit words (RFC 1071). */
export function internetChecksum(bytes: Uint8Array): number {
  let sum = 0;
  for (let at = 0; at < bytes.length; at += 2) sum += (bytes[at]! << 8) | (bytes[at + 1] ?? 0);
  while (sum > 0xffff) sum = (sum & 0xffff) + (sum >>> 16);
  return ~sum & 0xffff;
}
