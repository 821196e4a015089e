import type { ClientBase, Pool, QueryResultRow } from 'pg';

/**
 * A statement as a template, whose values travel beside its text: sql`select ${1}::int as one`. Rows as objects; instants, dates and
 * numbers of more digits than a double holds as the text that the database writes. @throws what the database says of it
 */
export interface Sql {
  <Rows extends readonly object[] = Record<string, unknown>[]>(
    pieces: TemplateStringsArray,
    ...values: readonly unknown[]
  ): Promise<Rows>;
  /** A statement from the code, never from outside, with its values as $1, $2; several, divided by semicolons, without values. */
  text: <Rows extends readonly object[] = Record<string, unknown>[]>(
    statement: string,
    values?: readonly unknown[],
  ) => Promise<Rows>;
  /** A statement from the code, never from outside. @returns how many rows it wrote */
  written: (statement: string, values: readonly unknown[]) => Promise<number>;
}

/** Statements on a connection, or on whichever of a pool is free. */
export function sqlOn(client: Pool | ClientBase): Sql {
  const text = async <Rows extends readonly object[]>(statement: string, values: readonly unknown[] = []) => {
    // Without values it goes as it is, so that it may be several.
    const result =
      values.length === 0 ? await client.query(statement) : await client.query<QueryResultRow>(statement, [...values]);
    return result.rows as unknown as Rows;
  };
  const written = async (statement: string, values: readonly unknown[]) =>
    (await client.query(statement, [...values])).rowCount ?? 0;
  const tagged = <Rows extends readonly object[]>(pieces: TemplateStringsArray, ...values: readonly unknown[]) =>
    text<Rows>(
      pieces.reduce((statement, piece, i) => `${statement}$${i}${piece}`),
      values,
    );
  return Object.assign(tagged, { text, written });
}
