import { defaultMetadataStorage } from 'class-transformer/cjs/storage.js';
import { validationMetadatasToSchemas } from 'class-validator-jsonschema';
import { type OpenAPIObject } from '@nestjs/swagger';

type Schemas = NonNullable<NonNullable<OpenAPIObject['components']>['schemas']>;

/**
 * The shapes of request bodies for the API description, read from what class-validator checks. (The classes are shared
 * with the browser and so carry no decorators of the API description's own.)
 */
export const requestSchemas = (): Schemas =>
  validationMetadatasToSchemas({
    classTransformerMetadataStorage: defaultMetadataStorage,
    refPointerPrefix: '#/components/schemas/',
  }) as Schemas;
