import { readJson } from '../tests/topologies';
import { publishedSchemas } from '.';

test.each(Object.entries(publishedSchemas()))(
  'docs/format/%s.schema.json is what checks documents (else: npm run schemas)',
  (name, schema) => {
    expect(readJson('docs', 'format', `${name}.schema.json`)).toEqual(schema);
  },
);
