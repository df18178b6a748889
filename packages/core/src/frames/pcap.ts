import { type Frame } from './frames';
import { bytesOf } from './header';

const MAGIC = 0xa1b2c3d4;
const [MAJOR, MINOR] = [2, 4];
const SNAP_LENGTH = 65_535;
const ETHERNET = 1;
const [FILE_HEADER, RECORD_HEADER] = [24, 16];
/** Between two frames, in microseconds: long enough to be told apart. */
const GAP = 100;

/**
 * Frames as a capture file (draft-ietf-opsawg-pcap): microseconds, link type Ethernet, little-endian. A frame that goes
 * on over the next link without being changed is written once.
 *
 * @param start when the first frame is seen, in milliseconds since 1970
 */
export function writePcap(frames: readonly Frame[], start: number): Uint8Array<ArrayBuffer> {
  const records: Uint8Array[] = [];
  let before = '';
  for (const { way, hop, headers } of frames) {
    const bytes = bytesOf(headers);
    const key = `${way} ${hop} ${bytes.join()}`;
    if (key !== before) records.push(bytes);
    before = key;
  }
  const size = records.reduce((sum, record) => sum + RECORD_HEADER + record.length, FILE_HEADER);
  const out = new DataView(new ArrayBuffer(size));
  for (const [at, value, bits] of [
    [0, MAGIC, 32],
    [4, MAJOR, 16],
    [6, MINOR, 16],
    [16, SNAP_LENGTH, 32],
    [20, ETHERNET, 32],
  ] as const)
    if (bits === 32) out.setUint32(at, value, true);
    else out.setUint16(at, value, true);
  const bytes = new Uint8Array(out.buffer);
  let at = FILE_HEADER;
  for (const [index, record] of records.entries()) {
    const micros = Math.round(start * 1000) + index * GAP;
    out.setUint32(at, Math.floor(micros / 1e6), true);
    out.setUint32(at + 4, micros % 1e6, true);
    out.setUint32(at + 8, record.length, true);
    out.setUint32(at + 12, record.length, true);
    bytes.set(record, at + RECORD_HEADER);
    at += RECORD_HEADER + record.length;
  }
  return bytes;
}
