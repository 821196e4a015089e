import type { ShownCell } from '../ui/shown-table.ts';
import type { TableColumn } from '../ui/table/table-column.ts';
import type { Measure } from '../measures/index.ts';

/** What the catalogue leaves to the table: how wide the column is and how its values are written. */
type Drawn<Row> = Omit<Partial<TableColumn<Row>>, 'id'> & Pick<TableColumn<Row>, 'text'>;

/**
 * A column of a measure, headed, named and defined as the catalogue says, its values the measure's own.
 * @param of the subject that a row stands for
 */
export function measureColumn<Row, Subject>(
  measure: Measure<Subject>,
  of: (row: Row) => Subject,
  drawn: Drawn<Row>,
): TableColumn<Row> {
  return {
    id: measure.id,
    head: measure.shortLabel ?? measure.label,
    label: measure.label,
    definition: typeof measure.definition === 'string' ? measure.definition : undefined,
    value: (row): ShownCell => measure.value(of(row)),
    ...drawn,
  };
}
