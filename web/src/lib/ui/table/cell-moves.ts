/** A key, as far as it moves the keyboard within a table. */
export type MoveKey = Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey'>;

/** How many rows and columns a key goes on by; undefined where it moves nothing. What leads beyond the table ends at its edge. */
export function moveOf(
  { key, ctrlKey, metaKey }: MoveKey,
  size: { rows: number; columns: number; page: number },
): { rows: number; columns: number } | undefined {
  const isFar = ctrlKey || metaKey;
  switch (key) {
    case 'ArrowUp':
    case 'ArrowDown':
      return { rows: (key === 'ArrowUp' ? -1 : 1) * (isFar ? size.rows : 1), columns: 0 };
    case 'ArrowLeft':
    case 'ArrowRight':
      return { rows: 0, columns: (key === 'ArrowLeft' ? -1 : 1) * (isFar ? size.columns : 1) };
    case 'PageUp':
    case 'PageDown':
      return { rows: (key === 'PageUp' ? -1 : 1) * size.page, columns: 0 };
    case 'Home':
    case 'End': {
      const sign = key === 'Home' ? -1 : 1;
      return { rows: isFar ? sign * size.rows : 0, columns: sign * size.columns };
    }
    default:
      return undefined;
  }
}
