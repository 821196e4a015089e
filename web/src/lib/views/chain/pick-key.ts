import type { ListedOption } from '../../theory/index.ts';

const STEPS: Readonly<Record<string, 1 | -1>> = { '+': 1, '-': -1, '−': -1 };

/**
 * Picks the option of the cell that has the keyboard: + one more, - one less.
 * @param optionAt of a row's key and a column's identifier
 */
export function pickKey(
  event: KeyboardEvent,
  optionAt: (row: string, column: string) => ListedOption | undefined,
  onpick: (option: ListedOption, step: 1 | -1) => void,
): void {
  const step = STEPS[event.key];
  const cell = (event.target as HTMLElement).closest<HTMLElement>('tbody td[data-column]');
  const row = cell?.closest<HTMLElement>('tr')?.dataset.key;
  if (step === undefined || event.ctrlKey || event.metaKey || event.altKey || !cell || row === undefined) return;
  const option = optionAt(row, cell.dataset.column ?? '');
  if (!option) return;
  event.preventDefault();
  event.stopPropagation();
  onpick(option, step);
}
