import * as contracts from '@sobrin/contracts';
import { getMetadataStorage, ValidationTypes } from 'class-validator';

type Schema = Record<string, unknown>;

/**
 * The shapes of request bodies for the API description, read from what class-validator checks. (The classes are shared
 * with the browser and so carry no decorators of the API description's own.)
 */
export function requestSchemas(): Record<string, never> {
  const classes = Object.entries(contracts) as [string, new () => object][];
  return Object.fromEntries(classes.map(([name, type]) => [name, schemaOf(type)])) as Record<string, never>;
}

function schemaOf(type: new () => object): Schema {
  const properties: Record<string, Schema> = {};
  const optional = new Set<string>();
  for (const { propertyName, type: kind, name, constraints, each } of getMetadataStorage().getTargetValidationMetadatas(
    type,
    '',
    false,
    false,
  )) {
    const schema = (properties[propertyName] ??= {});
    if (kind === ValidationTypes.CONDITIONAL_VALIDATION) optional.add(propertyName);
    const [first, second] = (constraints ?? []) as unknown[];
    const known: Record<string, Schema> = {
      isString: { type: 'string' },
      isUuid: { type: 'string', format: 'uuid' },
      isInt: { type: 'integer' },
      isObject: { type: 'object' },
      isArray: { type: 'array', items: {} },
      isLength: { minLength: first, maxLength: second },
      maxLength: { maxLength: first },
      min: { minimum: first },
      max: { maximum: first },
      arrayMinSize: { minItems: first },
      arrayMaxSize: { maxItems: first },
      matches: { pattern: String(first).replace(/^\/|\/[a-z]*$/g, '') },
      isIso8601: { type: 'string', format: 'date-time' },
    };
    const found = known[name ?? ''];
    if (found) Object.assign(schema, each ? { items: found } : found);
  }
  return { type: 'object', properties, required: Object.keys(properties).filter((key) => !optional.has(key)) };
}
