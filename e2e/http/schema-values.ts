import fc from 'fast-check';

/* Values that a JSON Schema allows, its bounds among them. */

export interface Schema {
  $ref?: string;
  const?: unknown;
  enum?: unknown[];
  anyOf?: Schema[];
  oneOf?: Schema[];
  type?: string | string[];
  format?: string;
  properties?: Record<string, Schema>;
  required?: string[];
  items?: Schema;
  minItems?: number;
  maxItems?: number;
  minLength?: number;
  maxLength?: number;
  minimum?: number;
  maximum?: number;
  exclusiveMinimum?: number;
  exclusiveMaximum?: number;
}

/** Values for what is called so, wherever it stands: what is stored cannot be guessed from a schema. */
export type Known = Record<string, fc.Arbitrary<unknown> | undefined>;

/** Where a schema is silent, values that make sense as well as any. */
const [LEAST, MOST] = [-200, 200];
const MORE_ITEMS = 3;

/** @param schemas the document's own, by name */
export function valuesOf(schema: Schema, schemas: Record<string, Schema>, known: Known): fc.Arbitrary<unknown> {
  const inner = (each: Schema) => valuesOf(each, schemas, known);
  if (schema.$ref !== undefined) return inner(schemas[schema.$ref.split('/').at(-1) ?? '']);
  if ('const' in schema) return fc.constant(schema.const);
  if (schema.enum) return fc.constantFrom(...schema.enum);
  const choices = schema.anyOf ?? schema.oneOf;
  if (choices) return fc.oneof(...choices.map(inner));
  if (Array.isArray(schema.type)) return fc.oneof(...schema.type.map((type) => inner({ ...schema, type })));
  switch (schema.type) {
    case 'object': {
      const entries = Object.entries(schema.properties ?? {});
      const model = Object.fromEntries(entries.map(([name, own]) => [name, known[name] ?? inner(own)]));
      return fc.record(model, { requiredKeys: schema.required ?? [] });
    }
    case 'array': {
      const least = schema.minItems ?? 0;
      const bounds = { minLength: least, maxLength: Math.min(schema.maxItems ?? Infinity, least + MORE_ITEMS) };
      return fc.array(inner(schema.items ?? {}), bounds);
    }
    case 'integer':
      return fc.integer({ min: schema.minimum ?? LEAST, max: schema.maximum ?? MOST });
    case 'number':
      return numbers(schema);
    case 'string': {
      const formatted = schema.format === undefined ? undefined : FORMATS[schema.format];
      const minLength = schema.minLength ?? 0;
      return formatted ?? fc.string({ minLength, maxLength: Math.min(schema.maxLength ?? Infinity, minLength + 12) });
    }
    case 'boolean':
      return fc.boolean();
    default:
      return fc.constant(null);
  }
}

const FORMATS: Record<string, fc.Arbitrary<string> | undefined> = {
  date: fc.constantFrom('2031-03-21', '2031-06-20', '2032-02-29'),
  'date-time': fc.constantFrom('2031-03-14T14:00:00+01:00', '2031-03-10T16:30:00Z'),
  uuid: fc.uuid(),
};

function numbers({ minimum, maximum, exclusiveMinimum, exclusiveMaximum }: Schema): fc.Arbitrary<number> {
  const min = minimum ?? exclusiveMinimum ?? Math.min(LEAST, maximum ?? exclusiveMaximum ?? LEAST);
  const max = maximum ?? exclusiveMaximum ?? Math.max(MOST, min);
  const [minExcluded, maxExcluded] = [
    minimum === undefined && exclusiveMinimum !== undefined,
    exclusiveMaximum !== undefined,
  ];
  const between = fc.double({ min, max, minExcluded, maxExcluded, noNaN: true, noDefaultInfinity: true });
  const bounds = [...(minExcluded ? [] : [min]), ...(maxExcluded ? [] : [max])];
  // Numbers of every day more often than those of fifteen digits.
  const usual = fc.constantFrom(
    ...[0, 0.02, 0.25, 0.5, 1, 1.5, 30, 100].filter((n) => allows(n)),
    ...bounds,
    (min + max) / 2,
  );
  return fc.oneof(usual, between);
  function allows(n: number): boolean {
    return (minExcluded ? n > min : n >= min) && (maxExcluded ? n < max : n <= max);
  }
}
