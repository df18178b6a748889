import { type Scheme } from '@sobrin/core/drawing';
import { writeSvg } from '@sobrin/core/formats';
import { type Topology } from '@sobrin/core/topology';
import { pdfOf, pngOf } from '@sobrin/rendering';
import { type StoredVersion, versionOf } from './stored-version';

export interface PictureWish {
  readonly format: keyof typeof PAINTERS;
  /** In pixels, where the format has some. */
  readonly width: number;
  readonly scheme: Scheme;
  /** What stands on a paper as its date: YYYY-MM-DD. */
  readonly date: string;
}

const PAINTERS = {
  svg: (topology: Topology, { scheme }: PictureWish) => Buffer.from(writeSvg(topology, { scheme })),
  png: (topology: Topology, { width, scheme }: PictureWish) => pngOf(topology, { width, scheme }),
  pdf: (topology: Topology, { date }: PictureWish) => pdfOf(topology, { size: 'A4', schedules: true, date }),
};

/** Paints a drawing as it was stored at a revision. */
export default async function paint({
  stored,
  wish,
}: {
  stored: StoredVersion;
  wish: PictureWish;
}): Promise<Uint8Array> {
  return PAINTERS[wish.format](versionOf(stored) as Topology, wish);
}
