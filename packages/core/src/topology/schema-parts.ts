import { Kind, type TNull, type TOptional, type TSchema, type TUnion, Type } from '@sinclair/typebox';

/** Ids are given once and never change; they carry no meaning. */
export const ID_PATTERN = '^[A-Za-z0-9][A-Za-z0-9_.:-]{0,63}$';
/** Port and interface keys, for instance g0, p12, b1/s0, g0.30, vlan10. */
export const KEY_PATTERN = '^[A-Za-z0-9][A-Za-z0-9_.:/-]{0,63}$';

/** The id of something in a document: a letter or digit, then letters, digits and . _ : - up to 64 characters. */
export const Id = Type.String({ pattern: ID_PATTERN });
export const Key = Type.String({ pattern: KEY_PATTERN });
/** A name as it stands in a drawing, of at most 80 characters. */
export const Name = Type.String({ maxLength: 80 });
/** A line of text, of at most 200 characters. */
export const Line = Type.String({ maxLength: 200 });
/** Text of several paragraphs. */
export const Paragraphs = Type.String({ maxLength: 20_000 });
/**
 * Addresses are kept as they were typed: a mistake in one must not stop the work, it becomes a problem that is
 * counted. The address reader in core/address says what is wrong with the text.
 */
export const AddressText = Type.String({ maxLength: 64 });
/** The number of a VLAN: 0 and 4095 are reserved (IEEE 802.1Q, 9.6). */
export const VlanId = Type.Integer({ minimum: 1, maximum: 4094 });
/** How many of something. */
export const Count = Type.Integer({ minimum: 0, maximum: 1_000_000 });
export const Coordinate = Type.Number({ minimum: -1_000_000, maximum: 1_000_000 });
export const Point = Type.Object({ x: Coordinate, y: Coordinate }, { additionalProperties: false });
export const Mac = Type.String({ pattern: '^[0-9a-f]{2}(:[0-9a-f]{2}){5}$' });
export const FieldValue = Type.Union([Type.String({ maxLength: 500 }), Type.Number(), Type.Boolean()]);
export const Fields = Type.Record(Type.String({ pattern: ID_PATTERN }), FieldValue, { additionalProperties: false });

/** An object that refuses properties it does not know. */
export const Closed = <T extends Record<string, TSchema>>(properties: T) =>
  Type.Object(properties, { additionalProperties: false });
/** A map by ids. */
export const MapOf = <T extends TSchema>(value: T) =>
  Type.Record(Type.String({ pattern: ID_PATTERN }), value, { additionalProperties: false });
export const KeyedBy = <T extends TSchema>(value: T) =>
  Type.Record(Type.String({ pattern: KEY_PATTERN }), value, { additionalProperties: false });
/** The kind under which the shape check knows a choice of words. */
export const STRING_ENUM = 'SobrinStringEnum';
/** One of some words. */
export const OneOf = <T extends readonly string[]>(...values: T) =>
  Type.Unsafe<T[number]>({ [Kind]: STRING_ENUM, type: 'string', enum: [...values] });
/** A property that may be absent. */
export const Maybe = <T extends TSchema>(value: T) => Type.Optional(value);
/** A list of at most `max` entries. */
export const ListOf = <T extends TSchema>(value: T, max = 4096) => Type.Array(value, { maxItems: max });

/** A value, or null where it is taken away. */
export const OrNull = <T extends TSchema>(value: T) => Type.Union([value, Type.Null()]);
type Changed<T extends Record<string, TSchema>> = { [K in keyof T]: TOptional<TUnion<[T[K], TNull]>> };
/** Some properties of an object with new values; null takes the property away. */
export const Changes = <T extends Record<string, TSchema>>(properties: T) =>
  Closed(
    Object.fromEntries(Object.entries(properties).map(([key, value]) => [key, Maybe(OrNull(value))])) as Changed<T>,
  );
