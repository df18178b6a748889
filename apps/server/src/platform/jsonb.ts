import { type QueryDeepPartialEntity } from 'typeorm';

/** A value for a column of JSON, which TypeORM's inserts and updates would take for an entity to be put together from parts. */
export const jsonb = <T>(value: T) => value as QueryDeepPartialEntity<T>;
