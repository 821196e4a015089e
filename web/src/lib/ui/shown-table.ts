export type ShownCell = string | number | null;
export interface ShownTable {
  header: string[];
  rows: ShownCell[][];
}
