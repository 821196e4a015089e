import type { createDocument } from 'zod-openapi';
import { FIELD_WORDS } from '../../api/contract/field-words.ts';
import {
  CATALOGUE,
  type Catalogue,
  levelMeasure,
  measureWords,
  STORED_MEASURES,
  wordsOf,
} from '../../measures/index.ts';

type Document = ReturnType<typeof createDocument>;

/** As much of a JSON schema as is walked through. */
interface Schema {
  $ref?: string;
  description?: string;
  type?: unknown;
  properties?: Record<string, Schema>;
  items?: Schema;
  additionalProperties?: Schema | boolean;
  anyOf?: Schema[];
  oneOf?: Schema[];
  allOf?: Schema[];
  prefixItems?: Schema[];
}

/** A field of a document: where it stands, and what is said of it. */
export interface DocumentField {
  /** Names from the schema or operation on: Picture.shape.name */
  path: string[];
  schema: Pick<Schema, 'description'>;
}

/** All fields of a document's schemas, each once, and what may be asked. */
export function fieldsOf(document: Document): DocumentField[] {
  const fields: DocumentField[] = [];
  const walk = (schema: Schema | undefined, path: string[]): void => {
    if (!schema) return;
    for (const [name, field] of Object.entries(schema.properties ?? {})) {
      fields.push({ path: [...path, name], schema: field });
      walk(field, [...path, name]);
    }
    walk(schema.items, path);
    if (typeof schema.additionalProperties === 'object') walk(schema.additionalProperties, path);
    for (const part of [schema.anyOf, schema.oneOf, schema.allOf, schema.prefixItems].flat()) walk(part, path);
  };
  for (const [name, schema] of Object.entries(document.components?.schemas ?? {})) walk(schema as Schema, [name]);
  for (const [path, item] of Object.entries(document.paths ?? {})) {
    for (const [method, operation] of Object.entries(item as Record<string, Operation>)) {
      for (const parameter of operation.parameters ?? [])
        if (parameter.name !== undefined)
          fields.push({ path: [`${method} ${path}`, 'asked', parameter.name], schema: parameter });
      const contents = [operation.requestBody, ...Object.values(operation.responses)].map((r) => r?.content);
      for (const content of contents)
        for (const { schema } of Object.values(content ?? {})) walk(schema, [`${method} ${path}`]);
    }
  }
  return fields;
}

interface Operation {
  parameters?: { name?: string; description?: string }[];
  requestBody?: { content?: Record<string, { schema?: Schema }> };
  responses: Record<string, { content?: Record<string, { schema?: Schema }> }>;
}

/** The narrowest words there are for a field, by the names that lead to it; those of the catalogue for a measure. */
export function wordsFor(path: readonly string[]): { key: string; words: string } | undefined {
  const name = path[path.length - 1];
  const keys = [path.join('.')];
  for (let i = path.length - 2; i >= 0; i--) keys.push([path[i], name].join('.'), path.slice(i).join('.'));
  const key = [...keys, name].find((k) => k in FIELD_WORDS);
  if (key !== undefined) return { key, words: FIELD_WORDS[key] };
  const words = measureWords(name);
  return words === undefined ? undefined : { key: `measure ${name}`, words };
}

/** The measures of a catalogue as properties of the schemas that hold their values by identifier. */
function withMeasures(document: Document, { level, expiry }: Catalogue): void {
  const schemas = (document.components?.schemas ?? {}) as Record<string, Schema | undefined>;
  for (const [name, measures] of [
    ['LevelMeasures', level],
    ['ExpiryMeasures', expiry],
    ['StoredMeasures', STORED_MEASURES.flatMap((id) => levelMeasure(id) ?? [])],
  ] as const) {
    const schema = schemas[name];
    if (!schema) continue;
    schema.properties = Object.fromEntries(
      measures.map((measure) => [
        measure.id,
        { type: ['number', 'null'], description: wordsOf(measure) ?? `${measure.label}; its Workings say of what` },
      ]),
    );
  }
}

/** The document with the measures of the catalogue, and words for every field that has none of its own. */
export function withWords(document: Document, catalogue: Catalogue = CATALOGUE): Document {
  withMeasures(document, catalogue);
  for (const { path, schema } of fieldsOf(document)) schema.description ??= wordsFor(path)?.words;
  return document;
}
