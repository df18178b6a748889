import { takenBack } from '@sobrin/core/changes';
import { type Document, type DocumentKindName } from './document-kinds';
import { FORMATS, raised } from './formats';

/** What a version is worked out from, as JSON: so it can be read from the database and sent to another thread unopened. */
export interface StoredVersion {
  readonly kind: DocumentKindName;
  /** The version of the format of all that follows. */
  readonly format: number;
  readonly newest: string;
  /** What takes back each save that came later, the latest first. */
  readonly since: readonly string[];
}

export const versionOf = ({ kind, format, newest, since }: StoredVersion, formats = FORMATS): Document =>
  raised(
    kind,
    format,
    takenBack(
      JSON.parse(newest) as Document,
      since.map((inverse) => JSON.parse(inverse) as object),
    ),
    formats,
  );
