import { z } from 'zod';
import { createDocument, type ZodOpenApiPathsObject } from 'zod-openapi';
import type { Route } from '../../api/contract/route.ts';
import type { Catalogue } from '../../measures/index.ts';
import { importOptions } from '../../api/chain-import.ts';
import { withWords } from './with-words.ts';

const problemDocument = z
  // Some carry more, such as the rows to mend.
  .looseObject({
    type: z.string().meta({ description: 'Which problem it is' }),
    title: z.string().meta({ description: 'The problem in words' }),
    status: z.number().meta({ description: 'HTTP status' }),
    detail: z.string().optional().meta({ description: 'What is wrong here, and how to mend it' }),
    errors: z
      .array(
        z.object({
          path: z.string().meta({ description: 'Of the field, as in slices[0].strikes' }),
          message: z.string().meta({ description: 'What it has to be' }),
        }),
      )
      .optional()
      .meta({ description: 'Fields that are not as they have to be' }),
  })
  .meta({ id: 'Problem', description: 'Problem document of RFC 9457; errors name each field by its path' });

const failure = { description: 'Problem', content: { 'application/problem+json': { schema: problemDocument } } };
const format = z.enum(['json', 'csv']).optional().meta({ description: 'csv: the rows as a table' });

/** OpenAPI 3.1 document of routes, made from the schemas that validate. */
export function documentOf(routes: readonly Route[], catalogue?: Catalogue) {
  const paths: ZodOpenApiPathsObject = {};
  for (const route of routes) {
    paths[route.path] = { ...paths[route.path], [route.method]: operation(route) };
  }
  return withWords(
    createDocument({
      openapi: '3.1.0',
      info: {
        title: 'Umwelt',
        version: '1',
        description:
          'Volatility, rates, probabilities and indices are decimals. Theta and charm are per calendar day; vega and vanna x 0.01, volga x 1e-4, rho x 0.01 (model normal: vega, vanna and volga per 1.00).',
      },
      servers: [{ url: '/api/v1' }],
      paths,
      components: { schemas: { ImportOptions: importOptions.meta({ id: 'ImportOptions' }) } },
    }),
    catalogue,
  );
}

function operation(route: Route): NonNullable<ZodOpenApiPathsObject[string]['get']> {
  const { summary, parameters, query, body, answers = summary } = route;
  const asked = route.rows ? query.extend({ format }) : query;
  return {
    summary,
    requestParams: { path: parameters, query: asked },
    ...(body && { requestBody: { content: contentOf(body, route.bodyTypes) } }),
    responses: {
      [statusOf(route)]: { description: answers, ...answerContent(route) },
      ...Object.fromEntries(
        Object.entries(route.otherStatus ?? {}).map(([status, description]) => [
          status,
          { description, ...answerContent(route) },
        ]),
      ),
      '4XX': failure,
      '5XX': failure,
    },
  };
}

function answerContent({ answer, answerTypes, rows }: Route) {
  if (answer instanceof z.ZodUndefined) return {};
  const csv = rows ? { 'text/csv': { schema: z.string() } } : {};
  return { content: { ...contentOf(answer, answerTypes), ...csv } };
}

function contentOf(schema: z.ZodType, types: readonly string[] = ['application/json']) {
  return Object.fromEntries(types.map((type) => [type, { schema }]));
}

/** Status of an answer that went well. */
export function statusOf({ answer, status }: Pick<Route, 'answer' | 'status'>): number {
  return status ?? (answer instanceof z.ZodUndefined ? 204 : 200);
}
