import { type Plan, type Topology } from '@sobrin/core';
import { ArrayMaxSize, ArrayMinSize, IsArray, IsInt, IsObject, IsUUID, Max, Min } from 'class-validator';

/** A save: commands that were made on the document as it was at `base`. Their shape is checked by core's schemas. */
export class SaveRequest {
  /** Made by the sender, one for each save: a save that is sent again because its answer got lost is not made twice. */
  @IsUUID()
  save!: string;

  @IsInt()
  @Min(0)
  @Max(2_000_000_000)
  base!: number;

  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(2000)
  @IsObject({ each: true })
  commands!: object[];
}

/** A document that is worked on: a drawing or an address plan. */
export interface DocumentView<D extends Topology | Plan = Topology> {
  id: string;
  revision: number;
  document: D;
}

/** A save that was taken. Where others had saved in between, `merged` is the document with both. */
export interface Saved<D extends Topology | Plan = Topology> {
  revision: number;
  merged: D | null;
}
