import { takenBack } from '@sobrin/core/changes';
import { type Document } from './document-kinds';

/** What a version is worked out from, as JSON: so it can be read from the database and sent to another thread unopened. */
export interface StoredVersion {
  readonly newest: string;
  /** What takes back each save that came later, the latest first. */
  readonly since: readonly string[];
}

export const versionOf = ({ newest, since }: StoredVersion): Document =>
  takenBack(
    JSON.parse(newest) as Document,
    since.map((inverse) => JSON.parse(inverse) as object),
  );
