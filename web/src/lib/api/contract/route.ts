import { z } from 'zod';

export type Method = 'get' | 'post' | 'put' | 'patch' | 'delete';
type Nothing = z.ZodObject<Record<never, never>>;

/** An address of the API and a method, said once: handler, validation, document, CSV and client are made of it. */
export interface Route<
  P extends z.ZodObject = z.ZodObject,
  Q extends z.ZodObject = z.ZodObject,
  B extends z.ZodType = z.ZodType,
  A extends z.ZodType = z.ZodType,
> {
  method: Method;
  /** Below /api/v1, its parameters in braces */
  path: `/${string}`;
  summary: string;
  parameters: P;
  query: Q;
  /** Names in the query that may come several times: their values are a list */
  repeated?: readonly string[];
  /** What is sent; absent for nothing */
  body?: B;
  /** Media types of a body that is no JSON document: whoever answers reads it */
  bodyTypes?: readonly string[];
  /** A JSON body that is read and checked where the answer is computed, in a worker thread */
  isBodyReadApart?: boolean;
  /** What is answered; undefined for nothing */
  answer: A;
  /** Words for the answer; the summary where absent */
  answers?: string;
  /** Of an answer; default 200, or 204 for nothing */
  status?: 200 | 201;
  /** Media types of an answer that is no JSON document */
  answerTypes?: readonly string[];
  /** Other statuses that are answered in the same form */
  otherStatus?: Readonly<Record<number, string>>;
  /** Rows of an answer that is a list: it comes as CSV too, by `?format=csv` or `Accept: text/csv` */
  rows?: (answer: z.output<A>) => readonly object[];
}

type Said<P extends z.ZodObject, Q extends z.ZodObject, B extends z.ZodType, A extends z.ZodType> = Omit<
  Route<P, Q, B, A>,
  'parameters' | 'query'
> & { parameters?: P; query?: Q };

/** A definition, with nothing for what is not said. */
export function defineRoute<
  A extends z.ZodType,
  P extends z.ZodObject = Nothing,
  Q extends z.ZodObject = Nothing,
  B extends z.ZodType = z.ZodUndefined,
>(said: Said<P, Q, B, A>): Route<P, Q, B, A> {
  return { ...said, parameters: said.parameters ?? (z.object({}) as P), query: said.query ?? (z.object({}) as Q) };
}

/** The address of a route with its parameters filled in, each as one part. */
export function routeAddress(path: string, parameters: Record<string, unknown>): string {
  return `/api/v1${path.replaceAll(/\{(\w+)\}/g, (_, name: string) => encodeURIComponent(String(parameters[name])))}`;
}
