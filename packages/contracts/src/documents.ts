import { Type } from 'class-transformer';
import { type Plan } from '@sobrin/core/plan';
import { type LabPart, type LabParts } from '@sobrin/core/spec';
import { type Topology } from '@sobrin/core/topology';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsBoolean,
  IsArray,
  IsIn,
  IsInt,
  IsNotEmpty,
  IsObject,
  IsOptional,
  IsString,
  IsUUID,
  Max,
  MaxLength,
  Min,
} from 'class-validator';

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

/** Keeps as a version what was changed and is not to be saved, or cannot be. Sent again with its id it is made once. */
export class AsideRequest {
  @IsUUID()
  save!: string;

  /** The revision that the commands were made on. */
  @IsInt()
  @Min(0)
  @Max(2_000_000_000)
  base!: number;

  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(20_000)
  @IsObject({ each: true })
  commands!: object[];

  /** Whether what is saved may be given up for it: then that is named as a version, too. */
  @IsBoolean()
  met!: boolean;
}
export interface SetAside {
  /** The revision that is named; null where nothing of it differs from what is saved. */
  revision: number | null;
  /** How many commands could not be made, and are not in it. */
  left: number;
}

/** What is worked on: a drawing, an address plan, or another part of a lab. */
export type AnyDocument = Topology | Plan | LabParts[LabPart];

/** A document with its revision. */
export interface DocumentView<D extends AnyDocument = Topology> {
  id: string;
  revision: number;
  document: D;
}

/** A save that was taken. Where others had saved in between, `merged` is the document with both. */
export interface Saved<D extends AnyDocument = Topology> {
  revision: number;
  merged: D | null;
}

/** A name for a document as it is at a revision. */
export class NameVersionRequest {
  @IsInt()
  @Min(0)
  @Max(2_000_000_000)
  revision!: number;

  @IsString()
  @IsNotEmpty()
  @MaxLength(80)
  name!: string;
}

/** Which picture of a document is wanted; of how it is now, in light colours, where nothing is said. */
export class PictureQuery {
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(0)
  @Max(2_000_000_000)
  revision?: number;

  /** In pixels. */
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(16)
  @Max(8192)
  width?: number;

  @IsOptional()
  @IsIn(['light', 'dark'])
  scheme?: 'light' | 'dark';
}

/** A version of a document that one can go back to: one with a name, or how it was left at the end of a sitting. */
export interface VersionView {
  revision: number;
  name: string | null;
  by: string;
  /** ISO 8601. */
  at: string;
}

/** How a drawing can be looked at without signing in: by an address with this key; null where it cannot. */
export interface Showing {
  key: string | null;
}

/** A drawing as it is shown to those who are not signed in. */
/** Somebody who has the same open. */
export interface Present {
  id: string;
  name: string;
}

export interface ShownDrawing {
  title: string;
  document: Topology;
}
