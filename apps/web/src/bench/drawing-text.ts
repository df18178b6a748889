import { ok } from '@sobrin/core';
import { readYaml, writeYaml } from '@sobrin/core/formats';
import { type Topology } from '@sobrin/core/topology';
import { type TextForm } from '../text/text-sync';

/** Drawings as YAML. */
export const DRAWING_TEXT: TextForm<Topology> = {
  write: writeYaml,
  read: (text): ReturnType<TextForm<Topology>['read']> => {
    const read = readYaml(text);
    return read.ok ? ok({ document: read.value.topology, told: read.value.told }) : read;
  },
};
