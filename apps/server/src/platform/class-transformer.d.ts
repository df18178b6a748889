/** Where class-transformer keeps what is nested in what; the package exports it without types. */
declare module 'class-transformer/cjs/storage.js' {
  import { type IOptions } from 'class-validator-jsonschema/build/options';
  export const defaultMetadataStorage: IOptions['classTransformerMetadataStorage'];
}
