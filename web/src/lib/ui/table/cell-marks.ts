type Attributes = Readonly<Record<string, string>>;

/**
 * Attributes that few cells of a table have at a time: where the keyboard is, and what is selected. They are set by hand: a cell
 * that asked whether it has them would ask with every key, each of thousands.
 */
export class CellMarks {
  #marked = new Map<Element, Attributes>();

  /** Gives cells these attributes, and takes them from all others. */
  set(marks: Map<Element, Attributes>): void {
    // What stays is not touched: a cell that lost its tabindex for a moment would lose the keyboard.
    for (const [cell, before] of this.#marked)
      for (const name of Object.keys(before)) if (!(name in (marks.get(cell) ?? {}))) cell.removeAttribute(name);
    for (const [cell, now] of marks) for (const [name, value] of Object.entries(now)) cell.setAttribute(name, value);
    this.#marked = marks;
  }
}
